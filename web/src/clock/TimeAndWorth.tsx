import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, type JobDetail, type JobTime, newId } from "../api/client";
import { timeQuery } from "../queries/job";
import { keyOf } from "../queries/keys";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";
import { decimalOf, numberOf } from "../shared/numbers";
import { amount } from "../shared/words";
import { hours } from "./useClock";

const VERDICTS = { "go-on": t`Go on`, over: t`Beyond the budget`, stop: t`Stop`, open: t`Open` } as const;

/** Time by step, the budget from the card's value, whether going on is worth it, tasks for other hands. */
export function TimeAndWorth({ job, mayWork }: { job: JobDetail; mayWork: boolean }) {
  const { problem, keep } = useKeeping([]);
  const key = timeQuery(job.number).queryKey;
  const params = { path: { number: job.number } };
  const time = useQuery(timeQuery(job.number));
  const enter = async (ask: () => Promise<{ data?: JobTime }>) => (await keep(ask, key)) !== null;
  if (!time.data) return null;
  const { steps, minutes, running, worth, money } = time.data;
  const share = worth ? Math.min(1, minutes / Math.max(worth.budget_minutes, 1)) : 0;
  const long = running.filter((entry) => entry.minutes > LONG_MINUTES);
  return (
    <section aria-labelledby="time-title" data-testid="time">
      <h3 id="time-title" className="text-lg font-bold">
        <Trans>Time and worth</Trans>
      </h3>
      <p>
        <strong>{hours(minutes)}</strong>
        {worth && t` of ${hours(worth.budget_minutes)}`}
        {steps.length > 0 && (
          <span className="text-soft">
            {" "}
            ({steps.map((step) => `${step.step} ${hours(step.minutes)}`).join(", ")})
          </span>
        )}
      </p>
      {worth && (
        <>
          <span className="mt-1 block h-2 rounded bg-rule">
            <span
              className={`block h-2 rounded ${worth.left_minutes < 0 ? "bg-suspect" : "bg-ink"}`}
              style={{ width: `${Math.max(1, 100 * share)}%` }}
            />
          </span>
          <p className="mt-2">
            <strong>{VERDICTS[worth.verdict]}.</strong> {worth.why}
            {worth.own && t` Chance and minutes are the technician’s own.`}{" "}
            <span className="text-soft">
              <Trans>Spent so far: {amount(Math.round(worth.spent), money.currency)}.</Trans>
            </span>
          </p>
        </>
      )}
      {long.map((entry) => (
        <Overnight
          key={entry.id}
          minutes={entry.minutes}
          by={entry.by}
          put={(said) =>
            enter(() =>
              api.POST("/api/v1/clocks/{span}/minutes", {
                params: { path: { span: entry.id } },
                body: { minutes: said },
              }),
            )
          }
        />
      ))}
      <FormError problem={problem} />
      <SayWorth
        key={worth?.at ?? "none"}
        worth={worth}
        currency={money.currency}
        say={(entry) =>
          enter(() => api.POST("/api/v1/jobs/{number}/worth", { params, body: { id: newId(), ...entry } }))
        }
      />
      <Tasks job={job} time={time.data} keep={enter} mayWork={mayWork} />
    </section>
  );
}

// a clock that runs longer than a working day was forgotten
const LONG_MINUTES = 8 * 60;

interface OvernightProps {
  minutes: number;
  by: string;
  put: (minutes: number) => Promise<boolean>;
}

function Overnight({ minutes, by, put }: OvernightProps) {
  const [said, setSaid] = useState("");
  const number = decimalOf(said);
  return (
    <form
      className="mt-2 flex items-end gap-3 border-l-4 border-ink bg-tray px-3 py-2"
      onSubmit={(event) => {
        event.preventDefault();
        void put(number);
      }}
    >
      <p className="flex-1">
        <Trans>
          The clock of {by} runs since {hours(minutes)}. How long was it really?
        </Trans>
      </p>
      <label className="w-24">
        <span className="block text-soft">
          <Trans>minutes</Trans>
        </span>
        <input
          className="field w-full font-mono"
          inputMode="decimal"
          value={said}
          onChange={(event) => setSaid(event.target.value)}
        />
      </label>
      <button
        type="submit"
        className="button"
        disabled={!said.trim() || !Number.isFinite(number) || number < 0}
      >
        <Trans>Put it right</Trans>
      </button>
    </form>
  );
}

