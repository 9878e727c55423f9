import { t } from "@lingui/core/macro";
import { memo } from "react";
import type { Drawing, SiteShape, View } from "../api/client";
import { centre, placed, points } from "./view";

/** What a layer says of one site. */
export interface SiteNote {
  /** share of all errors, 0 to 1 */
  share?: number;
  /** what stands on the pennant of a suspect: its number, or what it reads */
  pennant?: number | string;
  marked?: boolean;
  /** pointed out because something typed or asked was wrong */
  shown?: boolean;
}

export type Notes = Readonly<Record<string, SiteNote>>;

const LANDMARK_FILL: Record<string, string> = {
  bracket: "fill-metal",
  "edge-contacts": "fill-contacts",
  "power-plug": "fill-plug",
  "display-socket": "fill-metal",
  "fan-plug": "fill-plug",
  hole: "fill-tray",
};

/** Outline, landmarks and core, in the model's millimetres under the view's matrix. */
export const Ground = memo(function Ground({ drawing, view }: { drawing: Drawing; view: View }) {
  const back = view.side === "back";
  return (
    <g transform={`matrix(${view.matrix.join(" ")})`}>
      <polygon points={points(drawing.outline)} className="fill-board stroke-board-edge" strokeWidth={0.8} />
      {drawing.landmarks.map((mark, number) => (
        <polygon
          // biome-ignore lint/suspicious/noArrayIndexKey: landmarks have no names and never change places
          key={number}
          points={points(mark.corners)}
          className={`${LANDMARK_FILL[mark.kind] ?? "fill-metal"} stroke-board-edge`}
          strokeWidth={0.4}
          opacity={back && mark.kind !== "hole" && mark.kind !== "edge-contacts" ? 0.55 : 1}
        />
      ))}
      <polygon
        points={points(drawing.core.corners)}
        className={back ? "fill-none stroke-silk-soft" : "fill-chip stroke-chip-edge"}
        strokeWidth={0.5}
        strokeDasharray={back ? "2 1.4" : undefined}
      />
      <polygon points={points(drawing.core.mark)} className="fill-silk" opacity={back ? 0.7 : 1} />
    </g>
  );
});

/** The core's name, upright. */
export function CoreLabel({ drawing, view }: { drawing: Drawing; view: View }) {
  const [x, y] = placed(view, centre(drawing.core.corners));
  return (
    <g textAnchor="middle" className="fill-silk font-mono">
      <text x={x} y={y + 0.6} fontSize={5}>
        {drawing.core.designator}
      </text>
      <text x={x} y={y + 5.4} fontSize={3.2} className="fill-silk-soft font-sans">
        {view.side === "back" ? t`core, on the front` : t`core`}
      </text>
    </g>
  );
}

interface SiteProps {
  site: SiteShape;
  view: View;
  core: readonly [number, number];
  note: SiteNote | undefined;
  choose: ((designator: string) => void) | undefined;
}

/** One site: chip, pin-1 dot, names; dashed where it lies on the side that is not seen. */
export const Site = memo(function Site({ site, view, core, note, choose }: SiteProps) {
  const hidden = site.side !== view.side;
  const middle = placed(view, centre(site.corners));
  const corners = site.corners.map((corner) => placed(view, corner));
  const half = Math.max(...corners.map(([, y]) => y)) - middle[1];
  const wide = Math.max(...corners.map(([x]) => x)) - middle[0];
  const [x, y] = hidden ? outside(middle, core, wide, half) : middle;
  const [dotX, dotY] = placed(view, site.pin1);
  const share = note?.share ?? 0;
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the same choice is a button in the panel's list of chips
    <g onClick={choose ? () => choose(site.designator) : undefined} data-site={site.designator}>
      <polygon
        points={points(corners)}
        className={
          hidden
            ? "fill-none stroke-silk-soft"
            : site.fitted
              ? "fill-chip stroke-chip-edge"
              : "fill-none stroke-silk-soft"
        }
        strokeWidth={0.45}
        strokeDasharray={hidden ? "1.4 1" : site.fitted ? undefined : "0.4 1"}
        strokeLinecap="round"
      />
      {!hidden && site.fitted && <circle cx={dotX} cy={dotY} r={0.75} className="fill-silk" />}
      <g textAnchor="middle" className="font-mono">
        <text
          x={x}
          y={y + (hidden ? 1 : 0.2)}
          fontSize={hidden ? 3 : 4}
          fontWeight={700}
          className={`names ${site.fitted && !hidden ? "fill-chip-text" : "fill-silk-soft"}`}
        >
          {site.designator}
        </text>
        {!hidden && (
          <text
            x={x}
            y={y + 3.8}
            fontSize={site.fitted ? 3.1 : 2.3}
            className={site.fitted ? "fill-silk-soft" : "fill-silk-soft font-sans"}
          >
            {site.fitted ? (site.channel ?? "?") : t`not fitted`}
          </text>
        )}
      </g>
      {share > 0 && !hidden && <Share x={middle[0]} y={middle[1] + half} wide={wide} share={share} />}
    </g>
  );
});

