import { type FormEvent, useState } from "react";
import type { JobDetail } from "../api/client";
import { Figure, Line } from "../shared/fields";
import { left, useTimers } from "./useTimers";

const KINDS = ["curing", "cooling", "soak", "other"] as const;

/** Timers of this job; they run and ring whatever page is open. */
export function Timers({ job, mayWork }: { job: JobDetail; mayWork: boolean }) {
  const { timers, now, problem, start, stop } = useTimers();
  const [name, setName] = useState("");
  const [kind, setKind] = useState<(typeof KINDS)[number]>("curing");
  const [minutes, setMinutes] = useState("");
  const own = timers.filter((one) => one.job === job.number);
  const many = Number(minutes.replace(",", "."));
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
        Timers
      </h2>
      {problem && (
        <p role="alert" className="border-suspect border-l-4 pl-3">
          {problem}
        </p>
      )}
      {mayWork && (
        <form onSubmit={submit} className="flex flex-wrap items-end gap-3">
          <label>
            <span className="block text-soft">for</span>
            <select
              className="field"
              value={kind}
              onChange={(event) => setKind(event.target.value as typeof kind)}
            >
              {KINDS.map((one) => (
                <option key={one}>{one}</option>
              ))}
            </select>
          </label>
          <Line says="of what" value={name} set={setName} maxLength={60} placeholder="glue at contact B14" />
          <Figure says="minutes" value={minutes} set={setMinutes} />
          <button type="submit" className="button" disabled={!(many > 0)}>
            Start
          </button>
        </form>
      )}
      {own.length === 0 && <p className="text-soft">No timer is running for this job.</p>}
      <ul aria-label="Timers">
        {own.map((one) => (
          <li key={one.id} className="flex items-center gap-3 border-rule border-t py-2">
            <strong className="font-mono text-3xl">{left(one.ends_at, now)}</strong>
            <span className="flex-1">
              {one.name}, {one.timed}
            </span>
            {mayWork && (
              <button type="button" className="button" onClick={() => void stop(one.id)}>
                {new Date(one.ends_at).getTime() <= now ? "Heard" : "Stop"}
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
