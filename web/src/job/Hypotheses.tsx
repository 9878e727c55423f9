import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import { api, type Hypothesis, type JobDetail, newId } from "../api/client";
import { hypothesesQuery } from "../queries/job";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";
import { jobLabel, moment } from "../shared/words";
import type { Step } from "./StepLine";

interface HypothesesProps {
  job: JobDetail;
  step: Step;
  mayWork: boolean;
}

const STATES = { open: t`open`, "ruled-out": t`ruled out`, confirmed: t`confirmed` } as const;
type State = keyof typeof STATES;

/** What may be behind it, with counts of past cards; carried through all steps, each with what settled it. */
export function Hypotheses({ job, step, mayWork }: HypothesesProps) {
  const [chosen, setChosen] = useState<string | null>(null);
  const [own, setOwn] = useState("");
  const { problem, keep } = useKeeping([]);
  const key = hypothesesQuery(job.number).queryKey;
  const params = { path: { number: job.number } };
  const found = useQuery(hypothesesQuery(job.number));
  const say = async (cause: string, state: State, by_what: string) => {
    const body = { id: newId(), cause, state, by_what, step: step.toLowerCase() as "look" };
    const taken = await keep(() => api.POST("/api/v1/jobs/{number}/hypotheses", { params, body }), key);
    if (taken && taken !== "kept") setChosen(null);
    return taken !== null;
  };
  if (!found.data || (found.data.length === 0 && !mayWork)) return null;
  const add = async (event: FormEvent) => {
    event.preventDefault();
    if (await say(own.trim(), "open", "")) setOwn("");
  };
  return (
    <section aria-labelledby="hypotheses-title" data-testid="hypotheses">
      <h3 id="hypotheses-title" className="text-lg font-bold">
        <Trans>From the watchlist and past cards</Trans>
      </h3>
      {found.data.length === 0 && (
        <p className="text-soft">
          <Trans>
            Say the symptom’s kind at Arrive, and past cards with the same one propose causes here.
          </Trans>
        </p>
      )}
      <ul aria-label={t`Hypotheses`}>
        {found.data.map((entry) => (
          <li key={entry.key} className="border-t border-rule py-1.5">
            <button
              type="button"
              aria-expanded={chosen === entry.key}
              className="grid w-full grid-cols-[1.5rem_1fr_auto] items-baseline gap-x-2 text-left"
              onClick={() => setChosen(chosen === entry.key ? null : entry.key)}
            >
              <StateSign state={entry.state} />
              <span>
                <strong className={entry.state === "ruled-out" ? "font-normal line-through" : ""}>
                  {entry.cause}
                </strong>
                {entry.state !== "open" && t`, ${STATES[entry.state]} by: ${entry.by_what}`}
              </span>
              <span className="text-right text-soft">{counted(entry)}</span>
            </button>
            {chosen === entry.key && (
              <Chosen one={entry} mayWork={mayWork} say={(state, why) => void say(entry.cause, state, why)} />
            )}
          </li>
        ))}
      </ul>
      <FormError problem={problem} />
      {mayWork && (
        <form onSubmit={add} className="mt-2 flex items-end gap-2">
          <label className="min-w-0 flex-1">
            <span className="block text-soft">
              <Trans>something else</Trans>
            </span>
            <input
              className="field w-full"
              maxLength={120}
              value={own}
              onChange={(event) => setOwn(event.target.value)}
            />
          </label>
          <button type="submit" className="button" disabled={!own.trim()}>
            <Trans>Open it</Trans>
          </button>
        </form>
      )}
    </section>
  );
}

/** The nearest group that has cards: of this model, of its core family, of all. */
function counted(one: Hypothesis): string {
  const { counts } = one;
  if (!counts?.everywhere.seen) return one.watch ? t`on the watchlist` : "";
  if (counts.model.seen > 0) return t`${counts.model.had.length} of ${counts.model.seen} of this model`;
  if (counts.family.seen > 0) return t`${counts.family.had.length} of ${counts.family.seen} of its family`;
  return t`${counts.everywhere.had.length} of ${counts.everywhere.seen} cards`;
}

interface ChosenProps {
  one: Hypothesis;
  mayWork: boolean;
  say: (state: State, byWhat: string) => void;
}

function Chosen({ one, mayWork, say }: ChosenProps) {
  const [why, setWhy] = useState(one.by_what);
  const { counts, watch } = one;
  return (
    <div className="mt-1 space-y-2 pl-8">
      {watch?.look && <p>{watch.look}</p>}
      {!!counts?.everywhere.seen && (
        <p>
          <Trans>
            With this symptom: {counts.model.had.length} of {counts.model.seen} of this model,{" "}
            {counts.family.had.length} of {counts.family.seen} of its core family,{" "}
            {counts.everywhere.had.length} of {counts.everywhere.seen} of all. So it is the cause in about{" "}
            {Math.round(100 * counts.share)} %; with so few cards, anything from{" "}
            {Math.round(100 * counts.low)} to {Math.round(100 * counts.high)} % fits.{" "}
          </Trans>
          {counts.everywhere.had.map((number) => (
            <Link key={number} className="button-plain" to={`/jobs/${number}/arrive`}>
              {jobLabel(number)}
            </Link>
          ))}
        </p>
      )}
      {one.by && one.at && (
        <p className="text-soft">
          {STATES[one.state]}
          {one.step && t`, at ${one.step}`}; {one.by}, {moment(one.at)}
        </p>
      )}
      {mayWork && (
        <div className="flex flex-wrap items-end gap-2">
          <label className="min-w-48 flex-1">
            <span className="block text-soft">
              <Trans>by what</Trans>
            </span>
            <input
              className="field w-full"
              maxLength={200}
              value={why}
              onChange={(event) => setWhy(event.target.value)}
            />
          </label>
          {(["ruled-out", "confirmed"] as const)
            .filter((state) => state !== one.state)
            .map((state) => (
              <button
                key={state}
                type="button"
                className="button"
                disabled={!why.trim()}
                onClick={() => say(state, why.trim())}
              >
                {state === "confirmed" ? t`Confirm` : t`Rule out`}
              </button>
            ))}
          {one.state !== "open" && (
            <button type="button" className="button" onClick={() => say("open", "")}>
              <Trans>Open again</Trans>
            </button>
          )}
        </div>
      )}
    </div>
  );
}

/** Open is a dotted ring, ruled out a crossed one, confirmed a filled pennant. */
function StateSign({ state }: { state: State }) {
  return (
    <svg viewBox="0 0 16 16" className="size-4 self-center" role="img" aria-label={STATES[state]}>
      {state === "confirmed" ? (
        <path d="M3 15V1H14L11 4.5L14 8H4.5V15Z" className="fill-suspect" />
      ) : (
        <circle
          cx={8}
          cy={8}
          r={6}
          className="fill-none stroke-edge"
          strokeWidth={2}
          strokeDasharray={state === "open" ? "2 2" : undefined}
        />
      )}
      {state === "ruled-out" && <path d="M4 12L12 4" className="stroke-edge" strokeWidth={2} />}
    </svg>
  );
}
