import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type PointerEvent, useRef } from "react";
import type { Drawing, Orientation } from "../api/client";
import { orientationWords, type Point, viewOf } from "../board/view";
import { useKeys } from "../shared/keys";
import { Loading } from "../shared/states";
import { LOOKS, type Looks, type Survey, type Surveying } from "./Pads";

interface PadMapProps {
  surveying: Surveying;
  drawing: Drawing | null;
  orientation: Orientation;
  setOrientation: (orientation: Orientation) => void;
  mayWork: boolean;
}

type Pad = Survey["pads"][number];

/** Every pad as it lies on the board: a click marks one, a sweep many, arrows and letters do it without a hand on the mouse. */
export function PadMap({ surveying, drawing, orientation, setOrientation, mayWork }: PadMapProps) {
  const { survey, brush, setBrush, turn, setTurn, waiting, mark } = surveying;
  const sweeping = useRef(false);
  const found = survey.data;
  const mapView = found?.views.find(
    (entry) => entry.side === orientation.side && entry.turns === orientation.turns,
  );
  const [a = 1, b = 0, c = 0, d = 1] = mapView?.matrix ?? [];
  const place = ([column, row]: Point): Point => [a * column + c * row, b * column + d * row];
  const spots = new Map((found?.pads ?? []).map((pad) => [pad.ball, place([pad.column, pad.row])]));
  const view = drawing && viewOf(drawing, orientation);
  const step = (dx: number, dy: number) => {
    const from = turn ? spots.get(turn) : [...spots.values()][0];
    if (!from) return;
    const ahead = [...spots]
      .map(([ball, [x, y]]) => ({
        ball,
        along: (x - from[0]) * dx + (y - from[1]) * dy,
        off: Math.abs((x - from[0]) * dy) + Math.abs((y - from[1]) * dx),
      }))
      .filter((entry) => entry.along > 0.5)
      .sort((entry, other) => entry.along + 2 * entry.off - other.along - 2 * other.off);
    if (ahead[0]) setTurn(ahead[0].ball);
  };
  useKeys({
    ArrowLeft: () => step(-1, 0),
    ArrowRight: () => step(1, 0),
    ArrowUp: () => step(0, -1),
    ArrowDown: () => step(0, 1),
    ...Object.fromEntries(
      LOOKS.map(([looks, , letter]) => [
        letter,
        () => {
          setBrush(looks);
          if (turn && mayWork) mark(turn, looks);
        },
      ]),
    ),
    ...(view ? { f: () => setOrientation(view.flipped), r: () => setOrientation(view.turned) } : {}),
  });
  if (survey.isPending) return <Loading what={t`Reading the ball map`} />;
  if (!found || found.pads.length === 0 || !mapView)
    return (
      <p className="p-8 text-center text-soft">
        <Trans>
          No ball map of {surveying.designator} is in the library: import its package, and name it in the
          board’s editor.
        </Trans>
      </p>
    );
  const xs = [...spots.values()].map(([x]) => x);
  const ys = [...spots.values()].map(([, y]) => y);
  const [left, top] = [Math.min(...xs), Math.min(...ys)];
  const [wide, high] = [Math.max(...xs) - left, Math.max(...ys) - top];
  const chosen = found.pads.find((pad) => pad.ball === turn);
  const sweep = (event: PointerEvent) => {
    if (!sweeping.current || !mayWork) return;
    const under = document.elementFromPoint(event.clientX, event.clientY)?.closest("[data-pad]");
    const ball = under?.getAttribute("data-pad");
    if (ball && (waiting[ball] ?? found.pads.find((pad) => pad.ball === ball)?.looks) !== brush) mark(ball);
  };
  return (
    <section aria-label={t`Pads below ${found.designator}`} className="flex h-full min-h-0 flex-col">
      <div className="flex flex-wrap items-center gap-3 border-rule border-b bg-sheet px-4 py-1">
        <p>
          <strong>
            <Trans>A1 is {mapView.corner}.</Trans>
          </strong>{" "}
          <span className="font-mono" role="status">
            {chosen
              ? `${chosen.ball} ${chosen.signal || t`no signal`}, ${chosen.pad_class}, ${waiting[chosen.ball] ?? chosen.looks}`
              : t`Click, or sweep over, what is not good.`}
          </span>
        </p>
        <span className="flex flex-wrap gap-2">
          {LOOKS.map(([looks, label, letter]) => (
            <button
              key={looks}
              type="button"
              className="button flex items-center gap-2 px-3"
              aria-pressed={brush === looks}
              onClick={() => setBrush(looks)}
            >
              <svg viewBox="-0.6 -0.6 1.2 1.2" className="size-5" aria-hidden="true">
                <PadSign looks={looks} padClass="signal" />
              </svg>
              {label} <kbd className="key">{letter}</kbd>
            </button>
          ))}
        </span>
      </div>
      <div className="min-h-0 flex-1 bg-tray p-2">
        <svg
          viewBox={`${left - 1.6} ${top - 1.6} ${wide + 3.2} ${high + 3.2}`}
          className="size-full touch-none select-none"
          role="img"
          aria-label={t`${found.pads.length} pads below ${found.designator}, A1 ${mapView.corner}`}
          onPointerDown={(event) => {
            sweeping.current = true;
            sweep(event);
          }}
          onPointerMove={sweep}
          onPointerUp={() => {
            sweeping.current = false;
          }}
          onPointerLeave={() => {
            sweeping.current = false;
          }}
        >
          {found.pads.map((pad) => (
            <OnePad
              key={pad.ball}
              pad={pad}
              at={spots.get(pad.ball) ?? [0, 0]}
              looks={waiting[pad.ball] ?? pad.looks}
              turn={pad.ball === turn}
            />
          ))}
          <A1 at={place([-0.9, -0.9])} />
        </svg>
      </div>
      {view && (
        <div className="flex items-center gap-3 border-rule border-t bg-sheet px-4 py-2">
          <p className="font-semibold" data-testid="orientation">
            {orientationWords(view)}
          </p>
          <p className="ml-auto text-soft">
            <Trans>
              filled: ground and supply, ring: signal, dot: unused; <kbd className="key">f</kbd>{" "}
              <kbd className="key">r</kbd> flip and turn
            </Trans>
          </p>
        </div>
      )}
    </section>
  );
}

