import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type FormEvent, useState } from "react";
import type { JobDetail, Look } from "../api/client";
import { TextField } from "../shared/fields";
import type { useLook } from "./useLook";

const NOTHING = "";
const SIDES = new Set(["front", "back", "all"]);

/** A part or slot contact looked at closely, by its name: without a mouse, and where the advice asks for one. */
export function Closer({
  job,
  look,
  looking,
}: {
  job: JobDetail;
  look: Look;
  looking: ReturnType<typeof useLook>;
}) {
  const advised = job.mind.next.find((step) => step.do === "look" && !SIDES.has(step.target))?.target ?? "";
  const [typed, setTyped] = useState<string | null>(null);
  const [kind, setKind] = useState(NOTHING);
  const part = (typed ?? advised).trim();
  const enter = async (event: FormEvent) => {
    event.preventDefault();
    const kept = kind === NOTHING ? await looking.region(part, true) : await looking.seenAt(kind, part);
    if (!kept) return;
    setTyped(null);
    setKind(NOTHING);
  };
  return (
    <form onSubmit={enter} className="flex flex-wrap items-end gap-3" aria-label={t`A closer look`}>
      <TextField
        label={t`a closer look at the part or contact`}
        value={typed ?? advised}
        onChange={setTyped}
        mono
        wide="w-36"
        autoCapitalize="characters"
      />
      <label>
        <span className="block text-soft">
          <Trans>seen there</Trans>
        </span>
        <Select className="field" value={kind} onChange={(event) => setKind(event.target.value)}>
          <option value={NOTHING}>{t`nothing wrong`}</option>
          {look.kinds.map((entry) => (
            <option key={entry.kind} value={entry.kind}>
              {entry.words}
            </option>
          ))}
        </Select>
      </label>
      <button type="submit" className="button" disabled={!part || looking.busy}>
        <Trans>Enter it</Trans>
      </button>
    </form>
  );
}
