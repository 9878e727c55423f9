import type { Lie } from "../api/client";
import { STEP } from "./pane";
import type { viewOf } from "./view";

interface LieButtonsProps {
  view: ReturnType<typeof viewOf>;
  setLie: ((lie: Lie) => void) | undefined;
  zoom: (factor: number) => void;
}

/** Flip, turn, nearer, farther: the same under every drawing of a board. */
export function LieButtons({ view, setLie, zoom }: LieButtonsProps) {
  return (
    <div className="ml-auto flex flex-wrap justify-end gap-2">
      {setLie && (
        <>
          <button type="button" className="button" onClick={() => setLie(view.flipped)}>
            Flip <kbd className="key">f</kbd>
          </button>
          <button type="button" className="button" onClick={() => setLie(view.turned)}>
            Turn <kbd className="key">r</kbd>
          </button>
        </>
      )}
      <button type="button" className="button" aria-label="Nearer" onClick={() => zoom(STEP)}>
        <kbd className="key">+</kbd>
      </button>
      <button type="button" className="button" aria-label="Farther" onClick={() => zoom(1 / STEP)}>
        <kbd className="key">-</kbd>
      </button>
    </div>
  );
}
