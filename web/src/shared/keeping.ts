import { type QueryKey, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { data, isKept, Problem } from "../api/client";

/** Sends an entry, puts its answer where it is shown, and keeps what the server said against it. */
export function useKeeping(stale: readonly QueryKey[]) {
  const queries = useQueryClient();
  const [problem, setProblem] = useState<Problem | null>(null);
  const [busy, setBusy] = useState(false);
  const keep = async <Answer>(
    ask: () => Promise<{ data?: Answer }>,
    key?: QueryKey,
  ): Promise<Answer | "kept" | null> => {
    setProblem(null);
    setBusy(true);
    try {
      const answer = data(await ask());
      if (key) queries.setQueryData(key, answer);
      for (const array of stale) void queries.invalidateQueries({ queryKey: array });
      return answer;
    } catch (error) {
      setProblem(error instanceof Problem ? error : new Problem(0, "away", (error as Error).message, {}));
      return isKept(error) ? "kept" : null;
    } finally {
      setBusy(false);
    }
  };
  return { problem, busy, keep };
}
