import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type FormEvent, useState } from "react";
import type { Volts } from "../api/client";
import { NumberField, TextField } from "../shared/fields";
import { numberOf } from "../shared/numbers";
import { useKinds } from "../shared/useKinds";
import { moment } from "../shared/words";
import type { Powering } from "./useVolts";

interface LadderProps {
  volts: Volts;
  powering: Powering;
  mayWork: boolean;
}

type Rung = Volts["rungs"][number]["rung"];

/** Rung by rung: how far the card comes in a computer, and what that leaves open. */
export function Ladder({ volts, powering, mayWork }: LadderProps) {
  const { rungs } = useKinds();
  const [rung, setRung] = useState<Rung>("absent");
  const [whose, setWhose] = useState<"card" | "other" | "">("");
  const [beep, setBeep] = useState("");
  const [seconds, setSeconds] = useState("");
  const last = volts.rungs.at(-1);
  const reached = last ? rungs.findIndex(({ name }) => name === last.rung) : -1;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const after = numberOf(seconds);
    const entry = { rung, picture_of: rung === "picture" ? whose : ("" as const), beep: beep.trim() };
    if (await powering.climb({ ...entry, beep_seconds: after })) setBeep("");
  };
  return (
    <section aria-labelledby="ladder-title" data-testid="ladder">
      <h3 id="ladder-title" className="font-bold text-xl">
        <Trans>How far it comes</Trans>
      </h3>
      <ol className="mt-2 flex flex-col-reverse" aria-label={t`Rungs`}>
        {rungs.map(({ name, words }, at) => (
          <li
            key={name}
            data-reached={at <= reached ? "" : undefined}
            className={`border-l-4 px-3 py-1 ${at === reached ? "border-ink bg-tray font-bold" : at < reached ? "border-good" : "border-rule text-soft"}`}
          >
            {words}
            {at === reached && last && <span className="block font-normal">{last.says}</span>}
          </li>
        ))}
      </ol>
      {mayWork && (
        <form onSubmit={submit} className="mt-3 flex flex-wrap items-end gap-3">
          <label>
            <span className="block text-soft">
              <Trans>it came to</Trans>
            </span>
            <Select className="field" value={rung} onChange={(event) => setRung(event.target.value as Rung)}>
              {rungs.map(({ name, words }) => (
                <option key={name} value={name}>
                  {words}
                </option>
              ))}
            </Select>
          </label>
          {rung === "picture" && (
            <label>
              <span className="block text-soft">
                <Trans>whose picture</Trans>
              </span>
              <Select
                className="field"
                value={whose}
                onChange={(event) => setWhose(event.target.value as typeof whose)}
              >
                <option value="">{t`look again`}</option>
                <option value="card">{t`this card’s`}</option>
                <option value="other">{t`the other adapter’s`}</option>
              </Select>
            </label>
          )}
          <TextField
            label={t`beeps`}
            value={beep}
            onChange={setBeep}
            wide="w-44"
            maxLength={40}
            placeholder={t`one long, two short`}
          />
          <NumberField label={t`after, s`} value={seconds} onChange={setSeconds} wide="w-20" />
          <button type="submit" className="button" disabled={rung === "picture" && !whose}>
            <Trans>Store</Trans>
          </button>
        </form>
      )}
      <ul className="mt-3" aria-label={t`Tried so far`}>
        {[...volts.rungs].reverse().map((entry) => (
          <li key={entry.id} className="border-rule border-t py-1">
            <strong>{entry.words}</strong>
            {entry.beep && `, ${entry.beep}`}
            {entry.beep_seconds !== null && t` after ${entry.beep_seconds} s`}.{" "}
            <span className="text-soft">
              {entry.by}, {moment(entry.at)}.
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
