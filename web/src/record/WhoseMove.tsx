import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, type JobDetail, newId } from "../api/client";

const MOVES = {
  hands: t`your hands`,
  customer: t`the customer’s word`,
  part: t`a part`,
  courier: t`the courier`,
} as const;

/** Waiting on: waiting is a state with a reason and a date; where the card lies, how pressing it is. */
export function WhoseMove({ job }: { job: JobDetail }) {
  const [entry, setEntry] = useState({
    move: job.move,
    waits_for: job.waits_for ?? "",
    due: job.due ?? "",
    place: job.place ?? "",
    express: job.express ?? false,
  });
  const [problem, setProblem] = useState("");
  const queries = useQueryClient();
  const change = (part: Partial<typeof entry>) => setEntry({ ...entry, ...part });
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    setProblem("");
    try {
      const params = { path: { number: job.number } };
      const body = { id: newId(), ...entry, due: entry.due || null };
      await api.POST("/api/v1/jobs/{number}/changes", { params, body });
      for (const key of [
        ["job", String(job.number)],
        ["shelf"],
        ["timeline", job.number],
        ["resume", job.number],
      ])
        await queries.invalidateQueries({ queryKey: key });
    } catch (error) {
      setProblem(t`${(error as Error).message} What you entered is kept here.`);
    }
  };
  return (
    <form onSubmit={submit} className="grid gap-3 sm:grid-cols-2" data-testid="whose-move">
      <h3 className="text-lg font-bold sm:col-span-2">
        <Trans>Waiting on</Trans>
      </h3>
      <label className="block">
        <span className="block text-soft">
          <Trans>it waits for</Trans>
        </span>
        <select
          className="field w-full"
          value={entry.move}
          onChange={(event) => change({ move: event.target.value as JobDetail["move"] })}
        >
          {Object.entries(MOVES).map(([word, says]) => (
            <option key={word} value={word}>
              {says}
            </option>
          ))}
        </select>
      </label>
      <label className="block">
        <span className="block text-soft">
          <Trans>due</Trans>
        </span>
        <input
          type="date"
          className="field w-full"
          value={entry.due}
          onChange={(event) => change({ due: event.target.value })}
        />
      </label>
      {entry.move !== "hands" && (
        <label className="block sm:col-span-2">
          <span className="block text-soft">
            <Trans>for what exactly</Trans>
          </span>
          <input
            className="field w-full"
            required
            maxLength={200}
            value={entry.waits_for}
            onChange={(event) => change({ waits_for: event.target.value })}
          />
        </label>
      )}
      <label className="block">
        <span className="block text-soft">
          <Trans>shelf place</Trans>
        </span>
        <input
          className="field w-full font-mono"
          maxLength={20}
          value={entry.place}
          onChange={(event) => change({ place: event.target.value })}
        />
      </label>
      <label className="flex items-center gap-3 self-end pb-2">
        <input
          type="checkbox"
          className="size-6"
          checked={entry.express}
          onChange={(event) => change({ express: event.target.checked })}
        />
        <Trans>express</Trans>
      </label>
      {problem && (
        <p role="alert" className="border-l-4 border-suspect pl-3 sm:col-span-2">
          {problem}
        </p>
      )}
      <p>
        <button type="submit" className="button">
          <Trans>Set it</Trans>
        </button>
      </p>
    </form>
  );
}
