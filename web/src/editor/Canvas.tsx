import { t } from "@lingui/core/macro";
import { type PointerEvent, useCallback, useMemo, useState } from "react";
import type { Drawing, Orientation } from "../api/client";
import { EdgeName } from "../board/Board";
import { OrientationButtons } from "../board/OrientationButtons";
import { paneKeys, usePane } from "../board/pane";
import { CoreLabel, Ground, Site } from "../board/Shapes";
import {
  centre,
  grown,
  orientationWords,
  type Point,
  placed,
  points,
  shaped,
  unplaced,
  unturned,
  viewOf,
} from "../board/view";
import { useKeys } from "../shared/keys";
import { type BoardDocument, same, shapeOf, type Target, targetsOf } from "./document";

interface CanvasProps {
  document: BoardDocument;
  drawing: Drawing;
  orientation: Orientation;
  setOrientation: (orientation: Orientation) => void;
  /** what clicking does: choose and drag things, or give points of the board to the tool in hand */
  tool: string;
  clicks: readonly Point[];
  click: (point: Point) => void;
  chosen: readonly Target[];
  choose: (targets: Target[]) => void;
  drop: (targets: readonly Target[], dx: number, dy: number) => void;
  nudge: (dx: number, dy: number) => void;
  /** how strongly the photograph shows, 0 to 1 */
  photo: number;
}

const MARGIN_MM = 9;
const SMALL_MM = 1.1;
const NUDGE_MM = 0.5;
const FINE_MM = 0.1;
const LEAST_DRAG_PX = 4;
/** The tools whose clicks place outline and core, in order. */
const STEPS = ["photograph", "scale", "outline", "core"];

