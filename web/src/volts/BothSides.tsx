import { t } from "@lingui/core/macro";
import type { Drawing } from "../api/client";
import { Board, NO_NOTES } from "../board/Board";
import { placed } from "../board/view";
import { type ConverterPage, ownParts } from "./ConverterRoom";

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
            lie={{ side, turns }}
            setLie={undefined}
            notes={NO_NOTES}
            fit="board"
            plain
            title={t`${side} of ${label}`}
            over={(view) => (
              <g data-testid={`lit-${side}`}>
                {spread(
                  lit
                    .filter((one) => one.side === side)
                    .map((one) => ({ ...one, spot: placed(view, one.at) })),
                ).map((one) => (
                  <g
                    key={one.name}
                    transform={`translate(${one.spot[0]} ${one.spot[1]})`}
                    data-lit={one.name}
                  >
                    <circle
                      r={one.main ? 5 : 3}
                      className="fill-chip/60 stroke-silk"
                      strokeWidth={one.main ? 1.4 : 0.8}
                    />
                    {one.up > TEXT_MM && (
                      <line y1={-3} y2={-one.up + 1} className="stroke-silk" strokeWidth={0.5} />
                    )}
                    <text
                      y={-one.up}
                      fontSize={TEXT_MM}
                      textAnchor="middle"
                      className="fill-silk font-bold font-mono"
                    >
                      {one.name}
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
    one: { name: string; side: string; x_mm: number | null; y_mm: number | null },
    main: boolean,
  ) => {
    if (one.x_mm === null || one.y_mm === null || found.has(one.name)) return;
    found.set(one.name, { name: one.name, side: one.side, at: [one.x_mm, one.y_mm], main });
  };
  for (const one of [...page.coils, ...ownParts(page)]) add(one, true);
  for (const step of page.steps) for (const one of [...step.points, ...step.parts]) add(one, false);
  return [...found.values()];
}

/** How far above its spot each name stands, so that no two lie on each other. */
function spread<T extends { name: string; spot: readonly [number, number] }>(
  lit: T[],
): (T & { up: number })[] {
  const taken: (readonly [number, number, number])[] = [];
  return [...lit]
    .sort((one, other) => other.spot[1] - one.spot[1])
    .map((one) => {
      const half = one.name.length * TEXT_MM * 0.32;
      let up = TEXT_MM;
      const clashes = () =>
        taken.some(
          ([x, y, width]) =>
            Math.abs(x - one.spot[0]) < half + width && Math.abs(y - (one.spot[1] - up)) < TEXT_MM * 0.95,
        );
      while (clashes() && up < 12 * TEXT_MM) up += TEXT_MM * 0.5;
      taken.push([one.spot[0], one.spot[1] - up, half]);
      return { ...one, up };
    });
}
