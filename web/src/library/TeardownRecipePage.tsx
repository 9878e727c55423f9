import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { api, data, type Orientation, type TeardownStep } from "../api/client";
import { Board, NO_NOTES } from "../board/Board";
import type { Point } from "../board/view";
import { boardModelQuery } from "../queries/library";
import { LoadError, Loading } from "../shared/states";
import { mayWorkAtBench, useSession } from "../signin/session";
import { Places } from "../teardown/Places";
import { SheetButtons, SheetHead } from "./SheetParts";
import { useSheet } from "./useSheet";

/** A model's teardown recipe: steps in order, groups with their count, places clicked on the drawing. */
export function TeardownRecipePage() {
  const { slug = "" } = useParams();
  const session = useSession();
  const mayWork = mayWorkAtBench(session.data?.person);
  const params = { path: { slug } };
  const editing = useSheet({
    key: ["teardown-recipe", slug],
    get: async () => data(await api.GET("/api/v1/board-models/{slug}/teardown", { params })),
    rowsOf: (saved): TeardownStep[] => saved.steps,
    put: async (rows, edition) => {
      const body = { edition, steps: rows.filter((row) => row.what.trim()) };
      return data(await api.PUT("/api/v1/board-models/{slug}/teardown", { params, body }));
    },
  });
  const { sheet, rows: steps, edit: put } = editing;
  const model = useQuery(boardModelQuery(slug));
  const [chosen, setChosen] = useState(0);
  const [orientation, setOrientation] = useState<Orientation>({ side: "back", turns: 0 });
  if (sheet.isError) return <LoadError problem={sheet.error} again={() => sheet.refetch()} />;
  if (model.isError) return <LoadError problem={model.error} again={() => model.refetch()} />;
  if (!sheet.data || !model.data) return <Loading what={t`Reading the recipe`} />;
  const change = (at: number, part: Partial<TeardownStep>) =>
    put(steps.map((step, number) => (number === at ? { ...step, ...part } : step)));
  const turn = steps[chosen];
  const pick = ([x, y]: Point) => {
    if (!turn) return;
    const places = turn.places_mm ?? [];
    const near = places.findIndex(([px = 0, py = 0]) => Math.hypot(px - x, py - y) < NEAR_MM);
    const next =
      near >= 0
        ? places.filter((_, number) => number !== near)
        : [...places, [Math.round(x * 10) / 10, Math.round(y * 10) / 10]];
    change(chosen, {
      places_mm: next,
      side: orientation.side,
      ...(next.length > 0 ? { count: next.length } : {}),
      ...(next.length < 3 ? { crosswise: false } : {}),
    });
  };
  const move = (at: number, by: number) => {
    const next = [...steps];
    const [one] = next.splice(at, 1);
    if (one) next.splice(at + by, 0, one);
    put(next);
    setChosen(at + by);
  };
  const add = () => {
    const known = new Set(steps.map((step) => step.id));
    let number = steps.length + 1;
    while (known.has(`step-${number}`)) number += 1;
    put([...steps, { id: `step-${number}`, kind: "screws", what: "", side: orientation.side }]);
    setChosen(steps.length);
  };
  const { kinds } = sheet.data;
  const { drawing } = model.data;
  return (
    <main className="grid grid-rows-[32rem_auto] lg:h-dvh lg:grid-cols-[58%_1fr] lg:grid-rows-1">
      {drawing ? (
        <Board
          drawing={drawing}
          orientation={orientation}
          setOrientation={setOrientation}
          notes={NO_NOTES}
          fit="board"
          title={t`Board of ${model.data.name}`}
          {...(mayWork && turn ? { pick } : {})}
          over={(view) =>
            steps.map((step, number) => (
              <Places
                key={step.id}
                view={view}
                places={step.places_mm ?? []}
                order={(step.places_mm ?? []).map((_, index) => index)}
                crosswise={false}
                lit={number === chosen}
                seen={step.side === orientation.side}
              />
            ))
          }
        />
      ) : (
        <p className="grid place-items-center bg-tray p-8">
          <Trans>This board is not drawn yet.</Trans>
        </p>
      )}
      <div className="min-w-0 space-y-4 overflow-y-auto border-rule bg-sheet p-6 lg:border-l">
        <SheetHead title={t`Teardown recipe`} slug={slug} head={sheet.data} />
        <ol aria-label={t`Steps`}>
          {steps.map((step, number) => (
            <li key={step.id} className="border-t border-rule py-2">
              {number === chosen && mayWork ? (
                <div className="grid gap-3 sm:grid-cols-2">
                  <label className="block">
                    <span className="block text-soft">
                      <Trans>kind</Trans>
                    </span>
                    <Select
                      className="field w-full"
                      value={step.kind}
                      onChange={(event) =>
                        change(number, { kind: event.target.value as TeardownStep["kind"] })
                      }
                    >
                      {kinds.map((kind) => (
                        <option key={kind.kind} value={kind.kind}>
                          {kind.words}
                        </option>
                      ))}
                    </Select>
                  </label>
                  <label className="block">
                    <span className="block text-soft">
                      <Trans>count</Trans>
                    </span>
                    <input
                      className="field w-full font-mono"
                      inputMode="numeric"
                      value={step.count ?? ""}
                      onChange={(event) => {
                        const typed = Number(event.target.value);
                        if (event.target.value === "") {
                          const { count: _, ...rest } = step;
                          put(steps.map((old, other) => (other === number ? rest : old)));
                        } else if (Number.isInteger(typed) && typed > 0 && typed < 100)
                          change(number, { count: typed });
                      }}
                    />
                  </label>
                  <label className="block sm:col-span-2">
                    <span className="block text-soft">
                      <Trans>what</Trans>
                    </span>
                    <input
                      className="field w-full"
                      maxLength={120}
                      value={step.what}
                      onChange={(event) => change(number, { what: event.target.value })}
                    />
                  </label>
                  <label className="block sm:col-span-2">
                    <span className="block text-soft">
                      <Trans>note</Trans>
                    </span>
                    <input
                      className="field w-full"
                      maxLength={400}
                      value={step.note ?? ""}
                      onChange={(event) => change(number, { note: event.target.value })}
                    />
                  </label>
                  <label className="flex items-center gap-3">
                    <input
                      type="checkbox"
                      className="size-6"
                      checked={step.hidden ?? false}
                      onChange={(event) => change(number, { hidden: event.target.checked })}
                    />
                    <Trans>hidden until it is lifted</Trans>
                  </label>
                  <label className="flex items-center gap-3">
                    <input
                      type="checkbox"
                      className="size-6"
                      disabled={(step.places_mm ?? []).length < 3}
                      checked={step.crosswise ?? false}
                      onChange={(event) => change(number, { crosswise: event.target.checked })}
                    />
                    <Trans>tightened crosswise</Trans>
                  </label>
                  <p className="text-soft sm:col-span-2">
                    <Trans>
                      Click its places on the drawing ({(step.places_mm ?? []).length} so far); a click on one
                      takes it out.
                    </Trans>
                  </p>
                  <p className="flex flex-wrap gap-2 sm:col-span-2">
                    <button
                      type="button"
                      className="button"
                      disabled={number === 0}
                      onClick={() => move(number, -1)}
                    >
                      <Trans>Earlier</Trans>
                    </button>
                    <button
                      type="button"
                      className="button"
                      disabled={number === steps.length - 1}
                      onClick={() => move(number, 1)}
                    >
                      <Trans>Later</Trans>
                    </button>
                    <button
                      type="button"
                      className="button"
                      onClick={() => put(steps.filter((_, other) => other !== number))}
                    >
                      <Trans>Take out</Trans>
                    </button>
                  </p>
                </div>
              ) : (
                <button
                  type="button"
                  className="min-h-11 w-full text-left"
                  onClick={() => {
                    setChosen(number);
                    if (step.side && step.side !== orientation.side)
                      setOrientation({ ...orientation, side: step.side });
                  }}
                >
                  <span className="mr-3 font-mono text-xl font-bold">{number + 1}</span>
                  <strong>{step.what || t`no name yet`}</strong>
                  {step.kind === "screws" && ` × ${step.count ?? 1}`}
                  {step.hidden && ", hidden"}
                  {step.crosswise && t`, crosswise`}
                </button>
              )}
            </li>
          ))}
        </ol>
        {mayWork && <SheetButtons add={t`Add a step`} onAdd={add} editing={editing} />}
      </div>
    </main>
  );
}

// a click this near to a place takes it out
const NEAR_MM = 4;
