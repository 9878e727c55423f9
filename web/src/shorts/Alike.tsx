import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { alikeQuery } from "../queries/job";
import { listed } from "../shared/words";

/** Past cards of the model that read like this one, nearest first, with what was wrong with them. */
export function Alike({ number, readings }: { number: number; readings: number }) {
  const found = useQuery(alikeQuery(number, readings));
  if (!found.data) return null;
  return (
    <section aria-labelledby="alike-title" data-testid="alike">
      <h3 id="alike-title" className="text-lg font-bold">
        <Trans>Past cards that read like this one</Trans>
      </h3>
      {found.data.length === 0 && (
        <p className="text-soft">
          <Trans>
            None whose cause is known, or nothing that was read stands out. A confirmed cause makes this card
            one.
          </Trans>
        </p>
      )}
      <ol aria-label={t`Past cards that read like this one`}>
        {found.data.map((entry, at) => (
          <li
            key={entry.number}
            className="grid grid-cols-[1.5rem_1fr_auto] items-baseline gap-3 border-t border-rule py-1"
          >
            <span className="font-mono text-xl font-bold">{at + 1}</span>
            <span>
              {entry.had.map((cause) => (
                <span key={cause.cause} className="block">
                  <strong>{cause.cause}</strong>
                  {cause.by_what && `: ${cause.by_what}`}
                </span>
              ))}
              <span className="text-soft">
                <Trans>
                  Alike at {listed(entry.agree)}
                  {entry.differ.length > 0 ? t`; not at ${listed(entry.differ)}` : ""}.
                </Trans>
              </span>
            </span>
            <Link className="button-plain" to={`/jobs/${entry.number}/ohms`}>
              {entry.job}
            </Link>
          </li>
        ))}
      </ol>
    </section>
  );
}
