import type { View } from "../api/client";
import { type Point, placed } from "../board/view";

interface PlacesProps {
  view: View;
  places: readonly (readonly number[])[];
  /** indices of `places` in the order of tightening */
  order: readonly number[];
  crosswise: boolean;
  /** whether this is the group in turn */
  lit: boolean;
  /** whether the side seen is the one they are driven from */
  seen: boolean;
}

const RADIUS_MM = 3.4;

/** A group of screws on the drawing, numbered in the order of tightening; a crosswise one with the way drawn. */
export function Places({ view, places, order, crosswise, lit, seen }: PlacesProps) {
  const at = places.map((place) => placed(view, place as unknown as Point));
  const way = order.flatMap((index) => (at[index] ? [at[index]] : []));
  return (
    <g opacity={lit ? 1 : 0.55} pointerEvents="none" data-testid={lit ? "group-in-turn" : undefined}>
      {crosswise && lit && (
        <polyline
          points={way.map((point) => point.join(",")).join(" ")}
          className="fill-none stroke-lit-next"
          strokeWidth={0.6}
          strokeDasharray="2 1.2"
        />
      )}
      {order.map((index, number) => {
        const point = at[index];
        if (!point) return null;
        const [x, y] = point;
        return (
          <g key={index} transform={`translate(${x} ${y})`}>
            <circle
              r={RADIUS_MM}
              className={`fill-metal ${lit ? "stroke-lit-next" : "stroke-chip"}`}
              strokeWidth={lit ? 0.9 : 0.4}
              strokeDasharray={seen ? undefined : "1 0.8"}
            />
            <text
              y={RADIUS_MM * 0.45}
              fontSize={RADIUS_MM * 1.3}
              textAnchor="middle"
              className="fill-chip font-mono font-bold"
            >
              {number + 1}
            </text>
          </g>
        );
      })}
    </g>
  );
}
