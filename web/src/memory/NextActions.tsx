import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, type JobDetail, newId, type Planned } from "../api/client";
import { planQuery } from "../queries/job";
import { keyOf } from "../queries/keys";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";
import { decimalOf } from "../shared/numbers";
import { useKinds, wordsOf } from "../shared/useKinds";
import { listed, moment } from "../shared/words";
import { PhotographFirst } from "./PhotographFirst";

interface NextActionsProps {
  job: JobDetail;
  mayWork: boolean;
}

const LIFTS = ["reball", "replace", "lift-core"];
const ON_CHIPS = ["measure-lines", "reball", "replace", "check-supply"];

/** What can be tried about the finding: chance, minutes, risk, what each result would settle; then what came of it. */
export function NextActions({ job, mayWork }: NextActionsProps) {
  const { actions } = useKinds();
  const [open, setOpen] = useState<string | null>(null);
  const { problem, keep } = useKeeping([
    keyOf("plan", job.number),
    keyOf("job", String(job.number)),
    keyOf("shelf"),
  ]);
  const plan = useQuery(planQuery(job.number, job.located));
  const enter = async (action: Planned, id: string, outcome: "yes" | "no" | "worse", minutes: number) => {
    const params = { path: { number: job.number } };
    const body = { id, do: action.do as "reball", outcome, minutes };
    const taken = await keep(() => api.POST("/api/v1/jobs/{number}/attempts", { params, body }));
    if (taken && taken !== "kept") setOpen(null);
  };
  const withdraw = (attempt: string) =>
    keep(() => api.POST("/api/v1/attempts/{attempt}/withdrawal", { params: { path: { attempt } } }));
  if (!plan.data || plan.data.actions.length === 0) return null;
  const most = Math.max(...plan.data.actions.map((action) => action.per_hour), 0.001);
  return (
    <section aria-labelledby="next-title" data-testid="next-actions">
      <h3 id="next-title" className="flex items-baseline gap-3 text-lg font-bold">
        <Trans>
          What each try would settle
          <Link className="button-plain ml-auto text-base font-normal" to="/library/habits">
            times and chances
          </Link>
        </Trans>
      </h3>
      <p className="text-soft">
        <Trans>bars: chance for an hour of minutes and risk</Trans>
      </p>
      <ol>
        {plan.data.actions.map((action) => (
          <li key={action.do} className="border-l-8 border-rule py-1 pl-3">
            <button
              type="button"
              aria-expanded={open === action.do}
              className="grid w-full grid-cols-[1fr_auto] items-center gap-x-3 text-left"
              onClick={() => setOpen(open === action.do ? null : action.do)}
            >
              <strong>
                {wordsOf(actions, action.do)}
                {ON_CHIPS.includes(action.do) &&
                  `: ${job.located?.placeless ? t`its chip` : listed(action.designators.slice(0, 4))}`}
              </strong>
              <span className="text-right">
                <Trans>
                  {action.repair ? t`cures` : t`settles`} {action.chance.toFixed(2)}, {action.minutes} min
                </Trans>
              </span>
              <span
                className="col-span-2 mt-0.5 block h-1.5 rounded bg-rule"
                title={t`${action.per_hour.toFixed(2)} for an hour of its minutes and risk`}
              >
                <span
                  className="block h-1.5 rounded bg-ink"
                  style={{ width: `${Math.max(2, (100 * action.per_hour) / most)}%` }}
                />
              </span>
            </button>
            {open === action.do && (
              <div className="mt-2 space-y-2">
                <p>{action.why}</p>
                {action.settles.map((settle) => (
                  <p key={settle} className="border-l-2 border-rule pl-3">
                    {settle}
                  </p>
                ))}
                <p className="text-soft">
                  <Trans>
                    Risk {Math.round(action.risk * 1000) / 10} %; {action.per_hour.toFixed(2)} for an hour of
                    its minutes and risk. {action.basis}
                  </Trans>
                </p>
                {mayWork && LIFTS.includes(action.do) && !job.located?.placeless && (
                  <PhotographFirst
                    number={job.number}
                    what={action.do === "lift-core" ? [t`the core`] : action.designators}
                  />
                )}
                {LIFTS.includes(action.do) && !job.located?.placeless && (
                  <p>
                    <Link
                      className="button-plain -ml-2"
                      to={`/jobs/${job.number}/rework${action.do === "lift-core" ? "/pads/core" : `?site=${action.designators[0] ?? ""}`}`}
                    >
                      <Trans>To Rework: what stands near, how often it was heated</Trans>
                    </Link>
                  </p>
                )}
                {mayWork && action.outcomes.length > 0 && <Outcome action={action} enter={enter} />}
              </div>
            )}
          </li>
        ))}
      </ol>
      <p className="mt-1 text-soft">
        <Trans>
          Chances of findings are tried on simulated cards; those of cures are as set and learned in this
          shop.
        </Trans>
      </p>
      <FormError problem={problem} />
      {plan.data.tried.length > 0 && (
        <ul className="mt-2" aria-label={t`Tried so far`}>
          {plan.data.tried.map((entry) => (
            <li key={entry.id} className="border-t border-rule py-1">
              <Trans>
                <strong>{wordsOf(actions, entry.do)}</strong>: {entry.said.toLowerCase()}, {entry.minutes}{" "}
                min.{" "}
                <span className="text-soft">
                  {entry.by}, {moment(entry.at)}
                  {entry.note ? `: ${entry.note}` : ""}
                </span>{" "}
              </Trans>
              {mayWork && (
                <button type="button" className="button-plain" onClick={() => void withdraw(entry.id)}>
                  <Trans>Take back</Trans>
                </button>
              )}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

interface OutcomeProps {
  action: Planned;
  enter: (action: Planned, id: string, outcome: "yes" | "no" | "worse", minutes: number) => Promise<void>;
}

function Outcome({ action, enter }: OutcomeProps) {
  const [minutes, setMinutes] = useState(String(action.minutes));
  const [id] = useState(newId);
  const taken = decimalOf(minutes);
  return (
    <div className="flex flex-wrap items-end gap-2">
      <label className="block w-24">
        <span className="block text-soft">
          <Trans>took, min</Trans>
        </span>
        <input
          className="field w-full font-mono"
          inputMode="decimal"
          value={minutes}
          onChange={(event) => setMinutes(event.target.value)}
        />
      </label>
      {action.outcomes.map((outcome) => (
        <button
          key={outcome.outcome}
          type="button"
          className="button"
          disabled={!Number.isFinite(taken) || taken < 0 || minutes.trim() === ""}
          onClick={() => void enter(action, id, outcome.outcome, taken)}
        >
          {outcome.words}
        </button>
      ))}
    </div>
  );
}
