import { useCallback } from "react";
import { useKeys } from "../shared/keys";
import { paneKeys, usePane } from "./pane";
import { grown, shaped } from "./view";

interface PhotoBoardProps {
  picture: { sha256: string; width_px: number; height_px: number };
  title: string;
}

/** A photograph in the board's place, for a model that nobody has drawn yet: it zooms and moves like the drawing. */
export function PhotoBoard({ picture, title }: PhotoBoardProps) {
  const { width_px: width, height_px: height } = picture;
  const home = useCallback(
    (aspect: number) => shaped(grown({ x: 0, y: 0, width, height }, width * 0.02), aspect),
    [width, height],
  );
  const { pane, seen, zoom, move, back, grab, pull } = usePane(home, { width, height });
  useKeys(paneKeys({ zoom, move, back }));
  return (
    <div
      ref={pane}
      className="relative h-full min-h-0 overflow-hidden bg-tray"
      onPointerDown={grab}
      onPointerMove={pull}
    >
      <svg
        viewBox={`${seen.x} ${seen.y} ${seen.width} ${seen.height}`}
        className="absolute inset-0 size-full select-none"
        role="img"
        aria-label={title}
      >
        <image href={`/api/v1/pictures/${picture.sha256}`} width={width} height={height} />
      </svg>
    </div>
  );
}
