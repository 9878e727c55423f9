import { t } from "@lingui/core/macro";
import { day } from "../shared/words";
import type { Drawn } from "./useStock";

const LEFT = 128;
const WIDE = 520;
const LETTER = 8.6;
const STEP = 18;

/** Parts through cards, from left to right in time: a lane a card, a line a part, a dot where it came to a place. */
export function Genealogy({ drawn, title }: { drawn: Drawn; title: string }) {
  if (drawn.columns === 0) return null;
  const labels = [...new Set(drawn.stretches.map((stretch) => stretch.label))];
  const wide = Math.min(190, Math.max(84, WIDE / drawn.columns));
  const high = Math.max(72, labels.length * STEP + 40);
  const x = (column: number) => LEFT + 16 + column * wide;
  const y = (lane: number, label: string) => lane * high + 36 + labels.indexOf(label) * STEP;
  const width = x(drawn.columns) + 10;
  const by = (label: string) =>
    drawn.stretches.filter((stretch) => stretch.label === label).sort((a, b) => a.x1 - b.x1);
  return (
    <section
      aria-label={t`${title}, to be scrolled`}
      className="overflow-x-auto"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, also by the keyboard
      tabIndex={0}
    >
      <svg
        role="img"
        aria-label={title}
        width={width}
        height={drawn.lanes.length * high + 8}
        className="max-w-none"
        data-testid="genealogy"
      >
        {drawn.lanes.map((lane) => (
          <g key={lane.name}>
            <rect
              x={0}
              y={lane.y * high + 4}
              width={width}
              height={high - 8}
              rx={6}
              className={lane.kind === "card" ? "fill-sheet stroke-edge" : "fill-tray stroke-rule"}
              strokeDasharray={lane.kind === "card" ? undefined : "6 5"}
            />
            <text x={10} y={lane.y * high + 41} className="fill-ink font-bold" fontSize={15}>
              {lane.kind === "card" ? lane.name : t`off any card`}
            </text>
          </g>
        ))}
        {labels.map((label) => {
          const mine = by(label);
          const path = mine
            .flatMap((entry) => [
              [x(entry.x1), y(entry.lane, label)],
              [x(entry.x2) - (entry.x2 === drawn.columns ? 0 : 24), y(entry.lane, label)],
            ])
            .map(([px, py], at) => `${at ? "L" : "M"}${px} ${py}`)
            .join(" ");
          return (
            <g key={label}>
              <path d={path} className="fill-none stroke-ink" strokeWidth={3} strokeLinejoin="round" />
              {mine.map((entry, at) => (
                <g key={`${entry.x1} ${entry.lane}`}>
                  <circle cx={x(entry.x1)} cy={y(entry.lane, label)} r={6} className="fill-ink" />
                  <text
                    x={x(entry.x1) + 10}
                    y={y(entry.lane, label) - 6}
                    className="fill-ink font-mono"
                    fontSize={14}
                  >
                    {fitting(
                      at === 0 && labels.length > 1 ? label : siteOf(entry.words),
                      (entry.x2 - entry.x1) * wide - 24,
                    )}
                  </text>
                  {entry.at && labels.length === 1 && (
                    <text
                      x={x(entry.x1) + 10}
                      y={y(entry.lane, label) + 18}
                      className="fill-soft"
                      fontSize={13}
                    >
                      {day(entry.at)}
                    </text>
                  )}
                </g>
              ))}
            </g>
          );
        })}
      </svg>
    </section>
  );
}

/** What of a text fits; all of it stands among the steps below. */
function fitting(text: string, width: number): string {
  const letters = Math.floor(width / LETTER);
  return text.length <= letters ? text : `${text.slice(0, Math.max(1, letters - 1))}…`;
}

/** "on U14 of TL8-1" in a lane that says the card already. */
function siteOf(words: string): string {
  return /^on (\S+) of /.exec(words)?.[1] ?? words.replace(/^in |, not put away$/g, "");
}
