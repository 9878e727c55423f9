import { t } from "@lingui/core/macro";
import { memo, type ReactNode, useCallback, useMemo } from "react";
import type { Drawing, Orientation, View } from "../api/client";
import { useKeys } from "../shared/keys";
import { OrientationButtons } from "./OrientationButtons";
import { paneKeys, usePane } from "./pane";
import { CoreLabel, Ground, type Notes, Site, SiteSigns } from "./Shapes";
import {
  type Box,
  boxOf,
  centre,
  grown,
  orientationWords,
  type Point,
  placed,
  shaped,
  unplaced,
  viewOf,
} from "./view";

interface BoardProps {
  drawing: Drawing;
  orientation: Orientation;
  setOrientation: ((orientation: Orientation) => void) | undefined;
  notes: Notes;
  choose?: (designator: string) => void;
  /** what the drawing is zoomed to at first: the chips round the core, or the whole board */
  fit: "chips" | "board";
  title: string;
  /** the drawing alone, without plan and buttons */
  plain?: boolean;
  /** what lies over the drawing, in the view's millimetres */
  over?: (view: View) => ReactNode;
  /** takes a click that hit the board, in the model's millimetres */
  pick?: (point: Point) => void;
}

/** Nothing said on the board: the same every time, so that it is not drawn anew. */
export const NO_NOTES: Notes = {};

// room for the names at the pane's edges and a pennant, and for names of the side that is not seen
const MARGIN_MM = 11;
const HIDDEN_MM = 5;

// The plan says where one is on the board: once less than this share of its width or height is seen.
const ZOOMED = 0.8;

/** The one drawing of the card's board: it fills its pane, lies as the card lies, zooms and moves. */
export function Board({
  drawing,
  orientation,
  setOrientation,
  notes,
  choose,
  fit,
  title,
  plain = false,
  over,
  pick,
}: BoardProps) {
  const view = useMemo(() => viewOf(drawing, orientation), [drawing, orientation]);
  const whole = useMemo(() => ({ x: 0, y: 0, width: view.width_mm, height: view.height_mm }), [view]);
  const home = useCallback(
    (aspect: number) => {
      const chips = boxOf(view, [drawing.core.corners, ...drawing.sites.map((site) => site.corners)]);
      const hidden = drawing.sites.some((site) => site.side !== view.side);
      return shaped(grown(fit === "chips" ? chips : whole, MARGIN_MM + (hidden ? HIDDEN_MM : 0)), aspect);
    },
    [drawing, view, whole, fit],
  );
  const { pane, seen, zoom, move, back, grab, pull, let: letGo } = usePane(home, whole);

  useKeys(
    {
      f: () => setOrientation?.(view.flipped),
      r: () => setOrientation?.(view.turned),
      ...paneKeys({ zoom, move, back }),
    },
    !plain,
  );

  return (
    <section aria-label={title} className="flex h-full min-h-0 flex-col">
      <div className="@container relative min-h-0 flex-1">
        <div
          ref={pane}
          className="absolute inset-0 overflow-hidden bg-tray"
          onPointerDown={grab}
          onPointerMove={pull}
          onPointerUp={(event) => {
            const point = letGo(event);
            if (point && pick) pick(unplaced(view, point));
          }}
        >
          <svg
            viewBox={`${seen.x} ${seen.y} ${seen.width} ${seen.height}`}
            className="absolute inset-0 size-full select-none"
            role="img"
            aria-label={`${title}: ${orientationWords(view)}`}
          >
            <Drawn drawing={drawing} view={view} notes={notes} choose={choose} />
            {over?.(view)}
          </svg>
          <EdgeName edge={view.edges.bracket} name="BRACKET" />
          {view.edges.contacts && <EdgeName edge={view.edges.contacts} name="CONTACTS" />}
        </div>
        {!plain && (
          <>
            {(seen.width < ZOOMED * whole.width || seen.height < ZOOMED * whole.height) && (
              <div className="pointer-events-none absolute top-2 left-2 rounded-md border border-rule bg-sheet p-1">
                <Plan drawing={drawing} orientation={orientation} seen={seen} notes={notes} />
              </div>
            )}
            <p
              className="pointer-events-none absolute bottom-2 left-2 rounded bg-sheet/90 px-2 text-[14px]"
              data-testid="orientation"
            >
              {orientationWords(view)}
            </p>
            <div className="absolute right-2 bottom-2">
              <OrientationButtons view={view} setOrientation={setOrientation} zoom={zoom} />
            </div>
          </>
        )}
      </div>
    </section>
  );
}

