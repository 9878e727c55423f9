import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import type { Drawing } from "../api/client";
import type { BoardDocument, Edit } from "./document";
import { Text } from "./Fields";

interface WalkTableProps {
  document: BoardDocument;
  drawing: Drawing;
  apply: (edit: Edit) => Promise<BoardDocument | null>;
  choose: (designator: string) => void;
  channels: string[];
}

const STARTS = [
  ["mark", t`the marked corner`],
  ["mark+1", t`the next corner counterclockwise`],
  ["opposite-mark", t`the corner across`],
  ["mark-1", t`the next corner clockwise`],
] as const;

/** The walk: where it starts, which way it goes, and the channel of each place; the numbers run round at once. */
export function WalkTable({ document, drawing, apply, choose, channels }: WalkTableProps) {
  const { walk } = document;
  const front = drawing.sites.filter((site) => site.side === "front");
  const met = new Set(walk?.order ?? []);
  const left = channels.filter((channel) => !met.has(channel));
  if (front.length === 0) return null;
  return (
    <section aria-labelledby="walk-title">
      <h2 id="walk-title" className="text-lg font-bold">
        <Trans>Round the core</Trans>
      </h2>
      <div className="mt-1 flex flex-wrap items-end gap-3">
        <label className="block">
          <span className="block text-soft">
            <Trans>From</Trans>
          </span>
          <Select
            className="field"
            value={walk?.start ?? ""}
            onChange={(event) => void apply({ do: "walk", start: event.target.value })}
          >
            {!walk && <option value="">{t`not set`}</option>}
            {STARTS.map(([word, label]) => (
              <option key={word} value={word}>
                {label}
              </option>
            ))}
          </Select>
        </label>
        <label className="block">
          <span className="block text-soft">
            <Trans>Direction, seen from the front</Trans>
          </span>
          <Select
            className="field"
            value={walk?.direction ?? ""}
            onChange={(event) => void apply({ do: "walk", direction: event.target.value })}
          >
            {!walk && <option value="">{t`not set`}</option>}
            <option value="clockwise">{t`clockwise`}</option>
            <option value="counterclockwise">{t`counterclockwise`}</option>
          </Select>
        </label>
        {document.family && (
          <button type="button" className="button" onClick={() => void apply({ do: "propose" })}>
            <Trans>Propose the family’s order</Trans>
          </button>
        )}
      </div>
      {walk && (
        <ol className="mt-3 grid grid-cols-2 gap-2 lg:grid-cols-4" data-testid="walk">
          {front.map((site) => (
            <li key={site.designator} className="rounded border border-rule p-2">
              <button
                type="button"
                className="button-plain font-mono"
                onClick={() => choose(site.designator)}
              >
                {site.position ?? "–"} {site.designator}
              </button>
              <Text
                label={t`channel`}
                value={site.position === null ? "" : (walk.order[site.position - 1] ?? "")}
                onChange={(value) =>
                  void apply({ do: "channel", position: site.position, channel: value.toUpperCase() || null })
                }
                mono
              />
            </li>
          ))}
        </ol>
      )}
      {walk && (
        <p className="mt-2 text-soft">
          <Trans>
            An empty channel stays open; a proven repair fills it in.
            {left.length > 0 ? t` Of the family not placed: ${left.join(", ")}.` : ""}
          </Trans>
        </p>
      )}
    </section>
  );
}
