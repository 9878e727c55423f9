import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { type JobDetail, newId } from "../api/client";
import { uploadEntry } from "../api/upload";
import { Mark, type Verdict } from "../ohms/Mark";
import { ChooseFile } from "../shared/ChooseFile";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";
import { moment } from "../shared/words";
import type { ReworkData } from "./useRework";

type Logged = ReworkData["curves"][number];
const JUDGED: Record<Logged["judged"], readonly [Verdict, string]> = {
  good: ["within", t`Within the window`],
  "too-cold": ["low", t`Too cold`],
  "too-short": ["low", t`Too short above the melting point`],
  "too-hot": ["high", t`Too hot`],
  "too-long": ["high", t`Too long above the melting point`],
  "too-fast": ["unsteady", t`Heated too fast`],
};

interface CurvesProps {
  job: JobDetail;
  rework: ReworkData;
  keep: (next: ReworkData) => void;
  mayWork: boolean;
}

/** A thermocouple's log held against the alloy's window: peak, time above, steepest rise. */
export function Curves({ job, rework, keep, mayWork }: CurvesProps) {
  const [alloy, setAlloy] = useState(rework.alloys[0] ?? "");
  const sending = useKeeping([]);
  const send = async (file: File | undefined) => {
    if (!file) return;
    const form = new FormData();
    form.append("entry", newId());
    form.append("alloy", alloy);
    form.append("file", file);
    const address = `/api/v1/jobs/${job.number}/curves`;
    const now = await sending.keep(() => uploadEntry<ReworkData>(address, form, () => undefined));
    if (now && now !== "kept") keep(now);
  };
  return (
    <section aria-labelledby="curve-title" className="space-y-4" data-testid="curves">
      <h2 id="curve-title" className="font-bold text-2xl">
        <Trans>Thermocouple curves</Trans>
      </h2>
      {mayWork && (
        <div className="flex flex-wrap items-end gap-3">
          <label>
            <span className="block text-soft">
              <Trans>alloy</Trans>
            </span>
            <Select className="field" value={alloy} onChange={(event) => setAlloy(event.target.value)}>
              {rework.alloys.map((name) => (
                <option key={name}>{name}</option>
              ))}
            </Select>
          </label>
          <ChooseFile take={(files) => void send(files[0])} accept=".csv,text/csv" testid="curve-file">
            <Trans>Choose the logger’s CSV</Trans>
          </ChooseFile>
          <span className="text-soft">
            <Trans>columns seconds, celsius</Trans>
          </span>
        </div>
      )}
      <FormError problem={sending.problem} plain />
      {rework.curves.length === 0 && (
        <p className="text-soft">
          <Trans>No curve yet: log one with the thermocouple by the joint.</Trans>
        </p>
      )}
      {[...rework.curves].reverse().map((curve) => (
        <OneCurve key={curve.id} curve={curve} />
      ))}
    </section>
  );
}

const WIDE = 480;
const HIGH = 240;
const MARGIN = { left: 44, right: 12, top: 14, bottom: 30 };

function OneCurve({ curve }: { curve: Logged }) {
  const [mark, words] = JUDGED[curve.judged];
  const times = curve.samples.map(([at = 0]) => at);
  const begin = Math.min(...times);
  const end = Math.max(...times);
  const most = Math.max(curve.max_peak_c, curve.peak_c) + 20;
  const x = (at: number) =>
    MARGIN.left + ((at - begin) / (end - begin || 1)) * (WIDE - MARGIN.left - MARGIN.right);
  const y = (celsius: number) =>
    HIGH - MARGIN.bottom - (celsius / most) * (HIGH - MARGIN.top - MARGIN.bottom);
  const line = curve.samples.map(([at = 0, celsius = 0]) => `${x(at).toFixed(1)},${y(celsius).toFixed(1)}`);
  return (
    <figure className="border-rule border-t pt-3">
      <p className="flex items-center gap-3 font-bold text-xl">
        <Mark verdict={mark} size={28} /> {words}
      </p>
      <svg
        viewBox={`0 0 ${WIDE} ${HIGH}`}
        className="w-full"
        role="img"
        aria-label={`${curve.name}: ${words}`}
      >
        <rect
          x={MARGIN.left}
          width={WIDE - MARGIN.left - MARGIN.right}
          y={y(curve.max_peak_c)}
          height={y(curve.min_peak_c) - y(curve.max_peak_c)}
          className="fill-good/20"
        />
        <text
          x={WIDE - MARGIN.right}
          y={y(curve.max_peak_c) - 4}
          textAnchor="end"
          fontSize={13}
          className="fill-ink"
        >{t`peak ${curve.min_peak_c} to ${curve.max_peak_c} °C`}</text>
        <line
          x1={MARGIN.left}
          x2={WIDE - MARGIN.right}
          y1={y(curve.reference_c)}
          y2={y(curve.reference_c)}
          className="stroke-edge"
          strokeDasharray="5 4"
        />
        <text x={MARGIN.left + 4} y={y(curve.reference_c) - 4} fontSize={13} className="fill-ink">
          {curve.alloy} {curve.reference_c} °C
        </text>
        <line x1={MARGIN.left} x2={MARGIN.left} y1={y(0)} y2={y(most)} className="stroke-edge" />
        <line x1={MARGIN.left} x2={WIDE - MARGIN.right} y1={y(0)} y2={y(0)} className="stroke-edge" />
        {[0, 100, 200].map((celsius) => (
          <text
            key={celsius}
            x={MARGIN.left - 6}
            y={y(celsius) + 4}
            textAnchor="end"
            fontSize={13}
            className="fill-ink"
          >
            {celsius}
          </text>
        ))}
        <text x={MARGIN.left} y={HIGH - 8} fontSize={13} className="fill-ink">
          {begin} s
        </text>
        <text x={WIDE - MARGIN.right} y={HIGH - 8} textAnchor="end" fontSize={13} className="fill-ink">
          {end} s
        </text>
        <polyline points={line.join(" ")} className="fill-none stroke-ink" strokeWidth={2} />
      </svg>
      <figcaption>
        {curve.why.join("; ")}.{" "}
        {curve.soak_s !== null && curve.soak_c
          ? t`Soaked ${curve.soak_s.toFixed(0)} s from ${curve.soak_c[0] ?? ""} to ${curve.soak_c[1] ?? ""} °C. `
          : t`The shop has not set its soak. `}
        <span className="text-soft">
          {curve.name}, {curve.by}, {moment(curve.at)}.
        </span>
      </figcaption>
    </figure>
  );
}
