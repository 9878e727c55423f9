import type { Drawing, Shorts, View } from "../api/client";
import { placed } from "../board/view";
import { type Hunting, stillOff } from "./useShorts";

interface OnBoardProps {
  shorts: Shorts;
  drawing: Drawing;
  view: View;
  hunting: Hunting;
}

// pennants of parts that lie close would hide each other and the spot
const MOST_NEAR = 3;
const LEAST_CHANCE = 0.15;

/** The hunt on the drawing: the thermal picture laid over, where it glowed, the nearest parts, what is off. */
export function OnBoard({ shorts, drawing, view, hunting }: OnBoardProps) {
  const thermal = newest(shorts.injections.flatMap((injection) => injection.thermals));
  const glow = newest(shorts.injections.flatMap((injection) => injection.glows));
  const part = (name: string) => drawing.parts.find((entry) => entry.designator === name);
  const xs = drawing.outline.map(([x = 0]) => x);
  const ys = drawing.outline.map(([, y = 0]) => y);
  const [left, right, bottom, top] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const mirrored = thermal?.side === "back";
  return (
    <g pointerEvents="none">
      {thermal && thermal.side === view.side && hunting.opacity > 0 && (
        <g
          transform={`matrix(${view.matrix.join(" ")})`}
          opacity={hunting.opacity}
          className="mix-blend-screen"
          data-testid="thermal"
        >
          <image
            href={`/api/v1/pictures/${thermal.picture}`}
            width={right - left}
            height={top - bottom}
            preserveAspectRatio="none"
            transform={`matrix(${mirrored ? -1 : 1} 0 0 -1 ${mirrored ? right : left} ${top})`}
          />
        </g>
      )}
      {stillOff(shorts).map((entry) => {
        const at = part(entry.part)?.at;
        if (!at) return null;
        return (
          <g key={entry.id} transform={`translate(${placed(view, at).join(" ")})`} data-off={entry.part}>
            <rect
              x={-2.4}
              y={-2}
              width={4.8}
              height={4}
              className="fill-board stroke-silk"
              strokeWidth={0.4}
            />
            <path d="M-2.4 -2L2.4 2M2.4 -2L-2.4 2" className="stroke-silk" strokeWidth={0.4} />
          </g>
        );
      })}
      {glow?.side && (
        <g
          transform={`translate(${placed(view, [glow.x_mm, glow.y_mm]).join(" ")})`}
          opacity={glow.side === view.side ? 1 : 0.5}
          data-testid="glow"
        >
          <circle r={4} className="fill-none stroke-lit" strokeWidth={0.9} />
          <path d="M0 -7V-5M0 5V7M-7 0H-5M5 0H7" className="stroke-lit" strokeWidth={0.9} />
        </g>
      )}
      {shorts.near
        .slice(0, MOST_NEAR)
        .map((entry, number) => ({ one: entry, number, at: part(entry.designator)?.at }))
        .filter(({ one, number }) => number === 0 || one.chance >= LEAST_CHANCE)
        .reverse()
        .map(
          ({ one, number, at }) =>
            at && <Pennant key={one.designator} at={placed(view, at)} number={number} />,
        )}
    </g>
  );
}

/** A part by the spot; the flag of a lesser one flies higher, so that none hides another. */
function Pennant({ at, number }: { at: readonly number[]; number: number }) {
  const top = -8 - 6 * number;
  return (
    <g transform={`translate(${at.join(" ")})`}>
      <circle r={1.1} className="fill-lit stroke-chip" strokeWidth={0.3} />
      <path
        d={`M0 0V${top}H9L7 ${top + 2.5}L9 ${top + 5}H0`}
        className="fill-sheet stroke-suspect"
        strokeWidth={0.6}
      />
      <text
        x={3.4}
        y={top + 4.2}
        fontSize={4.4}
        textAnchor="middle"
        className="fill-suspect font-mono font-bold"
      >
        {number + 1}
      </text>
    </g>
  );
}

function newest<T extends { at: string }>(rows: readonly T[]): T | undefined {
  return rows.reduce<T | undefined>((last, row) => (last && last.at > row.at ? last : row), undefined);
}
