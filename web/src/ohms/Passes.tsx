import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type FormEvent, useState } from "react";
import type { Ohms } from "../api/client";
import { moment } from "../shared/words";

interface PassesProps {
  ohms: Ohms;
  begin: (name: string) => Promise<boolean>;
  choose: (name: string) => void;
  mayWork: boolean;
}

/** Passes over all rails: what changed between the last two, thing by thing. */
export function Passes({ ohms, begin, choose, mayWork }: PassesProps) {
  const [name, setName] = useState("");
  const { compared, sweeps } = ohms;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (await begin(name.trim())) setName("");
  };
  return (
    <section aria-labelledby="passes-title" data-testid="passes">
      <h3 id="passes-title" className="text-lg font-bold">
        <Trans>Passes over all rails</Trans>
      </h3>
      <p className="text-soft">
        {sweeps.length === 0
          ? t`All that was read so far is the first pass. Begin another after a coil is lifted or a part is off: the route starts anew, and the two stand beside each other.`
          : t`The last begun: ${sweeps.at(-1)?.name ?? ""}, ${sweeps.at(-1)?.by ?? ""}, ${moment(sweeps.at(-1)?.at ?? "")}.`}
      </p>
      {mayWork && (
        <form onSubmit={submit} className="mt-2 flex items-end gap-3">
          <label className="min-w-0 flex-1">
            <span className="block text-soft">
              <Trans>what changed before it</Trans>
            </span>
            <input
              className="field w-full"
              maxLength={60}
              placeholder={t`after U75 is off`}
              value={name}
              onChange={(event) => setName(event.target.value)}
            />
          </label>
          <button type="submit" className="button" disabled={!name.trim()}>
            <Trans>Begin a pass</Trans>
          </button>
        </form>
      )}
      {compared && (
        <>
          <h4 className="mt-4 font-bold">
            <Trans>
              {compared.before}, then {compared.after}
            </Trans>
          </h4>
          <ul aria-label={t`What changed`}>
            {compared.changes.map((change) => (
              <li key={`${change.point} ${change.says}`} className="border-t border-rule py-1">
                <button
                  type="button"
                  className="grid w-full grid-cols-[5rem_6rem_1fr] items-baseline gap-3 text-left"
                  onClick={() => choose(change.point)}
                >
                  <span className={change.same === false ? "font-bold" : "text-soft"}>
                    {change.same === null ? t`one only` : change.same ? t`as before` : t`changed`}
                  </span>
                  <strong className="font-mono text-lg">{change.point}</strong>
                  <span>{change.says}</span>
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}
