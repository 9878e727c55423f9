import type { Ohms, View } from "../api/client";
import { placed } from "../board/view";
import { MarkPath } from "./Mark";

/** What is drawn of a job, or of a reference card that is captured. */
interface Drawn {
  points: Ohms["points"];
  suspects: Ohms["suspects"];
  readings: readonly Pick<Ohms["readings"][number], "point" | "standing" | "verdict">[];
}

interface PointsProps {
  ohms: Drawn;
  view: View;
  chosen: string | null;
  choose: (name: string) => void;
  /** points that carry a number, in its order: inputs, then fuses */
  numbered?: readonly string[];
}

/** The points on the drawing: the one in turn ringed, the others to be chosen. */
export function Points({ ohms, view, chosen, choose, numbered }: PointsProps) {
  return (
    <>
      {ohms.suspects.slice(0, 3).map((suspect, number) =>
        suspect.x_mm === null || suspect.y_mm === null ? null : (
          <g
            key={suspect.designator}
            transform={`translate(${placed(view, [suspect.x_mm, suspect.y_mm]).join(" ")})`}
          >
            <circle r={3} className="fill-none stroke-lit" strokeWidth={1} />
            <path d="M0 -3V-11H9L7 -8.5L9 -6H0" className="fill-sheet stroke-suspect" strokeWidth={0.6} />
            <text
              x={3.4}
              y={-6.8}
              fontSize={4.4}
              textAnchor="middle"
              className="fill-suspect font-mono font-bold"
            >
              {number + 1}
            </text>
          </g>
        ),
      )}
      {ohms.points.map((entry) =>
        point(entry, { ohms, view, chosen, choose, ...(numbered && { numbered }) }),
      )}
    </>
  );
}

function point(one: Ohms["points"][number], { ohms, view, chosen, choose, numbered }: PointsProps) {
  if (one.x_mm === null || one.y_mm === null) return null;
  const [x, y] = placed(view, [one.x_mm, one.y_mm]);
  const seen = one.side === view.side;
  const turn = chosen?.split("/").includes(one.name) ?? false;
  const number = (numbered?.indexOf(one.name) ?? -1) + 1;
  const read = ohms.readings.findLast((other) => other.point === one.name && other.standing);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: likewise
    <g
      key={one.name}
      transform={`translate(${x} ${y})`}
      className="cursor-pointer"
      opacity={seen ? 1 : 0.45}
      data-point={one.name}
      onClick={() => choose(one.name)}
    >
      <circle
        r={2.6}
        className="fill-chip/60 stroke-silk"
        strokeWidth={0.4}
        strokeDasharray={seen ? undefined : "0.8 0.6"}
      />
      {read && (
        <g transform="translate(-2.4 -2.4) scale(0.3)">
          <rect width={16} height={16} rx={8} className="fill-sheet" />
          <MarkPath verdict={read.verdict} />
        </g>
      )}
      {number > 0 && (
        <g transform="translate(5.6 0)">
          <circle r={3.2} className="fill-sheet stroke-chip" strokeWidth={0.4} />
          <text y={1.6} fontSize={4.6} textAnchor="middle" className="fill-ink font-mono font-bold">
            {number}
          </text>
        </g>
      )}
      {turn && <circle r={5} className="fill-none stroke-lit-next" strokeWidth={1.2} />}
      <text y={-3.4} fontSize={3.4} textAnchor="middle" className="fill-silk font-mono font-bold">
        {one.name}
      </text>
    </g>
  );
}
