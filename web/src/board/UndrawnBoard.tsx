import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import type { ReactNode } from "react";
import type { BoardDetail, Ohms, Orientation } from "../api/client";
import { PhotoBoard } from "./PhotoBoard";
import type { Point } from "./view";

export type Photograph = BoardDetail["photographs"][number];

interface UndrawnBoardProps {
  model: BoardDetail;
  orientation: Orientation;
  setOrientation: (orientation: Orientation) => void;
  /** what was named on the photographs */
  points: Ohms["points"];
  chosen: string | null;
  /** takes a click, in pixels of the photograph that is seen */
  pick?: (photograph: Photograph, point: Point) => void;
  /** more over the photograph, in its pixels */
  over?: (photograph: Photograph) => ReactNode;
}

/** The photograph of the side that lies up, in the place of a board that nobody has drawn. */
function seenPhotograph(model: BoardDetail, orientation: Orientation): Photograph | undefined {
  return model.photographs.find((photograph) => photograph.side === orientation.side) ?? model.photographs[0];
}

/** Where a pixel of the other side's photograph lies on that of a side; null where nobody laid them together. */
function throughTo(model: BoardDetail, side: "front" | "back", [x, y]: Point): Point | null {
  const [a = 0, b = 0, c = 0, d = 0, e = 0, f = 0] =
    (side === "front" ? model.behind?.to_front : model.behind?.to_back) ?? [];
  return model.behind ? [a * x + c * y + e, b * x + d * y + f] : null;
}

/** A board that nobody has drawn: its photographs are the board, with what was named on them. */
export function UndrawnBoard({
  model,
  orientation,
  setOrientation,
  points,
  chosen,
  pick,
  over,
}: UndrawnBoardProps) {
  const photograph = seenPhotograph(model, orientation);
  if (!photograph)
    return (
      <p className="grid place-items-center bg-tray p-8 text-center">
        <Trans>
          This card has no photograph yet. Take one of each side at Look: they serve as its board.
        </Trans>
      </p>
    );
  const size = photograph.width_px / 60;
  return (
    <div className="relative min-h-0">
      <PhotoBoard
        picture={photograph}
        title={t`Photograph of the ${photograph.side} of ${model.name}`}
        {...(pick ? { pick: (point: Point) => pick(photograph, point) } : {})}
      >
        {over?.(photograph)}
        {points
          .filter((point) => point.picture === photograph.sha256)
          .map((point) => (
            <g
              key={point.name}
              transform={`translate(${point.x_px} ${point.y_px})`}
              pointerEvents="none"
              data-named={point.name}
            >
              {point.kind === "pad" || point.kind === "plug" ? (
                <circle
                  r={size}
                  className={`fill-none ${point.name === chosen ? "stroke-lit-next" : "stroke-silk"}`}
                  strokeWidth={size / 4}
                />
              ) : (
                <rect
                  x={-size}
                  y={-size * 0.7}
                  width={2 * size}
                  height={1.4 * size}
                  className={`fill-none ${point.name === chosen ? "stroke-lit-next" : "stroke-silk"}`}
                  strokeWidth={size / 4}
                />
              )}
              <text
                y={-size * 1.3}
                fontSize={size * 1.5}
                textAnchor="middle"
                className="fill-silk stroke-chip font-bold font-mono"
                strokeWidth={size / 10}
                paintOrder="stroke"
              >
                {point.name}
              </text>
            </g>
          ))}
        {points
          .filter((point) => point.picture !== null && point.side !== photograph.side)
          .map((point) => {
            const at = throughTo(model, photograph.side, [point.x_px ?? 0, point.y_px ?? 0]);
            if (!at) return null;
            return (
              <g
                key={`behind ${point.name}`}
                transform={`translate(${at.join(" ")})`}
                pointerEvents="none"
                opacity={0.7}
                data-behind={point.name}
              >
                <circle
                  r={size * 0.8}
                  className="fill-none stroke-silk"
                  strokeWidth={size / 5}
                  strokeDasharray={`${size / 2} ${size / 3}`}
                />
                <text
                  y={-size * 1.1}
                  fontSize={size * 1.2}
                  textAnchor="middle"
                  className="fill-silk stroke-chip font-mono"
                  strokeWidth={size / 12}
                  paintOrder="stroke"
                >
                  {t`${point.name} behind`}
                </text>
              </g>
            );
          })}
      </PhotoBoard>
      {model.photographs.length > 1 && (
        <button
          type="button"
          className="button absolute right-3 bottom-3 bg-sheet"
          onClick={() =>
            setOrientation({ ...orientation, side: photograph.side === "front" ? "back" : "front" })
          }
        >
          {photograph.side === "front" ? t`To the back` : t`To the front`}
        </button>
      )}
    </div>
  );
}
