import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import type { Orientation } from "../api/client";
import { STEP } from "./pane";
import type { viewOf } from "./view";

interface OrientationButtonsProps {
  view: ReturnType<typeof viewOf>;
  setOrientation: ((orientation: Orientation) => void) | undefined;
  zoom: (factor: number) => void;
}

const SMALL = "min-h-9 rounded-md border-2 border-edge bg-sheet px-2 text-[15px] font-bold";

/** Flip, turn, nearer, farther: the same under every drawing of a board. */
export function OrientationButtons({ view, setOrientation, zoom }: OrientationButtonsProps) {
  return (
    <div className="ml-auto flex flex-wrap justify-end gap-1.5">
      {setOrientation && (
        <>
          <button type="button" className={SMALL} onClick={() => setOrientation(view.flipped)}>
            <Trans>
              Flip <kbd className="key">f</kbd>
            </Trans>
          </button>
          <button type="button" className={SMALL} onClick={() => setOrientation(view.turned)}>
            <Trans>
              Turn <kbd className="key">r</kbd>
            </Trans>
          </button>
        </>
      )}
      <button type="button" className={SMALL} aria-label={t`Nearer`} onClick={() => zoom(STEP)}>
        <kbd className="key">+</kbd>
      </button>
      <button type="button" className={SMALL} aria-label={t`Farther`} onClick={() => zoom(1 / STEP)}>
        <kbd className="key">-</kbd>
      </button>
    </div>
  );
}
