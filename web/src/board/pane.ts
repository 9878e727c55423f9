import { type PointerEvent, type RefObject, useEffect, useLayoutEffect, useRef, useState } from "react";
import { type Box, type Point, zoomed } from "./view";

export const STEP = 1.3;
const MOST_ZOOM = 12;
const STILL_PX = 4;
/** How far an arrow key moves, in shares of the pane. */
const STRIDE = 0.1;

export interface Pane {
  pane: RefObject<HTMLDivElement | null>;
  /** what the pane shows, in the drawing's millimetres */
  seen: Box;
  zoom: (factor: number, at?: Point) => void;
  /** moves what is seen by shares of the pane */
  move: (across: number, down: number) => void;
  back: () => void;
  grab: (event: PointerEvent) => void;
  pull: (event: PointerEvent) => void;
  /** where a click that moved nothing was, on the drawing; undefined after a drag */
  let: (event: PointerEvent) => Point | undefined;
  /** where an event is on the drawing */
  at: (event: { clientX: number; clientY: number }) => Point;
}

/** A pane that shows part of a drawing: fills its place, zooms with the wheel, moves by dragging. */
export function usePane(home: (aspect: number) => Box, whole: { width: number; height: number }): Pane {
  const pane = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 700, height: 560 });
  const aspect = size.width / size.height;
  const [moved, setMoved] = useState<{ home: typeof home; aspect: number; box: Box } | null>(null);
  const start = home(aspect);
  const seen = moved && moved.home === home && moved.aspect === aspect ? moved.box : start;
  const setSeen = (box: Box) => setMoved({ home, aspect, box });

  useLayoutEffect(() => {
    const element = pane.current;
    if (!element) return;
    const measure = () => {
      const { clientWidth: width, clientHeight: height } = element;
      if (height > 0) setSize({ width, height });
    };
    // before the first paint, so that the drawing never jumps to its size
    measure();
    const watch = new ResizeObserver(measure);
    watch.observe(element);
    return () => watch.disconnect();
  }, []);

  const zoom = (factor: number, at?: Point) => {
    const width = seen.width / factor;
    if (width > whole.width * 3 + whole.height * 3 || width < start.width / MOST_ZOOM) return;
    setSeen(zoomed(seen, factor, at));
  };
  const at = (event: { clientX: number; clientY: number }): Point => {
    const frame = pane.current?.getBoundingClientRect();
    if (!frame) return [seen.x, seen.y];
    return [
      seen.x + ((event.clientX - frame.left) / frame.width) * seen.width,
      seen.y + ((event.clientY - frame.top) / frame.height) * seen.height,
    ];
  };

  const latest = useRef({ zoom, at });
  latest.current = { zoom, at };
  useEffect(() => {
    const element = pane.current;
    if (!element) return;
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      latest.current.zoom(event.deltaY < 0 ? 1.15 : 1 / 1.15, latest.current.at(event));
    };
    element.addEventListener("wheel", wheel, { passive: false });
    return () => element.removeEventListener("wheel", wheel);
  }, []);

  const drag = useRef<{ x: number; y: number; box: Box } | null>(null);
  return {
    pane,
    seen,
    zoom,
    move: (across, down) =>
      setSeen({ ...seen, x: seen.x + across * seen.width, y: seen.y + down * seen.height }),
    back: () => setMoved(null),
    grab: (event) => {
      drag.current =
        event.button === 0 || event.button === 1 ? { x: event.clientX, y: event.clientY, box: seen } : null;
    },
    pull: (event) => {
      const from = drag.current;
      if (!from || event.buttons === 0) return;
      const across = ((event.clientX - from.x) / size.width) * from.box.width;
      const down = ((event.clientY - from.y) / size.height) * from.box.height;
      if (Math.abs(across) + Math.abs(down) > 0.5)
        setSeen({ ...from.box, x: from.box.x - across, y: from.box.y - down });
    },
    let: (event) => {
      const from = drag.current;
      drag.current = null;
      const still = from && Math.hypot(event.clientX - from.x, event.clientY - from.y) < STILL_PX;
      return still && event.button === 0 ? at(event) : undefined;
    },
    at,
  };
}

/** The keys that every pane knows. */
export function paneKeys({ zoom, move, back }: Pick<Pane, "zoom" | "move" | "back">) {
  return {
    "+": () => zoom(STEP),
    "=": () => zoom(STEP),
    "-": () => zoom(1 / STEP),
    "0": back,
    ArrowLeft: () => move(-STRIDE, 0),
    ArrowRight: () => move(STRIDE, 0),
    ArrowUp: () => move(0, -STRIDE),
    ArrowDown: () => move(0, STRIDE),
  };
}
