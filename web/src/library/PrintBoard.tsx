import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import type { Orientation } from "../api/client";

const PAPERS = [
  ["fit", t`one page as large as the board`],
  ["a4", t`A4, tiled where it must`],
  ["a3", t`A3, tiled where it must`],
  ["letter", t`Letter, tiled where it must`],
] as const;
const KEPT = "uvrix-paper";

interface PrintProps {
  slug: string;
  orientation: Orientation;
  mark?: string;
  title?: string;
}

/** The board on paper at 1:1, as it lies on the screen, the mark flagged. */
export function PrintBoard({ slug, orientation, mark, title }: PrintProps) {
  const [paper, setPaper] = useState(localStorage.getItem(KEPT) ?? "fit");
  const asked = new URLSearchParams({ side: orientation.side, turns: String(orientation.turns), paper });
  if (mark) asked.set("mark", mark);
  if (title) asked.set("title", title);
  return (
    <p className="flex flex-wrap items-center gap-3">
      <label className="flex items-center gap-2">
        <Trans>Print at 1:1 on</Trans>
        <Select
          className="field"
          value={paper}
          onChange={(event) => {
            setPaper(event.target.value);
            localStorage.setItem(KEPT, event.target.value);
          }}
        >
          {PAPERS.map(([word, label]) => (
            <option key={word} value={word}>
              {label}
            </option>
          ))}
        </Select>
      </label>
      <a
        className="button grid place-items-center"
        href={`/api/v1/board-models/${slug}/print?${asked}`}
        target="_blank"
        rel="noreferrer"
      >
        <Trans>Print{mark ? t`, ${mark} marked` : ""}</Trans>
      </a>
    </p>
  );
}