/** What stands above all chips: a suspect's outline and pennant, the mark, what is pointed out. */
export const SiteSigns = memo(function SiteSigns({
  site,
  view,
  note,
}: {
  site: SiteShape;
  view: View;
  note: SiteNote;
}) {
  const hidden = site.side !== view.side;
  const corners = site.corners.map((corner) => placed(view, corner));
  const [x, y] = placed(view, centre(site.corners));
  const half = Math.max(...corners.map(([, down]) => down)) - y;
  const wide = Math.max(...corners.map(([across]) => across)) - x;
  const dashed = hidden ? "2 1.2" : undefined;
  return (
    <g>
      {note.shown && (
        <circle
          cx={x}
          cy={y}
          r={Math.hypot(wide, half) + 1.5}
          className="fill-none stroke-silk"
          strokeWidth={1}
          strokeDasharray="3 1.5"
        />
      )}
      {note.pennant !== undefined && (
        <>
          <polygon
            points={points(corners)}
            className="fill-none stroke-lit"
            strokeWidth={1.1}
            strokeDasharray={dashed}
          />
          <Pennant
            x={x + wide - 1}
            y={y - half}
            text={`${note.pennant}${hidden ? t` ${site.designator} behind` : ""}`}
          />
        </>
      )}
      {note.marked && <MarkSign x={x - wide} y={y - half} />}
    </g>
  );
});

/** A name of the hidden side stands outside its chip, away from the core. */
function outside(
  middle: readonly [number, number],
  core: readonly [number, number],
  wide: number,
  half: number,
) {
  const across = middle[0] - core[0];
  const down = middle[1] - core[1];
  return Math.abs(across) > Math.abs(down)
    ? ([middle[0] + Math.sign(across) * (wide + 4), middle[1]] as const)
    : ([middle[0], middle[1] + Math.sign(down) * (half + 3)] as const);
}

function Share({ x, y, wide, share }: { x: number; y: number; wide: number; share: number }) {
  const length = 2 * wide - 2;
  return (
    <g>
      <rect
        x={x - wide + 1}
        y={y - 1.5}
        width={length}
        height={1}
        className="fill-chip-edge"
        opacity={0.35}
      />
      <rect
        x={x - wide + 1}
        y={y - 1.5}
        width={Math.max(0.4, length * share)}
        height={1}
        className="fill-lit"
      />
    </g>
  );
}

/** A suspect's pennant: a pole with a swallow-tailed flag and its number. */
function Pennant({ x, y, text }: { x: number; y: number; text: string }) {
  const long = (text.length > 2 ? 6.4 : 4.8) + 2.4 * text.length;
  return (
    <g transform={`translate(${x} ${y})`}>
      <path
        d={`M0 0V-7.4H${long}L${long - 1.6} -5L${long} -2.6H0`}
        className="fill-sheet stroke-suspect"
        strokeWidth={0.6}
        strokeLinejoin="round"
      />
      <text x={1.5} y={-3.6} fontSize={4} fontWeight={700} className="names fill-suspect font-mono">
        {text}
      </text>
    </g>
  );
}

/** The confirmed mark: a cross in a ring, as drawn on the board with a pen. */
function MarkSign({ x, y }: { x: number; y: number }) {
  return (
    <g transform={`translate(${x} ${y})`}>
      <circle r={2.6} className="fill-sheet stroke-ink" strokeWidth={0.5} />
      <path
        d="M-1.2 -1.2L1.2 1.2M-1.2 1.2L1.2 -1.2"
        className="stroke-ink"
        strokeWidth={0.7}
        strokeLinecap="round"
      />
    </g>
  );
}
