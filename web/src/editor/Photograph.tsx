import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import type { Problem } from "../api/client";
import { sendPicture } from "../api/upload";
import { ChooseFile, PHOTOGRAPHS } from "../shared/ChooseFile";
import type { BoardDocument, Edit } from "./document";

interface PhotographProps {
  side: "front" | "back";
  apply: (edit: Edit) => Promise<BoardDocument | null>;
  done: () => void;
  say: (problem: Problem | null) => void;
}

/** Where a photograph of the side that is seen comes in. */
export function PhotographFile({ side, apply, done, say }: PhotographProps) {
  const [sent, setSent] = useState<number | null>(null);
  const take = async (file: File | undefined) => {
    if (!file) return;
    say(null);
    setSent(0);
    try {
      const picture = await sendPicture(file, setSent);
      const { sha256, width_px, height_px } = picture;
      if (await apply({ do: "photograph", side, sha256, width_px, height_px })) done();
    } catch (error) {
      say(error as Problem);
    }
    setSent(null);
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: dropping is a second way; the file field is the first
    <div
      className="mt-2 rounded-lg border-2 border-dashed border-edge p-4"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        void take(event.dataTransfer.files[0]);
      }}
    >
      <p className="mb-1 font-semibold">
        <Trans>
          Photograph of the {side}, bracket to the {side === "front" ? t`left` : t`right`}
        </Trans>
      </p>
      <ChooseFile take={(files) => void take(files[0])} accept={PHOTOGRAPHS} testid="photograph">
        <Trans>Choose or drop a photograph</Trans>
      </ChooseFile>
      {sent !== null && (
        <p role="status">
          <Trans>Sending, {Math.round(sent * 100)} %</Trans>
        </p>
      )}
    </div>
  );
}

interface Scale {
  by: string;
  contacts: string;
  mm: string;
}

/** What the two clicked points are. */
export function ScaleForm({
  scale,
  change,
  ready,
  done,
}: {
  scale: Scale;
  change: (scale: Scale) => void;
  ready: boolean;
  done: () => void;
}) {
  return (
    <div className="mt-2 flex flex-wrap items-end gap-3">
      <label className="block">
        <span className="block text-soft">
          <Trans>The two clicks are</Trans>
        </span>
        <Select
          className="field"
          value={scale.by}
          onChange={(event) => change({ ...scale, by: event.target.value })}
        >
          <option value="contacts">{t`first and last of so many slot contacts`}</option>
          <option value="mm">{t`so many millimetres apart`}</option>
        </Select>
      </label>
      <label className="block w-28">
        <span className="block text-soft">{scale.by === "contacts" ? t`contacts` : t`mm`}</span>
        <input
          className="field w-full font-mono"
          inputMode="decimal"
          value={scale.by === "contacts" ? scale.contacts : scale.mm}
          onChange={(event) =>
            change({ ...scale, [scale.by === "contacts" ? "contacts" : "mm"]: event.target.value })
          }
          onKeyDown={(event) => event.key === "Enter" && ready && done()}
        />
      </label>
      <button type="button" className="button" disabled={!ready} onClick={done}>
        <Trans>
          Set the scale <kbd className="key">Enter</kbd>
        </Trans>
      </button>
    </div>
  );
}
