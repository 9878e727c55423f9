import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type FormEvent, useState } from "react";
import type { Volts } from "../api/client";
import { Mark, type Verdict } from "../ohms/Mark";
import { numberOf } from "../shared/numbers";
import type { Powering } from "./useVolts";

interface PhasesProps {
  volts: Volts;
  powering: Powering;
  mayWork: boolean;
}

type Phase = Volts["phases"][number];
const MARKS: Record<Phase["compares"], Verdict> = {
  alike: "within",
  silent: "open",
  frequency: "unsteady",
  hot: "high",
  cool: "low",
  empty: "no-reference",
  "not read": "no-reference",
};

/** Phases of one rail among their equals, and the load on those that are left. */
export function Phases({ volts, powering, mayWork }: PhasesProps) {
  const on = volts.power && volts.power.state !== "off";
  const rails = [...new Set(volts.phases.map((phase) => phase.rail))];
  return (
    <section aria-labelledby="phases-title" data-testid="phases">
      <h3 id="phases-title" className="font-bold text-xl">
        <Trans>Phases among their equals</Trans>
      </h3>
      <p className="text-soft">
        {volts.phases.length === 0
          ? t`The model names no phases yet; its file may (phases).`
          : t`At idle a controller may rest some of them: compare under load. Warmth by a camera: they are hot, and live.`}
      </p>
      <ul>
        {volts.phases.map((phase) => (
          <li key={phase.designator} className="border-rule border-t py-2" data-phase={phase.designator}>
            <p className="flex items-center gap-2">
              <Mark verdict={MARKS[phase.compares]} />
              <strong className="font-mono">{phase.designator}</strong>
              <span className="text-soft">
                {[phase.rail, phase.point, phase.amps ? `${phase.amps} A` : ""].filter(Boolean).join(", ")}
              </span>
            </p>
            <p>{phase.says}</p>
            {mayWork && on && phase.compares !== "empty" && (
              <PhaseForm
                key={`${phase.khz} ${phase.celsius}`}
                phase={phase}
                see={(read) => powering.phase({ designator: phase.designator, ...read })}
              />
            )}
          </li>
        ))}
      </ul>
      {volts.shares.map((share) => (
        <p
          key={share.rail}
          className={`mt-2 border-l-4 pl-3 ${share.within ? "border-good" : "border-suspect font-bold"}`}
        >
          {share.says}
        </p>
      ))}
      {mayWork &&
        on &&
        rails.map((rail) => <LoadForm key={rail} rail={rail} load={(amps) => powering.load(rail, amps)} />)}
    </section>
  );
}

function PhaseForm({
  phase,
  see,
}: {
  phase: Phase;
  see: (read: { khz: number | null; celsius: number | null }) => Promise<boolean>;
}) {
  const [khz, setKhz] = useState(phase.khz === null ? "" : String(phase.khz));
  const [celsius, setCelsius] = useState(phase.celsius === null ? "" : String(phase.celsius));
  const read = { khz: numberOf(khz), celsius: numberOf(celsius) };
  const fits =
    (read.khz !== null || read.celsius !== null) &&
    !Number.isNaN(read.khz ?? 0) &&
    !Number.isNaN(read.celsius ?? 0);
  return (
    <form
      className="mt-1 flex flex-wrap items-center gap-3"
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        if (fits) void see(read);
      }}
    >
      <label className="flex items-center gap-2">
        <Trans>kHz</Trans>
        <input
          className="field w-24 font-mono"
          aria-label={`${phase.designator}, kHz`}
          inputMode="decimal"
          value={khz}
          onChange={(event) => setKhz(event.target.value)}
        />
      </label>
      <label className="flex items-center gap-2">
        °C
        <input
          className="field w-20 font-mono"
          aria-label={`${phase.designator}, °C`}
          inputMode="decimal"
          value={celsius}
          onChange={(event) => setCelsius(event.target.value)}
        />
      </label>
      <button type="submit" className="button" disabled={!fits}>
        <Trans>Store</Trans>
      </button>
    </form>
  );
}

function LoadForm({ rail, load }: { rail: string; load: (amps: number) => Promise<boolean> }) {
  const [amps, setAmps] = useState("");
  const value = numberOf(amps);
  return (
    <form
      className="mt-3 flex items-end gap-3"
      onSubmit={async (event: FormEvent) => {
        event.preventDefault();
        if (value !== null && value >= 0 && (await load(value))) setAmps("");
      }}
    >
      <label>
        <span className="block text-soft">
          <Trans>what {rail} draws, A</Trans>
        </span>
        <input
          className="field w-28 font-mono"
          inputMode="decimal"
          value={amps}
          onChange={(event) => setAmps(event.target.value)}
        />
      </label>
      <button type="submit" className="button" disabled={value === null || !(value >= 0)}>
        <Trans>Share it</Trans>
      </button>
    </form>
  );
}
