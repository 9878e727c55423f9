import { t } from "@lingui/core/macro";
import type { Ohms } from "../api/client";
import { colour, type Verdict } from "./Mark";

type Reading = Ohms["readings"][number];

const WIDTH = 400;
const HEIGHT = 34;

/** A reading on a strip with every good card as a tick and the accepted band; by logarithms where all lie above nothing. */
export function Strip({ reading }: { reading: Reading }) {
  const { reference } = reading;
  if (!reference || reference.centre === null || reference.low === null || reference.high === null)
    return null;
  const own = [reading.low, reading.high].filter((entry): entry is number => entry !== null);
  const all = [...reference.seen, reference.low, reference.high, ...own];
  const logs = all.every((number) => number > 0);
  const put = (value: number) => (logs ? Math.log(value) : value);
  const least = Math.min(...all.map(put));
  const most = Math.max(...all.map(put));
  const margin = Math.max((most - least) * 0.12, 1e-9);
  const x = (value: number) => ((put(value) - least + margin) / (most - least + 2 * margin)) * WIDTH;
  const low = logs ? Math.max(reference.low, 1e-12) : reference.low;
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="mt-2 w-full"
      role="img"
      aria-label={t`${reading.shown} among ${reference.cards} good cards`}
    >
      <rect
        x={x(low)}
        y={9}
        width={Math.max(1, x(reference.high) - x(low))}
        height={16}
        className="fill-good/20"
      />
      <path d={`M0 17H${WIDTH}`} className="stroke-rule" strokeWidth={1} />
      {reference.seen.map((number, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: cards may read alike
        <path key={at} d={`M${x(number)} 9V25`} className="stroke-good" strokeWidth={1.5} />
      ))}
      {own.length > 0 && <Own at={own.map(x)} verdict={reading.verdict} />}
      {own.length === 0 && (
        <text
          x={WIDTH - 4}
          y={22}
          textAnchor="end"
          fontSize={16}
          className="fill-suspect font-mono font-bold"
        >{t`OL`}</text>
      )}
    </svg>
  );
}

function Own({ at, verdict }: { at: number[]; verdict: Verdict }) {
  const [from = 0, to = from] = [Math.min(...at), Math.max(...at)];
  return (
    <g className={colour(verdict)} strokeWidth={3}>
      {to > from && <path d={`M${from} 17H${to}`} strokeWidth={6} opacity={0.5} />}
      {[...new Set([from, to])].map((number) => (
        <path key={number} d={`M${number} 2V32`} />
      ))}
    </g>
  );
}
