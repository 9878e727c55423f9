import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { NumberField, SelectField } from "../shared/fields";
import { numberOf } from "../shared/numbers";
import type { Reworking } from "./useRework";

const SIDES = [
  ["", t`not known`],
  ["front", t`front`],
  ["back", t`back`],
] as const;

/** A part that the card has and its model lacks: named once on this job, with its place where that is known. */
export function DeclarePart({ site, declare }: { site: string; declare: Reworking["declare"] }) {
  const [side, setSide] = useState<(typeof SIDES)[number][0]>("");
  const [x, setX] = useState("");
  const [y, setY] = useState("");
  const place = side ? { side, x_mm: numberOf(x), y_mm: numberOf(y) } : {};
  return (
    <fieldset className="flex flex-wrap items-end gap-3">
      <legend>
        <Trans>{site} is on this card and not in its model: declare it once</Trans>
      </legend>
      <SelectField label={t`side`} value={side} onChange={setSide} options={SIDES} />
      {side && (
        <>
          <NumberField label={t`x, mm`} value={x} onChange={setX} />
          <NumberField label={t`y, mm`} value={y} onChange={setY} />
        </>
      )}
      <button type="button" className="button" onClick={() => void declare({ designator: site, ...place })}>
        <Trans>Declare {site}</Trans>
      </button>
    </fieldset>
  );
}
