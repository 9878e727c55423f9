import { type ReactNode, useCallback } from "react";
import { useKeys } from "../shared/keys";
import { paneKeys, usePane } from "./pane";
import { grown, type Point, shaped } from "./view";

interface PhotoBoardProps {
  picture: { sha256: string; width_px: number; height_px: number };
  title: string;
  /** what lies over the picture, in its pixels */
  children?: ReactNode;
  /** takes a click on the picture, in its pixels */
  pick?: (point: Point) => void;
  /** one of several panes: keys belong to none of them */
  one?: boolean;
}

/** A photograph in the board's place: it zooms and moves like the drawing. */
export function PhotoBoard({ picture, title, children, pick, one = false }: PhotoBoardProps) {
  const { width_px: width, height_px: height } = picture;
  const home = useCallback(
    (aspect: number) => shaped(grown({ x: 0, y: 0, width, height }, width * 0.02), aspect),
    [width, height],
  );
  const { pane, seen, zoom, move, back, grab, pull, let: letGo } = usePane(home, { width, height });
  useKeys(paneKeys({ zoom, move, back }), !one);
  return (
    <div
      ref={pane}
      className={`relative h-full min-h-0 touch-none overflow-hidden bg-tray ${pick ? "cursor-crosshair" : ""}`}
      onPointerDown={grab}
      onPointerMove={pull}
      onPointerUp={(event) => {
        const point = letGo(event);
        const [x, y] = point ?? [-1, -1];
        if (point && pick && x >= 0 && y >= 0 && x <= width && y <= height) pick(point);
      }}
    >
      <svg
        viewBox={`${seen.x} ${seen.y} ${seen.width} ${seen.height}`}
        className="absolute inset-0 size-full select-none"
        role="img"
        aria-label={title}
      >
        <image href={`/api/v1/pictures/${picture.sha256}`} width={width} height={height} />
        {children}
      </svg>
    </div>
  );
}
