import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";

const KEYS = [
  ["/", "scan, or search"],
  ["g j", "the job: where it was left"],
  ["g a", "go to Arrive"],
  ["g l", "go to Look"],
  ["g o", "go to Ohms"],
  ["g v", "go to Volts"],
  ["g m", "go to Memory"],
  ["g w", "go to Rework"],
  ["g p", "go to Prove"],
  ["g t", "go to Return"],
  ["f", "flip the board like a page"],
  ["r", "turn it a quarter"],
  ["+  -", "nearer, farther"],
  ["0", "as it was at first"],
  ["← ↑ → ↓", "move over the board"],
  ["c", "photograph"],
  ["n", "note"],
  ["m", "set the mark"],
  ["d", "drop a report: choose a file"],
  ["Enter", "at Look: nothing here, on to the next region"],
  ["Enter", "at Ohms: store the reading, on to the next point; a foot switch types it"],
  ["Esc", "at Ohms: back to what the meter shows"],
  ["b", "blink an overlay"],
  ["e", "enter a photographed table"],
  ["?", "these keys"],
] as const;

export function KeyList({ close }: { close: () => void }) {
  return (
    <Dialog open onClose={close} className="relative z-30 focus:outline-none">
      <div className="fixed inset-0 grid place-items-center bg-ink/30 p-6">
        <DialogPanel className="w-full max-w-md rounded-lg border border-edge bg-sheet p-6">
          <DialogTitle className="text-xl font-bold">Keys</DialogTitle>
          <p className="mb-4 text-soft">
            Letters act when no field has the focus; with Alt they act everywhere.
          </p>
          <dl className="grid grid-cols-[7rem_1fr] gap-y-2">
            {KEYS.map(([key, does]) => (
              <div key={`${key} ${does}`} className="contents">
                <dt>
                  <kbd className="key">{key}</kbd>
                </dt>
                <dd>{does}</dd>
              </div>
            ))}
          </dl>
          <button type="button" className="button mt-6" onClick={close}>
            Close
          </button>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
