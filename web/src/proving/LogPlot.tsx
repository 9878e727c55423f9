import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import type { ProofLog } from "./useProof";

const WIDE = 720;
const HIGH = 150;
const MARGIN = { left: 46, right: 12, top: 12, bottom: 26 };
const LINES = [
  ["celsius", "°C", "stroke-suspect", ""],
  ["watts", "W", "stroke-ink", "6 4"],
  ["mhz", "MHz", "stroke-good", "2 3"],
] as const;

interface LogPlotProps {
  log: ProofLog;
  logs: readonly ProofLog[];
  show: (id: string) => void;
}

/** A log from left to right: temperature against the left edge, power and clock each over their own range. */
export function LogPlot({ log, logs, show }: LogPlotProps) {
  const begin = log.seconds[0] ?? 0;
  const end = log.seconds[log.seconds.length - 1] ?? 1;
  const x = (at: number) =>
    MARGIN.left + ((at - begin) / (end - begin || 1)) * (WIDE - MARGIN.left - MARGIN.right);
  const most = (name: string) => Math.max(1, ...(log.figures[name] ?? []).map((entry) => entry ?? 0)) * 1.08;
  const y = (value: number, top: number) =>
    HIGH - MARGIN.bottom - (value / top) * (HIGH - MARGIN.top - MARGIN.bottom);
  const path = (name: string) => {
    const top = name === "celsius" ? warm : most(name);
    let pen = "M";
    return (log.figures[name] ?? [])
      .map((value, at) => {
        if (value === null) {
          pen = "M";
          return "";
        }
        const step = `${pen}${x(log.seconds[at] ?? 0).toFixed(1)} ${y(value, top).toFixed(1)}`;
        pen = "L";
        return step;
      })
      .join("");
  };
  const before = log.phase === "after" ? logs.find((entry) => entry.phase === "before") : undefined;
  const warm = Math.max(
    most("celsius"),
    ...(before?.figures.celsius ?? []).map((entry) => (entry ?? 0) * 1.08),
  );
  const shown = LINES.filter(([name]) => log.figures[name]);
  const last = (name: string) =>
    [...(log.figures[name] ?? [])].reverse().find((entry) => entry !== null) ?? 0;
  return (
    <figure data-testid="log-plot">
      <figcaption className="flex flex-wrap items-center justify-between gap-2">
        <span>
          <Trans>
            <strong>{log.name}</strong>
            {log.load ? t` under ${log.load}` : ""}, {log.phase} the repair, {Math.round((end - begin) / 60)}{" "}
            min
          </Trans>
          {!log.counts && (
            <strong>
              <Trans>, older than the last rework: counts no more</Trans>
            </strong>
          )}
        </span>
        {logs.length > 1 && (
          <Select
            className="field"
            aria-label={t`Which log is shown`}
            value={log.id}
            onChange={(event) => show(event.target.value)}
          >
            {logs.map((entry) => (
              <option key={entry.id} value={entry.id}>
                {entry.name}, {entry.phase}
              </option>
            ))}
          </Select>
        )}
      </figcaption>
      <svg
        viewBox={`0 0 ${WIDE} ${HIGH}`}
        className="w-full"
        role="img"
        aria-label={`${log.name}: ${shown.map(([name, unit]) => t`ends at ${last(name).toFixed(0)} ${unit}`).join(", ")}`}
      >
        {[20, 40, 60, 80, 100].map(
          (celsius) =>
            celsius < warm && (
              <g key={celsius}>
                <line
                  x1={MARGIN.left}
                  x2={WIDE - MARGIN.right}
                  y1={y(celsius, warm)}
                  y2={y(celsius, warm)}
                  className="stroke-rule"
                />
                <text
                  x={MARGIN.left - 6}
                  y={y(celsius, warm) + 5}
                  textAnchor="end"
                  fontSize={14}
                  className="fill-ink"
                >
                  {celsius}
                </text>
              </g>
            ),
        )}
        {before && (
          <path
            d={(before.figures.celsius ?? [])
              .map((value, at) => [before.seconds[at] ?? 0, value] as const)
              .filter(([at, value]) => value !== null && at <= end)
              .map(
                ([at, value], first) =>
                  `${first ? "L" : "M"}${x(at).toFixed(1)} ${y(value ?? 0, warm).toFixed(1)}`,
              )
              .join("")}
            className="fill-none stroke-edge"
            strokeWidth={2}
          />
        )}
        {shown.map(([name, , stroke, dash]) => (
          <g key={name}>
            <path d={path(name)} className={`fill-none ${stroke}`} strokeWidth={2.5} strokeDasharray={dash} />
          </g>
        ))}
        <text x={MARGIN.left} y={HIGH - 6} fontSize={14} className="fill-ink">
          0
        </text>
        <text x={WIDE - MARGIN.right} y={HIGH - 6} textAnchor="end" fontSize={14} className="fill-ink">
          {t`${Math.round((end - begin) / 60)} min`}
        </text>
      </svg>
      <p className="flex flex-wrap gap-4">
        {before && (
          <span className="flex items-center gap-1">
            <svg viewBox="0 0 28 6" className="h-2 w-7" aria-hidden="true">
              <path d="M0 3H28" className="stroke-edge" strokeWidth={3} />
            </svg>
            <Trans>temperature before, {before.name}</Trans>
          </span>
        )}
        {shown.map(([name, unit, stroke, dash]) => (
          <span key={name} className="flex items-center gap-1">
            <svg viewBox="0 0 28 6" className="h-2 w-7" aria-hidden="true">
              <path d="M0 3H28" className={stroke} strokeWidth={3} strokeDasharray={dash} />
            </svg>
            {name === "celsius" ? t`temperature` : name === "watts" ? t`power` : t`clock`}{" "}
            <strong>
              {last(name).toFixed(0)} {unit}
            </strong>
          </span>
        ))}
      </p>
    </figure>
  );
}