/** The drawing to work on: things are chosen, dragged and placed where they lie on the card. */
export function Canvas(props: CanvasProps) {
  const { document, drawing, orientation, tool, clicks, chosen, photo } = props;
  const view = useMemo(() => viewOf(drawing, orientation), [drawing, orientation]);
  const whole = { width: view.width_mm, height: view.height_mm };
  const [width, height] = [view.width_mm, view.height_mm];
  const home = useCallback(
    (aspect: number) => shaped(grown({ x: 0, y: 0, width, height }, MARGIN_MM), aspect),
    [width, height],
  );
  const { pane, seen, zoom, move, back, grab, pull, at } = usePane(home, whole);
  const [drag, setDrag] = useState<{
    targets: Target[];
    from: Point;
    by: Point;
    x: number;
    y: number;
  } | null>(null);
  const picture = drawing.photographs.find((photograph) => photograph.side === orientation.side);
  const covered = picture !== undefined && photo > 0;
  // over a photograph, what no click has given yet would only stand in the way
  const fresh = covered && !document.sites?.length && STEPS.includes(tool);
  const awaited = fresh ? STEPS.slice(STEPS.indexOf(tool)) : [];
  const coreKnown = !awaited.includes("core");

  const arrow = (across: number, down: number) => (event: KeyboardEvent) => {
    if (chosen.length === 0) return move(across * 0.1, down * 0.1);
    const step = event.shiftKey ? FINE_MM : NUDGE_MM;
    const [dx, dy] = unturned(view, [across * step, down * step]);
    props.nudge(dx, dy);
  };
  useKeys({
    f: () => props.setOrientation(view.flipped),
    r: () => props.setOrientation(view.turned),
    ...paneKeys({ zoom, move, back }),
    ArrowLeft: arrow(-1, 0),
    ArrowRight: arrow(1, 0),
    ArrowUp: arrow(0, -1),
    ArrowDown: arrow(0, 1),
  });

  const targets = useMemo(() => targetsOf(document), [document]);
  const hit = (point: Point): Target | undefined =>
    targets.findLast((target) => {
      const corners = shapeOf(document, drawing, target).map((corner) => placed(view, corner));
      if (corners.length === 1) {
        const [only] = corners;
        return only !== undefined && Math.hypot(only[0] - point[0], only[1] - point[1]) < SMALL_MM * 1.5;
      }
      return corners.length > 2 && inside(corners, point);
    });
  const down = (event: PointerEvent) => {
    const point = at(event);
    const target = tool === "choose" && event.button === 0 ? hit(point) : undefined;
    if (!target) return grab(event);
    const held = chosen.some((entry) => same(entry, target));
    const next = event.shiftKey
      ? held
        ? chosen.filter((entry) => !same(entry, target))
        : [...chosen, target]
      : held
        ? [...chosen]
        : [target];
    props.choose(next);
    setDrag({ targets: next, from: point, by: [0, 0], x: event.clientX, y: event.clientY });
    event.currentTarget.setPointerCapture(event.pointerId);
  };
  const drawn = (event: PointerEvent) => {
    if (!drag) return pull(event);
    const far = Math.hypot(event.clientX - drag.x, event.clientY - drag.y);
    const point = at(event);
    if (far >= LEAST_DRAG_PX || drag.by[0] !== 0 || drag.by[1] !== 0)
      setDrag({ ...drag, by: [point[0] - drag.from[0], point[1] - drag.from[1]] });
  };
  const start = useState<{ x: number; y: number }>({ x: 0, y: 0 });
  const up = (event: PointerEvent) => {
    if (drag) {
      if (drag.by[0] !== 0 || drag.by[1] !== 0) {
        const [dx, dy] = unturned(view, drag.by);
        props.drop(drag.targets, dx, dy);
      }
      return setDrag(null);
    }
    const still = Math.hypot(event.clientX - start[0].x, event.clientY - start[0].y) < LEAST_DRAG_PX;
    if (!still || event.button !== 0) return;
    if (tool === "choose") props.choose([]);
    else props.click(unplaced(view, at(event)));
  };

  const core = placed(view, centre(drawing.core.corners));
  const offset = (target: Target) =>
    drag?.targets.some((entry) => same(entry, target)) ? `translate(${drag.by[0]} ${drag.by[1]})` : undefined;
  const indexOf = (section: "sites" | "parts" | "points", key: string, name: string) =>
    document[section]?.findIndex((entry) => entry[key] === name) ?? -1;
  return (
    <section aria-label={t`Drawing`} className="@container relative flex h-full min-h-0 flex-col">
      <div
        ref={pane}
        data-testid="canvas"
        className={`relative min-h-0 flex-1 touch-none overflow-hidden bg-tray ${tool === "choose" ? "" : "cursor-crosshair"}`}
        onPointerDown={(event) => {
          start[1]({ x: event.clientX, y: event.clientY });
          down(event);
        }}
        onPointerMove={drawn}
        onPointerUp={up}
      >
        <svg
          viewBox={`${seen.x} ${seen.y} ${seen.width} ${seen.height}`}
          className="absolute inset-0 size-full select-none"
          role="img"
          aria-label={t`Model being drawn: ${orientationWords(view)}`}
        >
          {!covered && <Ground drawing={drawing} view={view} />}
          {picture && covered && (
            <g transform={`matrix(${view.matrix.join(" ")})`}>
              <image
                href={`/api/v1/pictures/${picture.sha256}`}
                width={picture.width_px}
                height={picture.height_px}
                transform={`matrix(${picture.matrix.join(" ")})`}
                opacity={photo}
              />
            </g>
          )}
          {covered && (
            <Lines drawing={drawing} view={view} outline={!awaited.includes("outline")} core={coreKnown} />
          )}
          {coreKnown && (
            <g transform={offset(["core", 0])}>
              <CoreLabel drawing={drawing} view={view} />
            </g>
          )}
          {drawing.parts.map((part) => {
            const [x, y] = placed(view, part.at);
            const target: Target = ["parts", indexOf("parts", "designator", part.designator)];
            return (
              <rect
                key={part.designator}
                x={x - SMALL_MM}
                y={y - SMALL_MM * 0.6}
                width={SMALL_MM * 2}
                height={SMALL_MM * 1.2}
                transform={offset(target)}
                opacity={part.side === orientation.side ? 1 : 0.4}
                className="fill-chip stroke-silk-soft"
                strokeWidth={0.25}
              />
            );
          })}
          {drawing.sites.map((site) => (
            <g
              key={site.designator}
              transform={offset(["sites", indexOf("sites", "designator", site.designator)])}
            >
              <Site site={site} view={view} core={core} note={undefined} choose={undefined} />
              {site.position !== null && site.side === orientation.side && (
                <Position at={placed(view, centre(site.corners))} core={core} position={site.position} />
              )}
            </g>
          ))}
          {drawing.points.map((point) => {
            const [x, y] = placed(view, point.at);
            return (
              <g key={point.id} transform={offset(["points", indexOf("points", "id", point.id)])}>
                <circle
                  cx={x}
                  cy={y}
                  r={SMALL_MM}
                  opacity={point.side === orientation.side ? 1 : 0.4}
                  className="fill-sheet stroke-ink"
                  strokeWidth={0.4}
                />
                <text x={x + 1.8} y={y + 0.9} fontSize={2.6} className="fill-silk font-mono">
                  {point.id}
                </text>
              </g>
            );
          })}
          {chosen.map((target) => (
            <Chosen
              key={target.join()}
              corners={shapeOf(document, drawing, target).map((corner) => placed(view, corner))}
              transform={offset(target)}
            />
          ))}
          <Clicks points={clicks.map((point) => placed(view, point))} />
        </svg>
        <EdgeName edge={view.edges.bracket} name="BRACKET" />
        {view.edges.contacts && <EdgeName edge={view.edges.contacts} name="CONTACTS" />}
        <p
          className="pointer-events-none absolute bottom-2 left-2 rounded bg-sheet/90 px-2 text-[14px]"
          data-testid="orientation"
        >
          {orientationWords(view)}
        </p>
      </div>
      <div className="absolute right-2 bottom-2">
        <OrientationButtons view={view} setOrientation={props.setOrientation} zoom={zoom} />
      </div>
    </section>
  );
}