interface DrawnProps {
  drawing: Drawing;
  view: View;
  notes: Notes;
  choose: ((designator: string) => void) | undefined;
}

/** The board itself; it is drawn anew only where something on it changed, not with every reading beside it. */
const Drawn = memo(function Drawn({ drawing, view, notes, choose }: DrawnProps) {
  const core = placed(view, centre(drawing.core.corners));
  // the side that is not seen is drawn first, so that nothing of it covers a chip that is
  const ordered = [...drawing.sites].sort(
    (site, other) => Number(site.side === view.side) - Number(other.side === view.side),
  );
  return (
    <>
      <Ground drawing={drawing} view={view} />
      <CoreLabel drawing={drawing} view={view} />
      {ordered.map((site) => (
        <Site
          key={site.designator}
          site={site}
          view={view}
          core={core}
          note={notes[site.designator]}
          choose={choose}
        />
      ))}
      {ordered.map((site) => {
        const note = notes[site.designator];
        return note && <SiteSigns key={site.designator} site={site} view={view} note={note} />;
      })}
    </>
  );
});

const EDGE_PLACE = {
  left: "left-1 top-1/2 -translate-y-1/2 [writing-mode:vertical-rl] rotate-180",
  right: "right-1 top-1/2 -translate-y-1/2 [writing-mode:vertical-rl]",
  up: "top-1 left-1/2 -translate-x-1/2",
  // in a narrow pane above the view's buttons, which would cover it
  down: "bottom-14 left-1/2 -translate-x-1/2 @2xl:bottom-1",
};

/** Where bracket and contacts lie, large at the edge of the pane. */
export function EdgeName({ edge, name }: { edge: keyof typeof EDGE_PLACE; name: string }) {
  return (
    <span
      data-edge={edge}
      className={`pointer-events-none absolute rounded-sm bg-sheet/90 px-2 py-0.5 text-lg font-bold tracking-widest ${EDGE_PLACE[edge]}`}
    >
      {name}
    </span>
  );
}

interface PlanProps {
  drawing: Drawing;
  orientation: Orientation;
  seen: Box;
  notes: Notes;
}

/** The whole board as it lies, with what the pane shows of it. */
const Plan = memo(function Plan({ drawing, orientation, seen, notes }: PlanProps) {
  const view = viewOf(drawing, orientation);
  const box = grown({ x: 0, y: 0, width: view.width_mm, height: view.height_mm }, 4);
  return (
    <svg
      viewBox={`${box.x} ${box.y} ${box.width} ${box.height}`}
      className="h-16 w-32 shrink-0"
      role="img"
      aria-label={t`Plan of the whole board`}
    >
      <Ground drawing={drawing} view={view} />
      {drawing.sites.map((site) => (
        <PlanSite
          key={site.designator}
          site={site}
          view={view}
          lit={notes[site.designator]?.pennant !== undefined}
        />
      ))}
      <rect {...seen} className="fill-none stroke-ink" strokeWidth={2} />
    </svg>
  );
});

function PlanSite({
  site,
  view,
  lit,
}: {
  site: Drawing["sites"][number];
  view: ReturnType<typeof viewOf>;
  lit: boolean;
}) {
  if (site.side !== view.side && !lit) return null;
  const corners = site.corners.map((corner) => placed(view, corner).join(","));
  return (
    <polygon
      points={corners.join(" ")}
      className={lit ? "fill-lit" : site.fitted ? "fill-chip" : "fill-none stroke-silk-soft"}
      strokeWidth={0.6}
    />
  );
}
