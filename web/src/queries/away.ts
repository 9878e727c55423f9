/** A server that is away for a moment takes nothing from under the hands. */
import type { Query, QueryClient } from "@tanstack/react-query";
import { useSyncExternalStore } from "react";
import { Problem } from "../api/client";

/** Whether nobody answered, or a server that is broken did: what was told before is the best that is known. */
function isAway(error: unknown): boolean {
  return !(error instanceof Problem) || error.status === 0 || error.status >= 500;
}

// what could not be asked of a server that answers otherwise is asked again after so long
const AGAIN_MS = 10_000;
// whether the server was away when it was last asked what is new, when it last answered that, and when asking
// anything for what is shown failed last
let away = false;
let answered: Date | undefined;
let missed = Number.POSITIVE_INFINITY;
// of when what is shown is, while the server is away
let from: Date | undefined;
const listeners = new Set<() => void>();

/**
 * What is shown stays shown when it cannot be asked anew, with all that is typed beside it. What was never answered
 * says that it was not, and what is gone or may be seen no more says so.
 */
export function stayShown(error: unknown, query: Query<unknown, unknown>) {
  // whether others are here is not known while nobody says so
  if (query.queryKey[0] === "live" || query.state.data === undefined || !isAway(error)) return;
  query.setState({ status: "success", error: null, isInvalidated: true });
  missed = Date.now();
}

/** The server answers what is new: what could not be asked while it did not, or was broken, is asked now. */
export function noteAnswer(queries: QueryClient) {
  answered = new Date();
  if (away || answered.getTime() - missed >= AGAIN_MS) askMissed(queries);
  away = false;
  tell(undefined);
}

/** What is new was not told; where nobody answers, or a broken server does, what is shown is of its last answer. */
export function noteFailure(error: unknown) {
  away = true;
  tell(isAway(error) ? answered : undefined);
}

function askMissed(queries: QueryClient) {
  missed = Number.POSITIVE_INFINITY;
  void queries.invalidateQueries({
    predicate: ({ queryKey, state }) =>
      queryKey[0] !== "live" && (state.isInvalidated || state.status === "error"),
  });
}

function tell(next: Date | undefined) {
  if (next === from) return;
  from = next;
  for (const listener of listeners) listener();
}

/** When what is shown was told, while the server is away; undefined while it answers. */
export function useShownFrom(): Date | undefined {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => from,
  );
}
