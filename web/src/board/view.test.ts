import { expect, test } from "vitest";
import type { Drawing, View } from "../api/client";
import {
  boxOf,
  centre,
  grown,
  orientationWords,
  placed,
  points,
  shaped,
  unplaced,
  unturned,
  viewOf,
  zoomed,
} from "./view";

// SVG matrices a b c d e f of a board 232 by 104: y turned to go down, mirrored for the back, quarter turns.
const MATRICES: [string, number[]][] = [
  ["front", [1, 0, 0, -1, 0, 104]],
  ["front, a quarter turn", [0, 1, 1, 0, 0, 0]],
  ["back", [-1, 0, 0, -1, 232, 104]],
  ["back, three quarter turns", [0, 1, -1, 0, 104, 0]],
];
const PLACES = [
  [0, 0],
  [118, 56],
  [231.5, 0.25],
  [-3, 110],
];

function view(matrix: number[], more: Partial<View> = {}): View {
  return { side: "front", turns: 0, matrix, edges: { bracket: "left", contacts: "down" }, ...more } as View;
}

test.each(MATRICES)(
  "%s: a place goes to the drawing and comes back to the same millimetre",
  (_name, matrix) => {
    for (const place of PLACES) {
      const [x = 0, y = 0] = unplaced(view(matrix), placed(view(matrix), place));
      expect(x).toBeCloseTo(place[0] ?? 0, 9);
      expect(y).toBeCloseTo(place[1] ?? 0, 9);
    }
  },
);

test.each(MATRICES)("%s: a direction keeps its length and turns back", (_name, matrix) => {
  const [x, y] = unturned(view(matrix), [3, 4]);
  expect(Math.hypot(x, y)).toBeCloseTo(5, 9);
  const there = placed(view(matrix), [x, y]);
  const origin = placed(view(matrix), [0, 0]);
  expect([there[0] - origin[0], there[1] - origin[1]]).toEqual([3, 4]);
});

test("the front lies with y upwards, the back is its mirror image", () => {
  expect(placed(view([1, 0, 0, -1, 0, 104]), [10, 4])).toEqual([10, 100]);
  expect(placed(view([-1, 0, 0, -1, 232, 104]), [10, 4])).toEqual([222, 100]);
});

test("the view of an orientation is the one of its side and turns, and one without a view is an error", () => {
  const back = view([-1, 0, 0, -1, 232, 104], { side: "back", turns: 3 });
  const drawing = { views: [view([1, 0, 0, -1, 0, 104]), back] } as Drawing;
  expect(viewOf(drawing, { side: "back", turns: 3 })).toBe(back);
  expect(() => viewOf(drawing, { side: "back", turns: 1 })).toThrow("no view back 1");
});

test("boxes: round polygons, grown on every side, widened to the pane's shape about their middle", () => {
  const box = boxOf(view([1, 0, 0, -1, 0, 104]), [
    [
      [10, 10],
      [20, 30],
    ],
    [[5, 12]],
  ]);
  expect(box).toEqual({ x: 5, y: 74, width: 15, height: 20 });
  expect(grown(box, 2)).toEqual({ x: 3, y: 72, width: 19, height: 24 });
  expect(shaped(box, 2)).toEqual({ x: -7.5, y: 74, width: 40, height: 20 });
  expect(shaped({ x: 0, y: 0, width: 40, height: 10 }, 2)).toEqual({ x: 0, y: -5, width: 40, height: 20 });
});

test("zooming keeps the place under the pointer where it is, else the middle", () => {
  const box = { x: 0, y: 0, width: 100, height: 50 };
  expect(zoomed(box, 2)).toEqual({ x: 25, y: 12.5, width: 50, height: 25 });
  const near = zoomed(box, 2, [10, 40]);
  expect((10 - near.x) / near.width).toBeCloseTo(0.1, 9);
  expect((40 - near.y) / near.height).toBeCloseTo(0.8, 9);
  expect(zoomed(zoomed(box, 2, [10, 40]), 0.5, [10, 40])).toEqual(box);
});

test("corners as SVG wants them, their middle, and the orientation in words", () => {
  const square = [
    [0, 0],
    [4, 0],
    [4, 2],
    [0, 2],
  ];
  expect(points(square)).toBe("0,0 4,0 4,2 0,2");
  expect(centre(square)).toEqual([2, 1]);
  expect(orientationWords(view([], { side: "back", edges: { bracket: "right", contacts: "up" } }))).toBe(
    "Back side, bracket right, contacts up",
  );
  expect(orientationWords(view([], { edges: { bracket: "left", contacts: null } }))).toBe(
    "Front side, bracket left",
  );
});
