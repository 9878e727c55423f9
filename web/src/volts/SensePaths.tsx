import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type FormEvent, useState } from "react";
import { api, type Volts } from "../api/client";
import type { components } from "../api/schema";
import { Mark, type Verdict } from "../ohms/Mark";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";
import { decimalOf } from "../shared/numbers";
import type { Powering } from "./useVolts";

interface SensePathsProps {
  volts: Volts;
  powering: Powering;
  mayWork: boolean;
}

type Row = Volts["supervisors"][number];
const MARKS: Record<Row["found"], Verdict> = {
  above: "within",
  below: "low",
  path: "open",
  "not read": "no-reference",
};

/** A supervisor refuses release unless all inputs are above its threshold; and what the card believes it draws. */
export function SensePaths({ volts, powering, mayWork }: SensePathsProps) {
  const on = volts.power && volts.power.state !== "off";
  return (
    <>
      <section aria-labelledby="supervisor-title" data-testid="supervisor">
        <h3 id="supervisor-title" className="font-bold text-xl">
          <Trans>Inputs that a supervisor watches</Trans>
        </h3>
        {volts.supervisors.length === 0 && (
          <p className="text-soft">
            <Trans>The model names no supervisor yet; its file may (supervisors).</Trans>
          </p>
        )}
        <ul>
          {volts.supervisors.map((supervisor) => (
            <li key={`${supervisor.designator} ${supervisor.rail}`} className="border-rule border-t py-2">
              <p className="flex items-center gap-2">
                <Mark verdict={MARKS[supervisor.found]} />
                <strong>{supervisor.name}</strong>
                <span className="text-soft">
                  <Trans>
                    {supervisor.designator}, above {supervisor.threshold_v ?? "?"} V
                  </Trans>
                </span>
              </p>
              <p>{supervisor.says}</p>
              {mayWork && on && (
                <p className="mt-1 flex flex-wrap gap-3">
                  <End point={supervisor.high_point} shown={supervisor.high} read={powering.readPoint} />
                  <End point={supervisor.low_point} shown={supervisor.low} read={powering.readPoint} />
                </p>
              )}
            </li>
          ))}
        </ul>
      </section>
      <Reported />
    </>
  );
}

function End({ point, shown, read }: { point: string; shown: string; read: Powering["readPoint"] }) {
  const [value, setValue] = useState("");
  if (!point) return null;
  return (
    <form
      className="flex items-center gap-2"
      onSubmit={async (event: FormEvent) => {
        event.preventDefault();
        if (value.trim() && (await read(point, value.trim()))) setValue("");
      }}
    >
      <label className="flex items-center gap-2">
        <span className="font-mono font-bold">{point}</span>
        <input
          className="field w-24 font-mono"
          placeholder={shown || "V"}
          value={value}
          onChange={(event) => setValue(event.target.value.replace(",", "."))}
        />
      </label>
    </form>
  );
}

const FIELDS = [
  ["shunt_mohm", t`shunt, mΩ`],
  ["rail_v", t`rail, V`],
  ["high_v", t`before it, V`],
  ["low_v", t`behind it, V`],
] as const;

/** Shunt drop by shunt by rail: the figure that the card goes by, and whether it can be. */
function Reported() {
  const [values, setValues] = useState({ shunt_mohm: "5", rail_v: "12", high_v: "", low_v: "" });
  const [said, setSaid] = useState<components["schemas"]["SensedPower"] | null>(null);
  const { problem, keep } = useKeeping([]);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    setSaid(null);
    const body = {
      shunt_mohm: decimalOf(values.shunt_mohm),
      rail_v: decimalOf(values.rail_v),
      high_v: decimalOf(values.high_v),
      low_v: decimalOf(values.low_v),
    };
    const told = await keep(() => api.POST("/api/v1/reported-power", { body }));
    if (told !== "kept") setSaid(told);
  };
  return (
    <section aria-labelledby="reported-title" data-testid="reported">
      <h3 id="reported-title" className="font-bold text-xl">
        <Trans>What the card believes it draws</Trans>
      </h3>
      <form onSubmit={submit} className="mt-1 flex flex-wrap items-end gap-3">
        {FIELDS.map(([name, label]) => (
          <label key={name}>
            <span className="block text-soft">{label}</span>
            <input
              className="field w-24 font-mono"
              inputMode="decimal"
              value={values[name]}
              onChange={(event) => setValues({ ...values, [name]: event.target.value })}
            />
          </label>
        ))}
        <button type="submit" className="button" disabled={!values.high_v.trim() || !values.low_v.trim()}>
          <Trans>Reckon</Trans>
        </button>
      </form>
      <FormError problem={problem} />
      {said && (
        <p role="status" className="mt-2 flex items-start gap-2">
          <Mark verdict={said.plausible ? "within" : "high"} />
          <span>
            <strong className="font-mono">{said.watts.toPrecision(3)} W.</strong> {said.why}
          </span>
        </p>
      )}
    </section>
  );
}
