import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { api, type JobDetail, newId } from "../api/client";
import { proofQuery } from "../queries/job";
import { keyOf } from "../queries/keys";
import { useTimers } from "../rework/useTimers";
import { FormError } from "../shared/FormError";
import { NumberField, TextField } from "../shared/fields";
import { useKeeping } from "../shared/keeping";
import { numberOf } from "../shared/numbers";
import type { Check } from "./useProof";

const WORDS = { open: t`open`, passed: t`passed`, failed: t`failed`, refused: t`proves nothing` } as const;

/** One check: its sign and word, why, what it would take to fail; what a person says is said here. */
export function CheckRow({ check, job, mayWork }: { check: Check; job: JobDetail; mayWork: boolean }) {
  const [open, setOpen] = useState(false);
  const hand = check.kind === "hand" || check.kind === "cold-start";
  const { start } = useTimers();
  const parts = check.parts.length > 0;
  const wait = check.more_minutes ?? check.minutes ?? (check.hours ? check.hours * 60 : null);
  return (
    <li className="border-rule border-t py-1.5" data-check={check.id} data-judged={check.judged}>
      <div className="flex items-start gap-3">
        <Sign judged={check.judged} />
        <div className="min-w-0 flex-1">
          <p>
            <strong>{check.name}</strong> <span className="text-soft">{WORDS[check.judged]}</span>
          </p>
          <p>
            {check.why.join(" ")}{" "}
            <span className="text-soft">
              {check.judged !== "passed" && t`Fails with: ${check.fails}.`} {check.by && hand && check.by}
            </span>
          </p>
          {check.waived && (
            <p>
              <Trans>Waived by {check.waived}</Trans>
            </p>
          )}
        </div>
        {mayWork && (
          <span className="flex shrink-0 gap-1">
            {wait !== null && check.judged === "open" && (
              <button
                type="button"
                className="button-plain"
                onClick={() =>
                  void start(job.number, {
                    name: check.name.slice(0, 60),
                    timed: "other",
                    minutes: Math.ceil(wait),
                    begun_at: new Date().toISOString(),
                  })
                }
              >
                <Trans>Timer {wait >= 120 ? `${Math.round(wait / 60)} h` : t`${Math.ceil(wait)} min`}</Trans>
              </button>
            )}
            <button
              type="button"
              className="button-plain"
              aria-expanded={open}
              aria-label={`${hand && !parts ? t`Record` : t`Mark as failed`}: ${check.name}`}
              onClick={() => setOpen(!open)}
            >
              {hand && !parts ? t`Record` : t`Mark as failed`}
            </button>
          </span>
        )}
      </div>
      {parts && <Parts check={check} job={job} mayWork={mayWork} />}
      {open && <Say check={check} job={job} hand={hand} done={() => setOpen(false)} />}
    </li>
  );
}

/** A check that is ticked part by part: each socket, each plug that was repaired. */
function Parts({ check, job, mayWork }: { check: Check; job: JobDetail; mayWork: boolean }) {
  const keeping = useKeeping([keyOf("job", String(job.number))]);
  const tick = (part: string) =>
    keeping.keep(
      () =>
        api.POST("/api/v1/jobs/{number}/proof/checks", {
          params: { path: { number: job.number } },
          body: { id: newId(), check_id: check.id, passed: true, part },
        }),
      proofQuery(job.number).queryKey,
    );
  return (
    <fieldset className="mt-1 flex flex-wrap gap-x-5 gap-y-1 pl-9" aria-label={check.name}>
      {check.parts.map(({ part, passed }) => (
        <label key={part} className="flex min-h-8 items-center gap-2">
          <input
            type="checkbox"
            className="size-4"
            checked={passed === true}
            disabled={!mayWork || passed === true || keeping.busy}
            onChange={() => void tick(part)}
          />
          {part}
          {passed === false && (
            <span className="text-suspect">
              <Trans>failed</Trans>
            </span>
          )}
        </label>
      ))}
      <FormError problem={keeping.problem} />
    </fieldset>
  );
}

function Say({ check, job, hand, done }: { check: Check; job: JobDetail; hand: boolean; done: () => void }) {
  const [minutes, setMinutes] = useState("");
  const [note, setNote] = useState("");
  const [off, setOff] = useState("");
  const [part, setPart] = useState(check.parts[0]?.part ?? "");
  const keeping = useKeeping([keyOf("job", String(job.number))]);
  const number = numberOf(minutes);
  const say = async (passed: boolean) => {
    const params = { path: { number: job.number } };
    const body = {
      id: newId(),
      check_id: check.id,
      passed,
      minutes: number,
      note: note.trim(),
      part,
      off_since: off ? new Date(off).toISOString() : null,
    };
    const kept = await keeping.keep(
      () => api.POST("/api/v1/jobs/{number}/proof/checks", { params, body }),
      proofQuery(job.number).queryKey,
    );
    if (kept) done();
  };
  return (
    <div className="mt-1 flex flex-wrap items-end gap-3 pl-9" data-testid="say-check">
      {check.minutes !== null && <NumberField label={t`minutes`} value={minutes} onChange={setMinutes} />}
      {check.kind === "cold-start" && (
        <TextField label={t`off since`} type="datetime-local" value={off} onChange={setOff} wide="w-56" />
      )}
      <TextField label={t`what was seen`} value={note} onChange={setNote} maxLength={400} />
      {check.parts.length > 0 && (
        <label className="block">
          <span className="text-soft">
            <Trans>which</Trans>
          </span>
          <Select className="field" value={part} onChange={(event) => setPart(event.target.value)}>
            {check.parts.map((entry) => (
              <option key={entry.part}>{entry.part}</option>
            ))}
          </Select>
        </label>
      )}
      {hand && check.parts.length === 0 && (
        <button
          type="button"
          className="button"
          disabled={Number.isNaN(number) || keeping.busy}
          onClick={() => void say(true)}
        >
          <Trans>Passed</Trans>
        </button>
      )}
      <button
        type="button"
        className="button"
        disabled={Number.isNaN(number) || !note.trim() || keeping.busy}
        onClick={() => void say(false)}
      >
        <Trans>Failed</Trans>
      </button>
      <div className="w-full">
        <FormError problem={keeping.problem} />
      </div>
    </div>
  );
}

/** A check's state as a sign: a dotted ring, a filled dot, a pennant, a ring struck through. */
function Sign({ judged }: { judged: Check["judged"] }) {
  return (
    <svg viewBox="0 0 16 16" className="mt-1 size-5 shrink-0" aria-hidden="true">
      {judged === "open" && (
        <circle cx={8} cy={8} r={5} className="fill-none stroke-edge" strokeWidth={2} strokeDasharray="2 2" />
      )}
      {judged === "passed" && <circle cx={8} cy={8} r={6} className="fill-good" />}
      {judged === "failed" && <path d="M3 15V1H14L11 4.5L14 8H4.5V15Z" className="fill-suspect" />}
      {judged === "refused" && (
        <path
          d="M8 3A5 5 0 1 0 8 13A5 5 0 1 0 8 3M4 12L12 4"
          className="fill-none stroke-soft"
          strokeWidth={2}
        />
      )}
    </svg>
  );
}
