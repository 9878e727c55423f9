import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import type { ReactNode } from "react";
import type { BallMapData, Chips, Drawing, Orientation } from "../api/client";
import { OrientationButtons } from "../board/OrientationButtons";
import { STEP, usePane } from "../board/pane";
import { Thumb } from "../board/Thumb";
import { type Box, grown, orientationWords, type Point, shaped, viewOf } from "../board/view";
import { MarkPath } from "../ohms/Mark";
import { useKeys } from "../shared/keys";
import { type Ball, FILL, inWalk, type Walk } from "./classes";
import type { State } from "./useChips";

interface BallMapProps {
  map: BallMapData;
  drawing: Drawing;
  orientation: Orientation;
  setOrientation: (orientation: Orientation) => void;
  state: State;
  walk: Walk;
  turn: string | null;
  choose: (ball: string) => void;
  read: readonly Chips["balls"][number][];
  /** the way to the table */
  children: ReactNode;
}

const MARGIN = 1.4;

/** A chip's ball map as it lies at the bench, the corner from which one counts named; the ball in turn is ringed. */
export function BallMap({
  map,
  drawing,
  orientation,
  setOrientation,
  state,
  walk,
  turn,
  choose,
  read,
  children,
}: BallMapProps) {
  const up = state === "chip alone";
  const mapView = map.views.find(
    (entry) => entry.side === orientation.side && entry.turns === orientation.turns && entry.balls_up === up,
  );
  const view = viewOf(drawing, orientation);
  const place = ([column, row]: Point): Point => {
    const [a = 1, b = 0, c = 0, d = 1] = mapView?.matrix ?? [];
    return [a * column + c * row, b * column + d * row];
  };
  const wide = Math.max(...map.balls.map((ball) => ball.column));
  const high = Math.max(...map.balls.map((ball) => ball.row));
  const corners = [
    [-0.9, -0.9],
    [wide + 0.9, -0.9],
    [wide + 0.9, high + 0.9],
    [-0.9, high + 0.9],
  ].map(([x = 0, y = 0]) => place([x, y]));
  const whole = grown(around(corners), MARGIN);
  const {
    pane,
    seen,
    zoom,
    move,
    back,
    grab,
    pull,
    let: letGo,
  } = usePane((aspect) => shaped(whole, aspect), { width: whole.width, height: whole.height });
  useKeys({
    f: () => setOrientation(view.flipped),
    r: () => setOrientation(view.turned),
    "+": () => zoom(STEP),
    "-": () => zoom(1 / STEP),
    "0": back,
    ArrowLeft: () => move(-1, 0),
    ArrowRight: () => move(1, 0),
    ArrowUp: () => move(0, -1),
    ArrowDown: () => move(0, 1),
  });
  if (!mapView) return null;
  const verdicts = new Map(read.map((entry) => [entry.pin, entry]));
  const hidden = !up && orientation.side !== map.side;
  return (
    <section aria-label={t`Ball map of ${map.designator}`} className="flex h-full min-h-0 flex-col">
      <div className="flex items-center gap-4 border-rule border-b bg-sheet px-4 py-1">
        <p className="flex-1" data-testid="count-from">
          <Trans>
            <strong>
              {map.designator}: A1 is {mapView.corner}.
            </strong>{" "}
            Letters {WAY[mapView.rows]}, numbers {WAY[mapView.columns]}.{" "}
            {up
              ? t`The lifted chip, turned over like a page, balls up.`
              : state === "site pads"
                ? t`Empty pads.`
                : ""}
            {hidden ? t` This side is seen through the board: flip it.` : ""}
          </Trans>
        </p>
        {children}
      </div>
      <div
        ref={pane}
        className="relative min-h-0 flex-1 overflow-hidden bg-tray"
        onPointerDown={grab}
        onPointerMove={pull}
        onPointerUp={letGo}
      >
        <svg
          viewBox={`${seen.x} ${seen.y} ${seen.width} ${seen.height}`}
          className="absolute inset-0 size-full select-none"
          role="img"
          aria-label={t`Balls of ${map.designator}, A1 ${mapView.corner}`}
        >
          <polygon
            points={corners.map((corner) => corner.join(",")).join(" ")}
            className={up ? "fill-sheet stroke-ink" : "fill-board/15 stroke-board"}
            strokeWidth={0.1}
            strokeDasharray={hidden ? "0.5 0.3" : undefined}
          />
          <Rim map={map} place={place} wide={wide} high={high} />
          {map.balls.map((ball) => (
            <OneBall
              key={ball.ball}
              ball={ball}
              at={place([ball.column, ball.row])}
              lit={inWalk(ball, walk)}
              turn={ball.ball === turn}
              verdict={verdicts.get(ball.ball)?.verdict}
              choose={choose}
            />
          ))}
        </svg>
      </div>
      <div className="flex items-center gap-4 border-rule border-t bg-sheet px-4 py-2">
        <Thumb
          width_mm={view.width_mm}
          height_mm={view.height_mm}
          matrix={view.matrix}
          outline={drawing.outline}
          core={drawing.core.corners}
          sites={drawing.sites}
          suspects={[map.designator]}
          side={orientation.side}
          className="h-16 w-32 shrink-0"
        />
        <p className="font-semibold" data-testid="orientation">
          {orientationWords(view)}
        </p>
        <OrientationButtons view={view} setOrientation={setOrientation} zoom={zoom} />
      </div>
    </section>
  );
}

