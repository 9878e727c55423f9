import { Trans } from "@lingui/react/macro";
import type { Drawing, Orientation, View } from "../api/client";
import { Board, NO_NOTES } from "../board/Board";
import { centre, type Point, placed } from "../board/view";
import type { Before, ReworkData } from "./useRework";

interface ReworkBoardProps {
  drawing: Drawing;
  orientation: Orientation;
  setOrientation: (orientation: Orientation) => void;
  title: string;
  rework: ReworkData;
  site: string;
  before: Before | undefined;
  choose: (designator: string) => void;
}

/** Cycles of each place, chips that are off crossed out; round the place in hand its neighbours in millimetres. */
export function ReworkBoard({
  drawing,
  orientation,
  setOrientation,
  title,
  rework,
  site,
  before,
  choose,
}: ReworkBoardProps) {
  const over = (view: View) => {
    const places = placesOf(drawing, view);
    const here = places.get(site);
    return (
      <g data-testid="heat">
        {rework.sites.map((entry) => {
          const spot = places.get(entry.designator);
          if (!spot || (entry.cycles === 0 && entry.chip !== null && !(entry.warmed > 0 && spot.wide > 0)))
            return null;
          return (
            <g
              key={entry.designator}
              transform={`translate(${spot.at.join(" ")})`}
              data-cycles={entry.designator}
            >
              {entry.chip === null && (
                <path
                  d={`M${-spot.wide} ${-spot.high}L${spot.wide} ${spot.high}M${spot.wide} ${-spot.high}L${-spot.wide} ${spot.high}`}
                  className="stroke-silk"
                  strokeWidth={0.8}
                />
              )}
              {entry.cycles + entry.warmed > 0 && (
                <g transform={`translate(${spot.wide} ${-spot.high})`}>
                  <rect
                    x={-4.4}
                    y={-2.6}
                    width={8.8}
                    height={5.2}
                    rx={1.2}
                    className="fill-sheet stroke-ink"
                    strokeWidth={0.3}
                  />
                  <text y={1.5} fontSize={4} textAnchor="middle" className="fill-ink font-bold font-mono">
                    {entry.cycles > 0 && entry.cycles}
                    {entry.warmed > 0 && `+${entry.warmed}`}
                  </text>
                </g>
              )}
            </g>
          );
        })}
        {here &&
          before?.neighbours.map((neighbour) => {
            const spot = places.get(neighbour.designator);
            if (!spot) return null;
            return (
              <g key={neighbour.designator} data-near={neighbour.designator}>
                <line
                  x1={here.at[0]}
                  y1={here.at[1]}
                  x2={spot.at[0]}
                  y2={spot.at[1]}
                  className={neighbour.shield ? "stroke-lit" : "stroke-silk-soft"}
                  strokeWidth={neighbour.shield ? 0.9 : 0.5}
                  strokeDasharray={neighbour.behind ? "1.6 1.2" : undefined}
                />
                <circle
                  cx={spot.at[0]}
                  cy={spot.at[1]}
                  r={Math.max(spot.wide, spot.high, 1.4) + 1}
                  className={`fill-none ${neighbour.shield ? "stroke-lit" : "stroke-silk-soft"}`}
                  strokeWidth={neighbour.shield ? 0.9 : 0.5}
                  strokeDasharray={neighbour.behind ? "1.6 1.2" : undefined}
                />
              </g>
            );
          })}
        {here && (
          <circle
            cx={here.at[0]}
            cy={here.at[1]}
            r={Math.max(here.wide, here.high, 1.5) + 2}
            className="fill-none stroke-lit-next"
            strokeWidth={1.4}
          />
        )}
      </g>
    );
  };
  return (
    <div className="relative min-h-0">
      <Board
        drawing={drawing}
        orientation={orientation}
        setOrientation={setOrientation}
        notes={NO_NOTES}
        choose={choose}
        fit="board"
        title={title}
        over={over}
      />
      <p className="absolute top-1 right-2 rounded bg-sheet px-2 text-[15px]">
        <Trans>
          <strong className="font-mono">2</strong> heated, <strong className="font-mono">+3</strong> warmed by
          neighbours, crossed: off
        </Trans>
      </p>
    </div>
  );
}

interface Spot {
  at: Point;
  wide: number;
  high: number;
}

/** Every place by its designator: its middle and half its size as the board lies. */
function placesOf(drawing: Drawing, view: View): Map<string, Spot> {
  const found = new Map<string, Spot>();
  const add = (name: string, corners: readonly (readonly number[])[]) => {
    const seen = corners.map((corner) => placed(view, corner));
    const at = placed(view, centre(corners));
    found.set(name, {
      at,
      wide: Math.max(...seen.map(([x]) => x)) - at[0],
      high: Math.max(...seen.map(([, y]) => y)) - at[1],
    });
  };
  for (const part of drawing.parts)
    found.set(part.designator, { at: placed(view, part.at), wide: 0, high: 0 });
  add(drawing.core.designator, drawing.core.corners);
  for (const site of drawing.sites) add(site.designator, site.corners);
  return found;
}
