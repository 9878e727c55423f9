import { type QueryKey, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { data, isKept, Problem } from "../api/client";

/** Nothing else is made stale by an entry. */
export const NOTHING_ELSE = () => undefined;

/**
 * The one way to enter something: sends it, puts the answer where it is shown, asks anew what it made stale, and keeps
 * what the server said against it. An entry that the outbox keeps while the server is away counts as entered.
 */
export function useKeeping(stale: readonly QueryKey[], after?: () => unknown) {
  const queries = useQueryClient();
  const [problem, setProblem] = useState<Problem | null>(null);
  const [busy, setBusy] = useState(false);
  /**
   * `shown` is where the answer is shown; `asksBack` takes what is a question rather than a refusal; `instead`
   * follows this entry in place of what usually does. Gives the answer, "kept" where the outbox has the entry, null where it was not taken.
   */
  const keep = async <Answer>(
    ask: () => Promise<{ data?: Answer }>,
    shown?: QueryKey,
    asksBack?: (problem: Problem) => boolean,
    instead?: () => unknown,
  ): Promise<Answer | "kept" | null> => {
    setProblem(null);
    setBusy(true);
    try {
      const answer = data(await ask());
      if (shown) queries.setQueryData(shown, answer);
      if (!instead) for (const key of stale) void queries.invalidateQueries({ queryKey: key });
      await (instead ?? after)?.();
      return answer;
    } catch (error) {
      const told = error instanceof Problem ? error : new Problem(0, "away", (error as Error).message, {});
      if (!asksBack?.(told)) setProblem(told);
      return isKept(error) ? "kept" : null;
    } finally {
      setBusy(false);
    }
  };
  const forget = () => setProblem(null);
  return { problem, said: problem?.message ?? "", busy, keep, forget };
}
