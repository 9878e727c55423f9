import type { Drawing, Look, LookRegion, Orientation, Owed, View } from "../api/client";
import { Board, NO_NOTES } from "../board/Board";
import { type Point, placed, points } from "../board/view";
import type { Spot } from "./useLook";

interface LookBoardProps {
  drawing: Drawing;
  orientation: Orientation;
  setOrientation: (orientation: Orientation) => void;
  title: string;
  look: Look;
  owed: Owed[];
  region: LookRegion | undefined;
  spot: Spot | null;
  pick: ((point: Point) => void) | undefined;
}

const PART_MM = 0.9;
// something is owed here: the sign of waiting, four millimetres high
const HOURGLASS = "M-1.6 -2H1.6V-1.3L0.6 0L1.6 1.3V2H-1.6V1.3L-0.6 0L-1.6 -1.3Z";

/** The board at Look: small parts, the region in turn lit, what was found pointed at. */
export function LookBoard({
  drawing,
  orientation,
  setOrientation,
  title,
  look,
  owed,
  region,
  spot,
  pick,
}: LookBoardProps) {
  const over = (view: View) => (
    <>
      {drawing.parts.map((part) => {
        const [x, y] = placed(view, part.at);
        return (
          <rect
            key={part.designator}
            x={x - PART_MM}
            y={y - PART_MM * 0.55}
            width={2 * PART_MM}
            height={PART_MM * 1.1}
            className="fill-chip stroke-silk-soft"
            strokeWidth={0.2}
            opacity={part.side === orientation.side ? 1 : 0.3}
          />
        );
      })}
      {region && region.side === orientation.side && <Lit region={region} drawing={drawing} view={view} />}
      {look.findings.map((finding, number) =>
        finding.x_mm === null || finding.y_mm === null ? null : (
          <Found
            key={finding.id}
            at={placed(view, [finding.x_mm, finding.y_mm])}
            number={number + 1}
            seen={finding.side === orientation.side}
            suspects={finding.suspects.flatMap((near) => {
              const part = drawing.parts.find((other) => other.designator === near.designator);
              return part ? [placed(view, part.at)] : [];
            })}
          />
        ),
      )}
      {owed.map((debt) =>
        debt.place && debt.place.x_mm !== null && debt.place.y_mm !== null ? (
          <g
            key={debt.key}
            transform={`translate(${placed(view, [debt.place.x_mm, debt.place.y_mm]).join(" ")})`}
            opacity={debt.place.side === orientation.side ? 1 : 0.5}
            data-owed={debt.words}
          >
            <path d={HOURGLASS} className="fill-sheet stroke-ink" strokeWidth={0.5} />
          </g>
        ) : null,
      )}
      {spot?.x_mm !== undefined && spot.y_mm !== undefined && spot.side === orientation.side && (
        <Ring at={placed(view, [spot.x_mm, spot.y_mm])} />
      )}
    </>
  );
  return (
    <Board
      drawing={drawing}
      orientation={orientation}
      setOrientation={setOrientation}
      notes={NO_NOTES}
      fit="board"
      title={title}
      over={over}
      {...(pick ? { pick } : {})}
    />
  );
}

/** The region in turn stays light, the rest of the board steps back. */
function Lit({ region, drawing, view }: { region: LookRegion; drawing: Drawing; view: View }) {
  const { x_mm: x, y_mm: y, width_mm: width, height_mm: height } = region;
  const corners = [
    [x, y],
    [x + width, y],
    [x + width, y + height],
    [x, y + height],
  ];
  const path = (polygon: number[][]) => `M${polygon.map((corner) => corner.join(" ")).join("L")}Z`;
  return (
    <g transform={`matrix(${view.matrix.join(" ")})`} pointerEvents="none" data-region={region.id}>
      <path d={`${path(drawing.outline)}${path(corners)}`} fillRule="evenodd" className="fill-chip/50" />
      <polygon points={points(corners)} className="fill-none stroke-lit-next" strokeWidth={1.2} />
    </g>
  );
}

interface FoundProps {
  at: Point;
  number: number;
  seen: boolean;
  suspects: Point[];
}

function Found({ at: [x, y], number, seen, suspects }: FoundProps) {
  return (
    <g opacity={seen ? 1 : 0.5} data-finding={number}>
      {suspects.map(([sx, sy]) => (
        <circle
          key={`${sx} ${sy}`}
          cx={sx}
          cy={sy}
          r={1.9}
          className="fill-none stroke-lit"
          strokeWidth={0.5}
          strokeDasharray="1 0.7"
        />
      ))}
      <circle cx={x} cy={y} r={1.6} className="fill-none stroke-lit" strokeWidth={0.8} />
      <path
        d={`M${x} ${y - 1.6}V${y - 11}H${x + 8}L${x + 6} ${y - 8.3}L${x + 8} ${y - 5.6}H${x}`}
        className="fill-sheet stroke-suspect"
        strokeWidth={0.6}
      />
      <text
        x={x + 3}
        y={y - 6.6}
        fontSize={4.6}
        textAnchor="middle"
        className="fill-suspect font-mono font-bold"
      >
        {number}
      </text>
    </g>
  );
}

function Ring({ at: [x, y] }: { at: Point }) {
  return (
    <g className="fill-none stroke-silk" strokeWidth={0.7} data-testid="spot">
      <circle cx={x} cy={y} r={2.4} />
      <path d={`M${x - 4} ${y}h2M${x + 2} ${y}h2M${x} ${y - 4}v2M${x} ${y + 2}v2`} />
    </g>
  );
}
