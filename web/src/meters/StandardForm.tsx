import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type FormEvent, useState } from "react";
import { NumberField } from "../shared/fields";
import { decimalOf, numberOf } from "../shared/numbers";
import type { Standard } from "./useMeters";

interface StandardFormProps {
  standard: Standard;
  set: (next: {
    resistor_ohms: number | null;
    tolerance: number;
    reference: string | null;
    point: string;
  }) => Promise<boolean>;
  lead: boolean;
}

/** What the shop keeps to hold its meters against; the lead says it. */
export function StandardForm({ standard, set, lead }: StandardFormProps) {
  const [ohms, setOhms] = useState(standard.resistor_ohms === null ? "" : String(standard.resistor_ohms));
  const [percent, setPercent] = useState(String(Number((100 * standard.tolerance).toPrecision(4))));
  const [card, setCard] = useState(standard.reference ?? "");
  const [point, setPoint] = useState(standard.point ?? "");
  const chosen = standard.cards.find((entry) => entry.id === card);
  const value = numberOf(ohms);
  const share = decimalOf(percent) / 100;
  const fits = (value === null || value > 0) && share > 0 && share <= 0.5 && (!card || !!point);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    await set({ resistor_ohms: value, tolerance: share, reference: card || null, point });
  };
  return (
    <section aria-labelledby="standard-title" className="border-rule border-t pt-4">
      <h2 id="standard-title" className="font-bold text-xl">
        <Trans>What they are held against</Trans>
      </h2>
      {!lead && (
        <p className="text-soft">
          <Trans>
            {standard.resistor_ohms === null
              ? t`No resistor is kept.`
              : t`A resistor of ${standard.resistor_ohms} Ω.`}{" "}
            {standard.card ? t`${standard.card} at ${standard.point}.` : t`No good card is kept.`} The lead
            sets it.
          </Trans>
        </p>
      )}
      {lead && (
        <form onSubmit={submit} className="mt-2 flex flex-wrap items-end gap-3">
          <NumberField label={t`resistor, Ω`} value={ohms} onChange={setOhms} wide="w-28" />
          <NumberField label={t`within, %, the meter’s own included`} value={percent} onChange={setPercent} />
          <label>
            <span className="block text-soft">
              <Trans>good card</Trans>
            </span>
            <Select
              className="field"
              value={card}
              onChange={(event) => {
                setCard(event.target.value);
                setPoint("");
              }}
            >
              <option value="">{t`none`}</option>
              {standard.cards
                .filter((entry) => entry.points.length > 0)
                .map((entry) => (
                  <option key={entry.id} value={entry.id}>
                    {entry.card}, {entry.board}
                  </option>
                ))}
            </Select>
          </label>
          {chosen && (
            <label>
              <span className="block text-soft">
                <Trans>at</Trans>
              </span>
              <Select
                className="field font-mono"
                value={point}
                onChange={(event) => setPoint(event.target.value)}
              >
                <option value="">{t`choose …`}</option>
                {chosen.points.map((entry) => (
                  <option key={entry.point} value={entry.point}>
                    {entry.point}, {entry.text}
                  </option>
                ))}
              </Select>
            </label>
          )}
          <button type="submit" className="button" disabled={!fits}>
            <Trans>Keep it</Trans>
          </button>
        </form>
      )}
    </section>
  );
}
