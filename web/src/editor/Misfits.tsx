import { t } from "@lingui/core/macro";
import { Plural, Trans } from "@lingui/react/macro";
import type { Draft } from "../api/client";

/** What keeps a draft from being saved: where, what was found, what was expected. */
export function Misfits({ misfits }: { misfits: Draft["misfits"] }) {
  return (
    <section aria-label={t`What does not fit`} data-testid="misfits">
      <h2 className="text-lg font-bold">
        <Trans>
          {misfits.length} <Plural value={misfits.length} one="thing does" other="things do" /> not fit yet
        </Trans>
      </h2>
      <ul>
        {misfits.slice(0, 12).map((misfit) => (
          <li key={`${misfit.place} ${misfit.found}`} className="border-l-2 border-suspect pl-3">
            <Trans>
              <span className="font-mono">{misfit.place}</span>: found {misfit.found}, expected{" "}
              {misfit.expected}
            </Trans>
          </li>
        ))}
      </ul>
    </section>
  );
}