interface SayWorthProps {
  worth: JobTime["worth"];
  currency: string;
  say: (entry: { value: number; chance: number | null; minutes: number | null }) => Promise<boolean>;
}

function SayWorth({ worth, currency, say }: SayWorthProps) {
  const [value, setValue] = useState(worth ? String(worth.value) : "");
  const [chance, setChance] = useState("");
  const [minutes, setMinutes] = useState("");
  const entry = {
    value: numberOf(value) ?? Number.NaN,
    chance: numberOf(chance),
    minutes: numberOf(minutes),
  };
  const fits =
    entry.value >= 0 &&
    (entry.chance === null || (entry.chance >= 0 && entry.chance <= 1)) &&
    (entry.minutes === null || entry.minutes >= 0) &&
    (entry.chance === null) === (entry.minutes === null);
  return (
    <form
      className="mt-2 flex flex-wrap items-end gap-2"
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        void say(entry);
      }}
    >
      {(
        [
          [t`worth repaired, ${currency}`, value, setValue],
          [t`own chance, 0 to 1`, chance, setChance],
          [t`minutes it takes`, minutes, setMinutes],
        ] as const
      ).map(([label, text, set]) => (
        <label key={label} className="min-w-28 flex-1">
          <span className="block text-soft">{label}</span>
          <input
            className="field w-full font-mono"
            inputMode="decimal"
            value={text}
            onChange={(event) => set(event.target.value)}
          />
        </label>
      ))}
      <button type="submit" className="button" disabled={!fits}>
        <Trans>Reckon</Trans>
      </button>
    </form>
  );
}

interface TasksProps {
  job: JobDetail;
  time: JobTime;
  keep: (ask: () => Promise<{ data?: JobTime }>) => Promise<boolean>;
  mayWork: boolean;
}

/** What a colleague can do meanwhile. */
function Tasks({ job, time, keep }: TasksProps) {
  const [words, setWords] = useState("");
  const queries = useQueryClient();
  const params = { path: { number: job.number } };
  const add = async (event: FormEvent) => {
    event.preventDefault();
    const body = { id: newId(), words: words.trim() };
    if (await keep(() => api.POST("/api/v1/jobs/{number}/tasks", { params, body }))) setWords("");
  };
  const move = async (task: string, way: "taken" | "done") => {
    const path = { task };
    if (way === "taken") await api.POST("/api/v1/tasks/{task}/taken", { params: { path } });
    else await api.POST("/api/v1/tasks/{task}/done", { params: { path } });
    await queries.invalidateQueries({ queryKey: keyOf("time", job.number) });
    await queries.invalidateQueries({ queryKey: keyOf("tasks") });
  };
  return (
    <>
      <ul aria-label={t`Tasks`} className="mt-3">
        {time.tasks.map((task) => (
          <li key={task.id} className="flex items-baseline gap-3 border-t border-rule py-1">
            <span className="min-w-0 flex-1">
              <strong>{task.words}</strong>{" "}
              <span className="text-soft">
                {task.taken_by ? t`taken by ${task.taken_by}` : t`asked by ${task.by}`}
              </span>
            </span>
            <button
              type="button"
              className="button shrink-0"
              onClick={() => void move(task.id, task.taken_by ? "done" : "taken")}
            >
              {task.taken_by ? t`Done` : t`I take it`}
            </button>
          </li>
        ))}
      </ul>
      <form onSubmit={add} className="mt-2 flex items-end gap-2">
        <label className="min-w-0 flex-1">
          <span className="block text-soft">
            <Trans>a task for other hands</Trans>
          </span>
          <input
            className="field w-full"
            maxLength={200}
            value={words}
            onChange={(event) => setWords(event.target.value)}
          />
        </label>
        <button type="submit" className="button" disabled={!words.trim()}>
          <Trans>Hand it over</Trans>
        </button>
      </form>
    </>
  );
}
