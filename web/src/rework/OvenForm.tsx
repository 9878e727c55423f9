import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { Cautions } from "../shared/Cautions";
import { NumberField, TextField } from "../shared/fields";
import { numberOf } from "../shared/numbers";
import type { Reworking } from "./useRework";

/** A reflow of the whole card: never advised, recorded as the heat that it was to every part. */
export function OvenForm({ reworking }: { reworking: Reworking }) {
  const [minutes, setMinutes] = useState("");
  const [note, setNote] = useState("");
  const many = numberOf(minutes);
  return (
    <form
      className="space-y-3"
      data-testid="oven"
      onSubmit={async (event) => {
        event.preventDefault();
        if (await reworking.enter({ do: "bake", minutes: many, note: note.trim() })) setNote("");
      }}
    >
      <p className="border-suspect border-l-4 pl-3 font-bold">
        <Trans>
          It heats every part of the card once more, those that were sound too, and rarely lasts. It is
          recorded as one cycle for every place, and the customer is told.
        </Trans>
      </p>
      <Cautions of={["fumes", "hot"]} />
      <div className="flex flex-wrap items-end gap-3">
        <NumberField label={t`minutes`} value={minutes} onChange={setMinutes} />
        <TextField label={t`note`} value={note} onChange={setNote} />
      </div>
      {reworking.problem && (
        <p role="alert" className="border-suspect border-l-4 pl-3">
          {reworking.problem.message}
        </p>
      )}
      <button type="submit" className="button border-next" disabled={Number.isNaN(many)}>
        <Trans>Done: the whole card was in an oven</Trans>
      </button>
    </form>
  );
}
