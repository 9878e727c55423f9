import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type FormEvent, useState } from "react";
import type { JobDetail } from "../api/client";
import { NumberField, TextField } from "../shared/fields";
import { decimalOf } from "../shared/numbers";
import { left, useTimers } from "./useTimers";

const KINDS = { curing: t`curing`, cooling: t`cooling`, soak: t`soak`, other: t`other` } as const;
type Kind = keyof typeof KINDS;

/** Timers of this job; they run and ring whatever page is open. */
export function Timers({ job, mayWork }: { job: JobDetail; mayWork: boolean }) {
  const { timers, now, problem, start, stop } = useTimers();
  const [name, setName] = useState("");
  const [kind, setKind] = useState<Kind>("curing");
  const [minutes, setMinutes] = useState("");
  const own = timers.filter((timer) => timer.job === job.number);
  const many = decimalOf(minutes);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (
      await start(job.number, {
        name: name.trim() || kind,
        timed: kind,
        minutes: many,
        begun_at: new Date().toISOString(),
      })
    )
      setName("");
  };
  return (
    <section aria-labelledby="timers-title" className="space-y-4" data-testid="timers">
      <h2 id="timers-title" className="font-bold text-2xl">
        <Trans>Timers</Trans>
      </h2>
      {problem && (
        <p role="alert" className="border-suspect border-l-4 pl-3">
          {problem}
        </p>
      )}
      {mayWork && (
        <form onSubmit={submit} className="flex flex-wrap items-end gap-3">
          <label>
            <span className="block text-soft">
              <Trans>for</Trans>
            </span>
            <Select
              className="field"
              value={kind}
              onChange={(event) => setKind(event.target.value as typeof kind)}
            >
              {Object.entries(KINDS).map(([one, words]) => (
                <option key={one} value={one}>
                  {words}
                </option>
              ))}
            </Select>
          </label>
          <TextField
            label={t`of what`}
            value={name}
            onChange={setName}
            maxLength={60}
            placeholder={t`glue at contact B14`}
          />
          <NumberField label={t`minutes`} value={minutes} onChange={setMinutes} />
          <button type="submit" className="button" disabled={!(many > 0)}>
            <Trans>Start</Trans>
          </button>
        </form>
      )}
      {own.length === 0 && (
        <p className="text-soft">
          <Trans>No timer is running for this job.</Trans>
        </p>
      )}
      <ul aria-label={t`Timers`}>
        {own.map((entry) => (
          <li key={entry.id} className="flex items-center gap-3 border-rule border-t py-2">
            <strong className="font-mono text-3xl">{left(entry.ends_at, now)}</strong>
            <span className="flex-1">
              {entry.name}, {entry.timed}
            </span>
            {mayWork && (
              <button type="button" className="button" onClick={() => void stop(entry.id)}>
                {new Date(entry.ends_at).getTime() <= now ? t`Heard` : t`Stop`}
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