const WAY = { right: "rightwards", left: "leftwards", down: "downwards", up: "upwards" } as const;

function around(points: readonly Point[]): Box {
  const xs = points.map(([x]) => x);
  const ys = points.map(([, y]) => y);
  const [x, y] = [Math.min(...xs), Math.min(...ys)];
  return { x, y, width: Math.max(...xs) - x, height: Math.max(...ys) - y };
}

interface RimProps {
  map: BallMapData;
  place: (at: Point) => Point;
  wide: number;
  high: number;
}

/** Letters and numbers along the edges that meet at ball A1, upright, and the corner itself. */
function Rim({ map, place, wide, high }: RimProps) {
  const letters = new Map(map.balls.map((ball) => [ball.row, ball.ball.replace(/[0-9]+$/, "")]));
  const numbers = new Map(map.balls.map((ball) => [ball.column, ball.ball.replace(/^[A-Z]+/, "")]));
  const [x, y] = place([-1.5, -1.5]);
  const names = [
    ...[...letters].map(([row, label]) => [label, place([-1.5, row])] as const),
    ...[...numbers].map(([column, label]) => [label, place([column, -1.5])] as const),
  ];
  const tip = [place([-0.9, -0.9]), place([0.1, -0.9]), place([-0.9, 0.1])];
  return (
    <>
      {names.map(([label, [left, top]]) => (
        <text
          key={label}
          x={left}
          y={top + 0.2}
          fontSize={0.55}
          textAnchor="middle"
          className="fill-ink font-bold font-mono"
        >
          {label}
        </text>
      ))}
      <polygon points={tip.map((at) => at.join(",")).join(" ")} className="fill-ink" />
      <g transform={`translate(${x} ${y})`}>
        <circle r={0.62} className="fill-ink" />
        <text y={0.2} fontSize={0.55} textAnchor="middle" className="fill-sheet font-bold font-mono">
          A1
        </text>
      </g>
      <title>{t`${wide + 1} columns, ${high + 1} rows`}</title>
    </>
  );
}

interface OneBallProps {
  ball: Ball;
  at: Point;
  lit: boolean;
  turn: boolean;
  verdict: Chips["balls"][number]["verdict"] | undefined;
  choose: (ball: string) => void;
}

function OneBall({ ball, at: [x, y], lit, turn, verdict, choose }: OneBallProps) {
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the list of balls beside the field serves the keyboard
    <g
      transform={`translate(${x} ${y})`}
      opacity={lit || turn || verdict ? 1 : 0.35}
      className="cursor-pointer"
      data-ball={ball.ball}
      onClick={() => choose(ball.ball)}
    >
      <title>{`${ball.ball} ${ball.signal || "unused"}, ${ball.ball_class}`}</title>
      <circle r={0.4} strokeWidth={lit ? 0.1 : 0.05} className={FILL[ball.ball_class]} />
      {verdict ? (
        <g transform="translate(-0.34 -0.34) scale(0.0425)">
          <rect width={16} height={16} rx={8} className="fill-sheet" />
          <MarkPath verdict={verdict} />
        </g>
      ) : (
        ball.line !== null && (
          <text y={0.13} fontSize={0.36} textAnchor="middle" className="fill-ink font-mono">
            {ball.line}
          </text>
        )
      )}
      {turn && <circle r={0.58} className="fill-none stroke-next" strokeWidth={0.14} />}
    </g>
  );
}
