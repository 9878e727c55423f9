import type { BallMapData } from "../api/client";

export type Ball = BallMapData["balls"][number];

/** What may be walked: the data lines in their order, or the other classes as they lie. */
export const WALKS = ["data lines", "other signals", "supply"] as const;
export type Walk = (typeof WALKS)[number];

export function inWalk(ball: Ball, walk: Walk): boolean {
  if (walk === "data lines") return ball.line !== null;
  if (walk === "other signals") return ball.ball_class === "signal" && ball.line === null;
  return ball.ball_class === "supply";
}

/** The balls of a walk in their order; the data lines come in the package's own. */
export function walked(map: BallMapData, walk: Walk): string[] {
  return walk === "data lines"
    ? map.lines
    : map.balls.filter((ball) => inWalk(ball, walk)).map((ball) => ball.ball);
}

/** How a ball is drawn by its class. */
export const FILL: Record<Ball["ball_class"], string> = {
  signal: "fill-sheet stroke-ink",
  supply: "fill-ink stroke-ink",
  ground: "fill-edge stroke-edge",
  unused: "fill-none stroke-rule",
};
