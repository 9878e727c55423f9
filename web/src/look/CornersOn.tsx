import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { PhotoBoard } from "../board/PhotoBoard";
import type { Point } from "../board/view";
import { useKeys } from "../shared/keys";

interface CornersOnProps {
  picture: { sha256: string; width_px: number; height_px: number };
  title: string;
  /** what becomes of the picture */
  label: string;
  /** what the button does with the corners */
  does: string;
  keep: (corners: number[][]) => Promise<unknown>;
  close: () => void;
}

const CORNERS = [
  t`Click the board’s upper left corner`,
  t`Click the board’s upper right corner`,
  t`Click the board’s lower right corner`,
  t`Click the board’s lower left corner`,
];

/** The board's four corners clicked on a picture, clockwise from the upper left; Backspace takes the last one back. */
export function CornersOn({ picture, title, label, does, keep, close }: CornersOnProps) {
  const [corners, setCorners] = useState<Point[]>([]);
  const [busy, setBusy] = useState(false);
  const whole = corners.length === CORNERS.length;
  useKeys({ Escape: close, Backspace: () => setCorners(corners.slice(0, -1)) });
  const size = picture.width_px / 70;
  const send = async () => {
    setBusy(true);
    await keep(corners.map(([x, y]) => [x, y]));
    setBusy(false);
  };
  return (
    <section aria-label={does} className="flex h-full min-h-0 flex-col">
      <div className="relative min-h-0 flex-1">
        <PhotoBoard
          picture={picture}
          title={title}
          one
          pick={(point) => setCorners(whole ? [point] : [...corners, point])}
        >
          <g pointerEvents="none">
            <polygon
              points={corners.map((corner) => corner.join(",")).join(" ")}
              className="fill-lit/20 stroke-lit"
              strokeWidth={size / 6}
            />
            {corners.map(([x, y], number) => (
              <g key={`${x} ${y}`} transform={`translate(${x} ${y})`}>
                <circle r={size / 2} className="fill-none stroke-lit" strokeWidth={size / 6} />
                <text x={size} fontSize={size * 1.6} className="fill-lit font-mono font-bold">
                  {number + 1}
                </text>
              </g>
            ))}
          </g>
        </PhotoBoard>
        <span className="pointer-events-none absolute top-2 left-2 rounded bg-sheet/90 px-2 py-0.5 font-bold">
          {whole ? t`Four corners` : CORNERS[corners.length]}
        </span>
      </div>
      <footer className="flex flex-wrap items-center gap-3 bg-sheet px-4 py-2">
        <p className="min-w-0 flex-1">{label}</p>
        <button
          type="button"
          className={`button ${whole ? "border-next" : ""}`}
          disabled={!whole || busy}
          onClick={() => void send()}
        >
          {busy ? t`Working …` : does}
        </button>
        <button type="button" className="button" onClick={close}>
          <Trans>
            Back to the board <kbd className="key">Esc</kbd>
          </Trans>
        </button>
      </footer>
    </section>
  );
}
