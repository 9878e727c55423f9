import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, type BoardDetail } from "../api/client";
import { PhotoBoard } from "../board/PhotoBoard";
import type { Point } from "../board/view";
import { keyOf } from "../queries/keys";
import { benchPlansQuery } from "../queries/library";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";

const SIDES = ["front", "back"] as const;
const HOLES = 3;

/** A model that nobody has drawn: its bench plan, its photographs laid over each other by three holes. */
export function NotDrawn({ model, mayWork }: { model: BoardDetail; mayWork: boolean }) {
  const { problem, keep } = useKeeping([[]]);
  const plans = useQuery(benchPlansQuery());
  const choose = async (plan: string) => {
    const params = { path: { slug: model.slug } };
    await keep(() => api.PUT("/api/v1/board-models/{slug}/plan", { params, body: { plan } }));
  };
  return (
    <main className="max-w-6xl space-y-4 p-6">
      <h1 className="text-3xl font-bold">{model.name}</h1>
      <p className="max-w-3xl">
        <Trans>
          Nobody has drawn this board yet. Its cards are read by a bench plan on their photographs; reports on
          its jobs give totals by channel, and a drawing shows which chip that is.
        </Trans>
      </p>
      <p className="flex flex-wrap items-end gap-3">
        <label>
          <span className="block text-soft">
            <Trans>read by</Trans>
          </span>
          <Select
            className="field"
            value={model.plan || "usual"}
            disabled={!mayWork}
            onChange={(event) => void choose(event.target.value)}
          >
            {(plans.data ?? []).map((plan) => {
              const { id, name } = plan.document as { id: string; name: string };
              return (
                <option key={id} value={id}>
                  {name}
                </option>
              );
            })}
          </Select>
        </label>
        <Link className="button grid place-items-center" to="/library/plans">
          <Trans>Bench plans</Trans>
        </Link>
        {mayWork && (
          <Link className="button grid place-items-center" to={`/library/${model.slug}/edit`}>
            <Trans>Draw it from a photograph</Trans>
          </Link>
        )}
        <Link className="button grid place-items-center" to={`/library/${model.slug}/known-good`}>
          <Trans>Known-good readings</Trans>
        </Link>
      </p>
      <FormError problem={problem} plain />
      {model.photographs.length > 1 && <Sides model={model} mayWork={mayWork} />}
    </main>
  );
}

/** Three screw holes clicked on the front, then the same three on the back. */
function Sides({ model, mayWork }: { model: BoardDetail; mayWork: boolean }) {
  const [holes, setHoles] = useState<Record<"front" | "back", Point[]>>({ front: [], back: [] });
  const { problem, keep } = useKeeping([keyOf("board-model")]);
  const on = (side: "front" | "back") => model.photographs.find((photograph) => photograph.side === side);
  const click = async (side: "front" | "back", at: Point) => {
    const next = { ...holes, [side]: [...holes[side], at].slice(0, HOLES) };
    setHoles(next);
    if (next.front.length < HOLES || next.back.length < HOLES) return;
    const holesOf = (name: "front" | "back") => ({
      picture: on(name)?.sha256 ?? "",
      px: next[name].map(([x, y]) => [x, y]),
    });
    const params = { path: { slug: model.slug } };
    const body = { front: holesOf("front"), back: holesOf("back") };
    await keep(() => api.PUT("/api/v1/board-models/{slug}/sides", { params, body }));
    setHoles({ front: [], back: [] });
  };
  return (
    <section aria-labelledby="sides-title" className="space-y-2">
      <h2 id="sides-title" className="text-xl font-bold">
        <Trans>Front and back over each other</Trans>
      </h2>
      <p>
        {model.behind ? t`They lie over each other: what is named on one side shows on the other. ` : ""}
        {mayWork &&
          t`Click three screw holes on the front, then the same three in the same order on the back, seen mirrored.`}
      </p>
      {problem && (
        <p role="alert" className="border-suspect border-l-4 pl-3">
          <Trans>{problem.message} Click all three again on both.</Trans>
        </p>
      )}
      <div className="grid gap-4 lg:grid-cols-2">
        {SIDES.map((side) => {
          const picture = on(side);
          if (!picture) return null;
          const size = picture.width_px / 50;
          return (
            <div key={side} className="h-72">
              <PhotoBoard
                picture={picture}
                title={t`Photograph of the ${side} of ${model.name}`}
                one
                {...(mayWork ? { pick: (at: Point) => void click(side, at) } : {})}
              >
                {holes[side].map(([x, y], number) => (
                  <g key={`${x} ${y}`} transform={`translate(${x} ${y})`}>
                    <circle r={size} className="fill-none stroke-lit-next" strokeWidth={size / 4} />
                    <text
                      y={size * 0.4}
                      fontSize={size}
                      textAnchor="middle"
                      className="fill-lit-next font-bold font-mono"
                    >
                      {number + 1}
                    </text>
                  </g>
                ))}
              </PhotoBoard>
            </div>
          );
        })}
      </div>
    </section>
  );
}