interface LinesProps {
  drawing: Drawing;
  view: ReturnType<typeof viewOf>;
  outline: boolean;
  core: boolean;
}

/** Outline, core and mark as lines, over a photograph. */
function Lines({ drawing, view, outline, core }: LinesProps) {
  return (
    <g transform={`matrix(${view.matrix.join(" ")})`} className="fill-none stroke-lit" strokeWidth={0.5}>
      {outline && <polygon points={points(drawing.outline)} />}
      {core && <polygon points={points(drawing.core.corners)} className="fill-chip/60 stroke-lit" />}
      {core && <polygon points={points(drawing.core.mark)} className="fill-lit" />}
    </g>
  );
}

/** The place on the walk, on the chip's side away from the core. */
function Position({ at, core, position }: { at: Point; core: Point; position: number }) {
  const far = Math.hypot(at[0] - core[0], at[1] - core[1]) || 1;
  const [x, y] = [at[0] - ((at[0] - core[0]) / far) * 11.5, at[1] - ((at[1] - core[1]) / far) * 11.5];
  return (
    <g data-position={position}>
      <circle cx={x} cy={y} r={2.6} className="fill-sheet stroke-ink" strokeWidth={0.4} />
      <text
        x={x}
        y={y + 1.2}
        fontSize={3.4}
        textAnchor="middle"
        fontWeight={700}
        className="fill-ink font-mono"
      >
        {position}
      </text>
    </g>
  );
}

function Chosen({ corners, transform }: { corners: Point[]; transform: string | undefined }) {
  const [only] = corners;
  if (!only) return null;
  return corners.length === 1 ? (
    <circle
      cx={only[0]}
      cy={only[1]}
      r={2.2}
      transform={transform}
      className="fill-none stroke-silk"
      strokeWidth={0.7}
    />
  ) : (
    <polygon
      points={points(corners)}
      transform={transform}
      className="fill-none stroke-silk"
      strokeWidth={1}
      strokeDasharray="2 1"
    />
  );
}

/** What the tool in hand was given so far. */
function Clicks({ points: clicked }: { points: Point[] }) {
  return (
    <g className="stroke-lit" strokeWidth={0.5}>
      <polyline points={points(clicked)} className="fill-none" />
      {clicked.map(([x, y]) => (
        <path key={`${x} ${y}`} d={`M${x - 2.5} ${y}H${x + 2.5}M${x} ${y - 2.5}V${y + 2.5}`} />
      ))}
    </g>
  );
}

function inside(corners: readonly Point[], [x, y]: Point): boolean {
  let odd = false;
  corners.forEach(([x1, y1], number) => {
    const [x2, y2] = corners[(number + 1) % corners.length] ?? [x1, y1];
    if (y1 > y !== y2 > y && x < ((x2 - x1) * (y - y1)) / (y2 - y1) + x1) odd = !odd;
  });
  return odd;
}
