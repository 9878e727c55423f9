import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type FormEvent, useEffect, useRef, useState } from "react";
import { api, newId } from "../api/client";
import type { Step } from "../job/StepLine";
import { keyOf } from "../queries/keys";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";
import { useKeys } from "../shared/keys";

interface QuickNoteProps {
  number: number;
  step: Step | null;
  close: () => void;
}

/** A note from wherever one works, at the step at hand. */
export function QuickNote({ number, step, close }: QuickNoteProps) {
  const [text, setText] = useState("");
  const { problem, keep } = useKeeping([keyOf("timeline", number), keyOf("resume", number)], close);
  const field = useRef<HTMLTextAreaElement>(null);
  useEffect(() => field.current?.focus(), []);
  useKeys({ Escape: close });
  const write = async (event: FormEvent) => {
    event.preventDefault();
    const body = { id: newId(), text: text.trim(), step: (step ?? "").toLowerCase() as "look" };
    await keep(() => api.POST("/api/v1/jobs/{number}/timeline", { params: { path: { number } }, body }));
  };
  return (
    <form onSubmit={write} className="rounded-md border-2 border-ink bg-tray p-3" data-testid="quick-note">
      <label className="block">
        <span className="block font-bold">
          <Trans>Note{step ? t` at ${step}` : ""}</Trans>
        </span>
        <textarea
          ref={field}
          className="field w-full"
          rows={3}
          maxLength={2000}
          value={text}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => event.key === "Escape" && close()}
        />
      </label>
      <FormError problem={problem} />
      <p className="mt-1 flex gap-2">
        <button type="submit" className="button" disabled={!text.trim()}>
          <Trans>Note it</Trans>
        </button>
        <button type="button" className="button" onClick={close}>
          <Trans>
            Close <kbd className="key">Esc</kbd>
          </Trans>
        </button>
      </p>
    </form>
  );
}