function A1({ at: [x, y] }: { at: Point }) {
  return (
    <text x={x} y={y + 0.25} fontSize={0.8} textAnchor="middle" className="fill-ink font-bold font-mono">
      A1
    </text>
  );
}

function OnePad({ pad, at: [x, y], looks, turn }: { pad: Pad; at: Point; looks: Looks; turn: boolean }) {
  return (
    <g transform={`translate(${x} ${y})`} data-pad={pad.ball} data-looks={looks}>
      <title>{`${pad.ball} ${pad.signal}, ${pad.pad_class}, ${looks}`}</title>
      <rect x={-0.5} y={-0.5} width={1} height={1} className="fill-tray" />
      <PadSign looks={looks} padClass={pad.pad_class} />
      {turn && (
        <rect
          x={-0.52}
          y={-0.52}
          width={1.04}
          height={1.04}
          className="fill-none stroke-next"
          strokeWidth={0.14}
        />
      )}
    </g>
  );
}

/** A pad by its class and looks: torn a cross, grey a bar, repaired a tick, unused a square; never by colour alone. */
function PadSign({ looks, padClass }: { looks: Looks; padClass: Pad["pad_class"] }) {
  const fill = padClass === "signal" ? "fill-sheet" : padClass === "unused" ? "fill-none" : "fill-edge";
  return (
    <>
      <circle
        r={padClass === "unused" ? 0.14 : 0.36}
        className={`${looks === "torn" ? "fill-suspect-wash" : fill} ${looks === "torn" ? "stroke-suspect" : "stroke-ink"}`}
        strokeWidth={0.08}
      />
      {looks === "torn" && (
        <path
          d="M-0.36 -0.36L0.36 0.36M0.36 -0.36L-0.36 0.36"
          className="stroke-suspect"
          strokeWidth={0.16}
        />
      )}
      {looks === "grey" && <path d="M-0.4 0H0.4" className="stroke-ink" strokeWidth={0.2} />}
      {looks === "unused" && (
        <path d="M-0.3 -0.3H0.3V0.3H-0.3Z" className="fill-tray stroke-edge" strokeWidth={0.08} />
      )}
      {looks === "repaired" && (
        <path d="M-0.26 0.02L-0.06 0.22L0.3 -0.22" className="fill-none stroke-good" strokeWidth={0.18} />
      )}
    </>
  );
}
