import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import type { Volts } from "../api/client";
import { NumberField } from "../shared/fields";
import { decimalOf } from "../shared/numbers";
import { moment } from "../shared/words";
import type { Powering } from "./useVolts";

type Logged = Volts["starts"][number];

/** A supply that answers is switched on from here, and the current of the start is logged. */
export function LogStart({ volts, powering }: { volts: Volts; powering: Powering }) {
  const [supply, setSupply] = useState(volts.supplies[0]?.id ?? 0);
  const [set, setSet] = useState("12");
  const [limit, setLimit] = useState(String(volts.limit_amps || 0.5));
  const [busy, setBusy] = useState(false);
  const fits = decimalOf(set) > 0 && decimalOf(limit) > 0;
  const log = async () => {
    setBusy(true);
    await powering.start({ supply, volts: decimalOf(set), limit_amps: decimalOf(limit) });
    setBusy(false);
  };
  return (
    <div className="mt-3 flex flex-wrap items-end gap-3" data-testid="log-start">
      {volts.supplies.length > 1 && (
        <label>
          <span className="block text-soft">
            <Trans>supply</Trans>
          </span>
          <Select
            className="field"
            value={supply}
            onChange={(event) => setSupply(Number(event.target.value))}
          >
            {volts.supplies.map((entry) => (
              <option key={entry.id} value={entry.id}>
                {entry.name}
              </option>
            ))}
          </Select>
        </label>
      )}
      <NumberField label={t`volts`} value={set} onChange={setSet} wide="w-20" />
      <NumberField label={t`limit, A`} value={limit} onChange={setLimit} wide="w-20" />
      <button
        type="button"
        className="button"
        disabled={busy || !fits}
        onKeyDown={(event) => event.key === "Enter" && event.preventDefault()}
        onClick={() => void log()}
      >
        {busy ? t`Logging two seconds …` : t`Switch on and log the current`}
      </button>
      <button
        type="button"
        className="button"
        disabled={busy}
        onClick={() => void powering.supplyOff(supply)}
      >
        <Trans>Switch off</Trans>
      </button>
    </div>
  );
}

const WIDE = 420;
const HIGH = 120;
const MARGIN = { left: 44, right: 12, top: 10, bottom: 22 };

/** The current of a start over time, with its limit. */
export function Curve({ start }: { start: Logged }) {
  const end = Math.max(...start.samples.map(([at = 0]) => at), 0.1);
  const most = Math.max(start.limit_amps, ...start.samples.map(([, , amps = 0]) => amps)) * 1.05;
  const x = (at: number) => MARGIN.left + (at / end) * (WIDE - MARGIN.left - MARGIN.right);
  const y = (amps: number) => HIGH - MARGIN.bottom - (amps / most) * (HIGH - MARGIN.top - MARGIN.bottom);
  const line = start.samples.map(([at = 0, , amps = 0]) => `${x(at).toFixed(1)},${y(amps).toFixed(1)}`);
  return (
    <figure className="mt-3" data-testid="start-curve">
      <svg viewBox={`0 0 ${WIDE} ${HIGH}`} className="w-full max-w-xl" role="img" aria-label={start.says}>
        <line x1={MARGIN.left} x2={WIDE - MARGIN.right} y1={y(0)} y2={y(0)} className="stroke-edge" />
        <line
          x1={MARGIN.left}
          x2={WIDE - MARGIN.right}
          y1={y(start.limit_amps)}
          y2={y(start.limit_amps)}
          className="stroke-suspect"
          strokeDasharray="5 4"
        />
        <text
          x={MARGIN.left - 4}
          y={y(start.limit_amps) + 5}
          textAnchor="end"
          fontSize={13}
          className="fill-ink"
        >
          {start.limit_amps} A
        </text>
        <text x={MARGIN.left - 4} y={y(0) + 4} textAnchor="end" fontSize={13} className="fill-ink">
          0
        </text>
        <text x={WIDE - MARGIN.right} y={HIGH - 5} textAnchor="end" fontSize={13} className="fill-ink">
          {end.toFixed(1)} s
        </text>
        <polyline points={line.join(" ")} className="fill-none stroke-ink" strokeWidth={1.8} />
      </svg>
      <figcaption>
        {start.says}{" "}
        <span className="text-soft">
          {start.supply}, {start.volts} V, {start.by}, {moment(start.at)}.
        </span>
      </figcaption>
    </figure>
  );
}
