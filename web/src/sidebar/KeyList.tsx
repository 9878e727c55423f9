import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { TextField } from "../shared/fields";
import { KEYS } from "./keyNames";

export function KeyList({ close }: { close: () => void }) {
  const [sought, setSought] = useState("");
  const shown = KEYS.filter(([key, does]) =>
    `${key} ${does}`.toLowerCase().includes(sought.trim().toLowerCase()),
  );
  return (
    <Dialog open onClose={close} className="relative z-30 focus:outline-none">
      <div className="fixed inset-0 grid place-items-center bg-ink/30 p-6">
        <DialogPanel className="max-h-full w-full max-w-4xl overflow-y-auto rounded-lg border border-edge bg-sheet p-6">
          <div className="flex flex-wrap items-end gap-4">
            <DialogTitle className="text-xl font-bold">
              <Trans>Keys</Trans>
            </DialogTitle>
            <TextField label={t`find a key`} value={sought} onChange={setSought} wide="w-56" />
            <button type="button" className="button ml-auto" onClick={close}>
              <Trans>Close</Trans>
            </button>
          </div>
          <p className="mt-1 mb-3 text-soft">
            <Trans>Letters act when no field has the focus; with Alt they act everywhere.</Trans>
          </p>
          <dl className="gap-x-8 sm:columns-2">
            {shown.map(([key, does]) => (
              <div key={`${key} ${does}`} className="grid grid-cols-[6.5rem_1fr] break-inside-avoid py-1">
                <dt>
                  <kbd className="key">{key}</kbd>
                </dt>
                <dd>{does}</dd>
              </div>
            ))}
          </dl>
          {shown.length === 0 && (
            <p>
              <Trans>No key does that.</Trans>
            </p>
          )}
        </DialogPanel>
      </div>
    </Dialog>
  );
}
