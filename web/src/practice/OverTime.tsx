import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import type { Practice } from "../api/client";

type Round = Practice["rounds"][number];
const WIDE = 640;
const HIGH = 140;
const MOST = 40;
const EDGE = 28;

/** How many times the advice's own minutes each ended card took, oldest at the left; a cross where it ended wrongly. */
export function OverTime({ rounds }: { rounds: readonly Round[] }) {
  const ended = rounds
    .filter((round) => round.minutes !== null && round.advice_minutes)
    .slice(0, MOST)
    .reverse();
  if (ended.length < 2) return null;
  const times = ended.map((round) => (round.minutes ?? 0) / (round.advice_minutes ?? 1));
  const most = Math.max(2, ...times);
  const x = (at: number) => EDGE + ((WIDE - 2 * EDGE) * at) / (ended.length - 1);
  const y = (value: number) => HIGH - EDGE - ((HIGH - 2 * EDGE) * value) / most;
  return (
    <figure>
      <svg
        viewBox={`0 0 ${WIDE} ${HIGH}`}
        className="w-full max-w-3xl"
        role="img"
        aria-label={t`Minutes over time`}
      >
        <line x1={EDGE} x2={WIDE - EDGE} y1={y(1)} y2={y(1)} className="stroke-edge" strokeDasharray="4 4" />
        <text x={EDGE} y={y(1) - 6} className="fill-soft text-[14px]">{t`as the advice`}</text>
        <polyline
          points={times.map((value, at) => `${x(at)},${y(value)}`).join(" ")}
          className="fill-none stroke-ink"
          strokeWidth={2}
        />
        {times.map((value, at) => {
          const round = ended[at];
          return round?.right ? (
            <circle key={round.number} cx={x(at)} cy={y(value)} r={5} className="fill-good" />
          ) : (
            <path
              key={round?.number ?? at}
              d={`M${x(at) - 5} ${y(value) - 5}l10 10m0 -10l-10 10`}
              className="stroke-suspect"
              strokeWidth={3}
            />
          );
        })}
      </svg>
      <figcaption className="text-soft">
        <Trans>
          Minutes against those of the advice on the same card, oldest at the left. Dot: right outcome; cross:
          wrong outcome.
        </Trans>
      </figcaption>
    </figure>
  );
}
