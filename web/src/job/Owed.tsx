import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Plural, Trans } from "@lingui/react/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import { api, type Owed as Debt, type JobDetail, newId } from "../api/client";
import type { components } from "../api/schema";
import { owedQuery } from "../queries/job";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";
import { useKinds } from "../shared/useKinds";
import { moment } from "../shared/words";
import { afterAct } from "./afterAct";

interface OwedProps {
  job: JobDetail;
  mayWork: boolean;
  lead: boolean;
}

type Kind = components["schemas"]["NewPromiseRequest"]["kind"];

// Kinds that are an act where the part is named, and how the press that ends one is called.
const OF_A_PART: readonly string[] = ["part-off", "wire-on", "coil-lifted"];
const DONE: Record<string, string> = {
  loan: t`It is back`,
  "part-off": t`Another one on`,
  "wire-on": t`Unsoldered`,
  "coil-lifted": t`Fitted again`,
};

export function useOwed(number: number) {
  return useQuery(owedQuery(number));
}

/** What is owed before the card may leave. */
export function Owed({ job, mayWork, lead }: OwedProps) {
  const [kind, setKind] = useState<Kind>("part-off");
  const { promises } = useKinds();
  const [words, setWords] = useState("");
  const [part, setPart] = useState("");
  const queries = useQueryClient();
  const { problem, keep } = useKeeping([], () => afterAct(queries, job.number));
  const key = owedQuery(job.number).queryKey;
  const params = { path: { number: job.number } };
  const found = useOwed(job.number);
  const enter = async (ask: () => Promise<{ data?: Debt[] }>) => (await keep(ask, key)) !== null;
  const waive = (debt: string, reason: string) =>
    enter(() => api.POST("/api/v1/jobs/{number}/waivers", { params, body: { key: debt, reason } }));
  const settle = (debt: string, same: boolean) =>
    enter(() =>
      api.POST("/api/v1/jobs/{number}/settled", { params, body: { id: newId(), key: debt, same } }),
    );
  const promise = async (event: FormEvent) => {
    event.preventDefault();
    const body = {
      id: newId(),
      kind,
      words: words.trim(),
      part: OF_A_PART.includes(kind) ? part.trim() : "",
    };
    if (await enter(() => api.POST("/api/v1/jobs/{number}/owed", { params, body }))) {
      setWords("");
      setPart("");
    }
  };
  const debts = (found.data ?? []).filter((entry) => entry.kind !== "together" || !entry.blocks);
  const apart = (found.data ?? []).filter((entry) => entry.kind === "together" && entry.blocks);
  return (
    <section aria-labelledby="owed-title" data-testid="owed">
      <h3 id="owed-title" className="text-lg font-bold">
        <Trans>Owed before it may leave</Trans>
      </h3>
      {found.data?.length === 0 && (
        <p className="text-soft">
          <Trans>Nothing is owed.</Trans>
        </p>
      )}
      {apart.length > 0 && (
        <details className="border-t border-rule py-1.5" data-testid="apart">
          <summary className="cursor-pointer">
            <strong>
              <Trans>
                {apart.length} <Plural value={apart.length} one="step" other="steps" /> of the teardown not
                back
              </Trans>
            </strong>
          </summary>
          <ul>
            {apart.map((entry) => (
              <li key={entry.key}>
                {entry.words} {lead && <Waive waive={(reason) => waive(entry.key, reason)} />}
              </li>
            ))}
          </ul>
          <Link className="button-plain -ml-2" to={`/jobs/${job.number}/teardown`}>
            <Trans>Put it together</Trans>
          </Link>
        </details>
      )}
      <ul aria-label={t`Owed`}>
        {debts.map((debt) => (
          <li key={debt.key} className="border-t border-rule py-1.5">
            <p className="flex flex-wrap items-baseline gap-x-3 gap-y-1">
              <span className="min-w-72 flex-1">
                <strong className={debt.blocks ? "" : "font-normal"}>{debt.words}</strong>{" "}
                <span className="text-soft">
                  {debt.kind_words}; {debt.by}, {moment(debt.at)}
                </span>
                {debt.waived && (
                  <span className="block">
                    <Trans>
                      Let go by {debt.waived.by}: {debt.waived.reason}
                    </Trans>
                  </span>
                )}
              </span>
              {mayWork && debt.by_hand && debt.kind === "part-off" && debt.key.startsWith("act:") && (
                <button type="button" className="button shrink-0" onClick={() => void settle(debt.key, true)}>
                  <Trans>Same one on</Trans>
                </button>
              )}
              {mayWork && debt.by_hand && (
                <button
                  type="button"
                  className="button shrink-0"
                  onClick={() => void settle(debt.key, false)}
                >
                  {DONE[debt.kind] ?? t`Done`}
                </button>
              )}
            </p>
            {lead && debt.blocks && <Waive waive={(reason) => waive(debt.key, reason)} />}
          </li>
        ))}
      </ul>
      <FormError problem={problem} />
      <form onSubmit={promise} className="mt-2 flex flex-wrap items-end gap-2">
        <label>
          <span className="block text-soft">
            <Trans>promise</Trans>
          </span>
          <Select className="field" value={kind} onChange={(event) => setKind(event.target.value as Kind)}>
            {promises.map(({ name, words: label }) => (
              <option key={name} value={name}>
                {label}
              </option>
            ))}
          </Select>
        </label>
        {OF_A_PART.includes(kind) && (
          <label>
            <span className="block text-soft">
              <Trans>part, by its designator</Trans>
            </span>
            <input
              className="field w-28 font-mono"
              maxLength={80}
              value={part}
              onChange={(event) => setPart(event.target.value)}
            />
          </label>
        )}
        <label className="min-w-40 flex-1">
          <span className="block text-soft">{kind === "loan" ? t`what is lent` : t`what, and where`}</span>
          <input
            className="field w-full"
            maxLength={200}
            value={words}
            onChange={(event) => setWords(event.target.value)}
          />
        </label>
        <button type="submit" className="button" disabled={!words.trim()}>
          <Trans>Promise it</Trans>
        </button>
      </form>
    </section>
  );
}

function Waive({ waive }: { waive: (reason: string) => Promise<boolean> }) {
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState("");
  if (!open)
    return (
      <button type="button" className="button-plain -ml-2" onClick={() => setOpen(true)}>
        <Trans>Waive it, with a reason</Trans>
      </button>
    );
  return (
    <p className="flex items-end gap-2">
      <label className="min-w-0 flex-1">
        <span className="block text-soft">
          <Trans>reason</Trans>
        </span>
        <input
          className="field w-full"
          maxLength={400}
          value={reason}
          onChange={(event) => setReason(event.target.value)}
        />
      </label>
      <button
        type="button"
        className="button"
        disabled={!reason.trim()}
        onClick={() => void waive(reason.trim())}
      >
        <Trans>Waive it</Trans>
      </button>
    </p>
  );
}
