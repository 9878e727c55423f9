import { t } from "@lingui/core/macro";
import type { Drawing, Orientation, View } from "../api/client";

export type Point = readonly [number, number];
export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** The view of an orientation. The geometry is the core's; here its matrices are only applied. */
export function viewOf(drawing: Drawing, orientation: Orientation): View {
  const view = drawing.views.find(
    (entry) => entry.side === orientation.side && entry.turns === orientation.turns,
  );
  if (!view) throw new Error(t`no view ${orientation.side} ${orientation.turns}`);
  return view;
}

export function placed(view: Pick<View, "matrix">, point: readonly number[]): Point {
  const [a = 1, b = 0, c = 0, d = 1, e = 0, f = 0] = view.matrix;
  const [x = 0, y = 0] = point;
  return [a * x + c * y + e, b * x + d * y + f];
}

/** The model's millimetres of a place on the drawing: the view's matrix backwards. */
export function unplaced(view: View, point: readonly number[]): Point {
  const [dx, dy] = [(point[0] ?? 0) - (view.matrix[4] ?? 0), (point[1] ?? 0) - (view.matrix[5] ?? 0)];
  return unturned(view, [dx, dy]);
}

/** The model's direction of a direction on the drawing. */
export function unturned(view: View, by: readonly number[]): Point {
  const [a = 1, b = 0, c = 0, d = 1] = view.matrix;
  const [x = 0, y = 0] = by;
  const whole = a * d - b * c;
  return [(d * x - c * y) / whole, (a * y - b * x) / whole];
}

export function centre(corners: readonly (readonly number[])[]): Point {
  const sum = corners.reduce<Point>(([x, y], corner) => [x + (corner[0] ?? 0), y + (corner[1] ?? 0)], [0, 0]);
  return [sum[0] / corners.length, sum[1] / corners.length];
}

export function points(corners: readonly (readonly number[])[]): string {
  return corners.map((corner) => corner.join(",")).join(" ");
}

/** The box round some polygons of the model, as they lie in a view. */
export function boxOf(view: View, polygons: readonly (readonly (readonly number[])[])[]): Box {
  const all = polygons.flat().map((corner) => placed(view, corner));
  const xs = all.map(([x]) => x);
  const ys = all.map(([, y]) => y);
  const x = Math.min(...xs);
  const y = Math.min(...ys);
  return { x, y, width: Math.max(...xs) - x, height: Math.max(...ys) - y };
}

export function grown(box: Box, by: number): Box {
  return { x: box.x - by, y: box.y - by, width: box.width + 2 * by, height: box.height + 2 * by };
}

/** The same box widened to the shape of its pane, so that the pane is filled. */
export function shaped(box: Box, aspect: number): Box {
  if (box.width / box.height < aspect) {
    const width = box.height * aspect;
    return { ...box, x: box.x - (width - box.width) / 2, width };
  }
  const height = box.width / aspect;
  return { ...box, y: box.y - (height - box.height) / 2, height };
}

export function zoomed(box: Box, factor: number, at?: Point): Box {
  const [x, y] = at ?? [box.x + box.width / 2, box.y + box.height / 2];
  return {
    x: x - (x - box.x) / factor,
    y: y - (y - box.y) / factor,
    width: box.width / factor,
    height: box.height / factor,
  };
}

const EDGE_WORDS = { left: "left", right: "right", up: "up", down: "down" } as const;

/** "Front side, bracket left, contacts down" */
export function orientationWords(view: View): string {
  const side = view.side === "front" ? t`Front side` : t`Back side`;
  const contacts = view.edges.contacts ? t`, contacts ${EDGE_WORDS[view.edges.contacts]}` : "";
  return t`${side}, bracket ${EDGE_WORDS[view.edges.bracket]}${contacts}`;
}
