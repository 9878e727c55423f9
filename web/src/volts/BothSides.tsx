import { t } from "@lingui/core/macro";
import type { Drawing } from "../api/client";
import { Board, NO_NOTES } from "../board/Board";
import { placed } from "../board/view";
import { type ConverterPage, ownParts } from "./ConverterTab";

interface BothSidesProps {
  drawing: Drawing;
  turns: number;
  page: ConverterPage;
  label: string;
}

const TEXT_MM = 6.5;

interface Lit {
  name: string;
  side: string;
  at: readonly [number, number];
  main: boolean;
}

/** Both sides of the board beside each other, with all that a converter hangs on lit on the side where it is. */
export function BothSides({ drawing, turns, page, label }: BothSidesProps) {
  const lit = spots(page);
  return (
    <div className="grid min-h-0 grid-rows-2" data-testid="both-sides">
      {(["front", "back"] as const).map((side) => (
        <div key={side} className="relative min-h-0 border-rule border-b">
          <Board
            drawing={drawing}
            orientation={{ side, turns }}
            setOrientation={undefined}
            notes={NO_NOTES}
            fit="board"
            plain
            title={t`${side} of ${label}`}
            over={(view) => (
              <g data-testid={`lit-${side}`}>
                {spread(
                  lit
                    .filter((entry) => entry.side === side)
                    .map((entry) => ({ ...entry, spot: placed(view, entry.at) })),
                ).map((entry) => (
                  <g
                    key={entry.name}
                    transform={`translate(${entry.spot[0]} ${entry.spot[1]})`}
                    data-lit={entry.name}
                  >
                    <circle
                      r={entry.main ? 5 : 3}
                      className="fill-chip/60 stroke-silk"
                      strokeWidth={entry.main ? 1.4 : 0.8}
                    />
                    {entry.up > TEXT_MM && (
                      <line y1={-3} y2={-entry.up + 1} className="stroke-silk" strokeWidth={0.5} />
                    )}
                    <text
                      y={-entry.up}
                      fontSize={TEXT_MM}
                      textAnchor="middle"
                      className="fill-silk font-bold font-mono"
                    >
                      {entry.name}
                    </text>
                  </g>
                ))}
              </g>
            )}
          />
          <strong className="absolute top-1 left-2 rounded bg-sheet px-2">{side}</strong>
        </div>
      ))}
    </div>
  );
}

/** Every point and part of the page once; the converter's own coils and chips large. */
function spots(page: ConverterPage): Lit[] {
  const found = new Map<string, Lit>();
  const add = (
    entry: { name: string; side: string; x_mm: number | null; y_mm: number | null },
    main: boolean,
  ) => {
    if (entry.x_mm === null || entry.y_mm === null || found.has(entry.name)) return;
    found.set(entry.name, { name: entry.name, side: entry.side, at: [entry.x_mm, entry.y_mm], main });
  };
  for (const coil of [...page.coils, ...ownParts(page)]) add(coil, true);
  for (const step of page.steps) for (const point of [...step.points, ...step.parts]) add(point, false);
  return [...found.values()];
}

/** How far above its spot each name stands, so that no two lie on each other. */
function spread<T extends { name: string; spot: readonly [number, number] }>(
  lit: T[],
): (T & { up: number })[] {
  const taken: (readonly [number, number, number])[] = [];
  return [...lit]
    .sort((entry, other) => other.spot[1] - entry.spot[1])
    .map((entry) => {
      const half = entry.name.length * TEXT_MM * 0.32;
      let up = TEXT_MM;
      const clashes = () =>
        taken.some(
          ([x, y, width]) =>
            Math.abs(x - entry.spot[0]) < half + width && Math.abs(y - (entry.spot[1] - up)) < TEXT_MM * 0.95,
        );
      while (clashes() && up < 12 * TEXT_MM) up += TEXT_MM * 0.5;
      taken.push([entry.spot[0], entry.spot[1] - up, half]);
      return { ...entry, up };
    });
}
