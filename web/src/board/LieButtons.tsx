import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import type { Lie } from "../api/client";
import { STEP } from "./pane";
import type { viewOf } from "./view";

interface LieButtonsProps {
  view: ReturnType<typeof viewOf>;
  setLie: ((lie: Lie) => void) | undefined;
  zoom: (factor: number) => void;
}

const SMALL = "min-h-9 rounded-md border-2 border-edge bg-sheet px-2 text-[15px] font-bold";

/** Flip, turn, nearer, farther: the same under every drawing of a board. */
export function LieButtons({ view, setLie, zoom }: LieButtonsProps) {
  return (
    <div className="ml-auto flex flex-wrap justify-end gap-1.5">
      {setLie && (
        <>
          <button type="button" className={SMALL} onClick={() => setLie(view.flipped)}>
            <Trans>
              Flip <kbd className="key">f</kbd>
            </Trans>
          </button>
          <button type="button" className={SMALL} onClick={() => setLie(view.turned)}>
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
