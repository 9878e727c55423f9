import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useEffect, useState } from "react";
import { api, newId } from "../api/client";
import type { components } from "../api/schema";
import { padsQuery } from "../queries/job";
import { keyOf } from "../queries/keys";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";
import { LoadError } from "../shared/states";
import { sentence } from "../shared/words";

export type Survey = components["schemas"]["PadSurveyed"];
export type Looks = Survey["pads"][number]["looks"];
export const LOOKS: readonly (readonly [Looks, string, string])[] = [
  ["torn", "torn", "t"],
  ["grey", "grey", "y"],
  ["repaired", "repaired", "e"],
  ["unused", "unused", "x"],
  ["good", "good", "u"],
];

/** The survey below a chip or the core; marks are painted at once and sent together a moment later. */
export function usePads(number: number, designator: string) {
  const [brush, setBrush] = useState<Looks>("torn");
  const [turn, setTurn] = useState<string | null>(null);
  const [waiting, setWaiting] = useState<Record<string, Looks>>({});
  const key = padsQuery(number, designator).queryKey;
  const params = { path: { number, designator } };
  const survey = useQuery({ ...padsQuery(number, designator), enabled: designator !== "" });
  const { problem, keep, forget } = useKeeping([keyOf("job", String(number))]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new mark starts the wait anew
  useEffect(() => {
    if (Object.keys(waiting).length === 0) return;
    const later = window.setTimeout(async () => {
      const body = { id: newId(), states: waiting };
      const now = await keep(
        () => api.POST("/api/v1/jobs/{number}/pads/{designator}", { params, body }),
        key,
      );
      if (!now) return;
      if (now === "kept") setWaiting({});
      else
        setWaiting((still) =>
          Object.fromEntries(Object.entries(still).filter(([ball, looks]) => waiting[ball] !== looks)),
        );
    }, SEND_MS);
    return () => window.clearTimeout(later);
  }, [waiting]);
  const mark = (ball: string, looks: Looks = brush) => {
    forget();
    setTurn(ball);
    setWaiting((still) => ({ ...still, [ball]: looks }));
  };
  return { survey, problem, brush, setBrush, turn, setTurn, waiting, mark, designator };
}

const SEND_MS = 400;

export type Surveying = ReturnType<typeof usePads>;

const WORDS: Record<Survey["judged"], string> = {
  "not-surveyed": t`Not surveyed yet`,
  good: t`Good`,
  fixable: t`Fixable`,
  marginal: t`Marginal`,
  donor: t`For a donor`,
};

interface PadsProps {
  of: string;
  surveying: Surveying;
  choose: (designator: string) => void;
  mayWork: boolean;
}

/** Counts by class, the verdict by the shop's rule with its reasons, and what each torn signal breaks. */
export function Pads({ of, surveying, choose, mayWork }: PadsProps) {
  const { survey, problem, mark } = surveying;
  const [typed, setTyped] = useState(of);
  useEffect(() => setTyped(of), [of]);
  const found = survey.data;
  // without a ball map no pad has a name: one mark stands for all of them
  const ball = found?.pads[0]?.ball ?? "all";
  return (
    <section aria-labelledby="pads-title" data-testid="pads" className="space-y-3">
      <form
        className="flex items-end gap-3"
        onSubmit={(event: FormEvent) => {
          event.preventDefault();
          if (typed.trim()) choose(typed.trim() === "core" ? "core" : typed.trim().toUpperCase());
        }}
      >
        <label>
          <span className="block text-soft">
            <Trans>below which chip, or core</Trans>
          </span>
          <input
            className="field w-32 font-mono text-2xl"
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
          />
        </label>
        <button type="submit" className="button">
          <Trans>Show</Trans>
        </button>
      </form>
      {survey.isError && <LoadError problem={survey.error} again={() => survey.refetch()} />}
      <FormError problem={problem} plain />
      {found && (
        <>
          <h2 id="pads-title" className="font-bold text-2xl">
            <Trans>
              Pads below {of}: {WORDS[found.judged]}
            </Trans>
          </h2>
          {found.judged === "not-surveyed" && mayWork && (
            <p className="flex flex-wrap gap-2">
              <button type="button" className="button" onClick={() => mark(ball, "good")}>
                <Trans>No pad is torn or grey</Trans>
              </button>
              {found.pads.length === 0 && (
                <button type="button" className="button" onClick={() => mark(ball, "torn")}>
                  <Trans>Some are torn or grey</Trans>
                </button>
              )}
            </p>
          )}
          <ul>
            {found.why.map((name) => (
              <li key={name}>{sentence(name)}</li>
            ))}
          </ul>
          {found.counts.length > 0 && (
            <table className="w-full text-left">
              <thead>
                <tr>
                  <th>
                    <Trans>class</Trans>
                  </th>
                  <th>
                    <Trans>pads</Trans>
                  </th>
                  <th>
                    <Trans>torn</Trans>
                  </th>
                  <th>
                    <Trans>grey</Trans>
                  </th>
                  <th>
                    <Trans>repaired</Trans>
                  </th>
                </tr>
              </thead>
              <tbody className="font-mono">
                {found.counts.map((count) => (
                  <tr key={count.pad_class} className="border-rule border-t">
                    <td className="font-sans">{count.pad_class}</td>
                    <td>{count.total}</td>
                    <td className={count.torn > 0 ? "font-bold text-suspect" : ""}>{count.torn}</td>
                    <td>{count.grey}</td>
                    <td>{count.repaired}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          {found.broken.length > 0 && (
            <>
              <h3 className="font-bold text-lg">
                <Trans>What is broken by it</Trans>
              </h3>
              <ul aria-label={t`Broken`}>
                {found.broken.map((name) => (
                  <li key={name} className="border-rule border-t py-1">
                    {name}.
                  </li>
                ))}
              </ul>
            </>
          )}
          {found.surveyed.length > 0 && (
            <p className="text-soft">
              <Trans>Surveyed on this card: </Trans>
              {found.surveyed.map((name) => (
                <button
                  key={name}
                  type="button"
                  className="button-plain font-mono"
                  onClick={() => choose(name)}
                >
                  {name}
                </button>
              ))}
            </p>
          )}
        </>
      )}
    </section>
  );
}
