/** A server that is away for a moment takes nothing from under the hands. */
import type { Query, QueryClient } from "@tanstack/react-query";
import { Problem } from "../api/client";

/** Whether nobody answered, or a server that is broken did: what was told before is the best that is known. */
function isAway(error: unknown): boolean {
  return !(error instanceof Problem) || error.status === 0 || error.status >= 500;
}

/**
 * What is shown stays shown when it cannot be asked anew, with all that is typed beside it. What was never answered
 * says that it was not, and what is gone or may be seen no more says so.
 */
export function stayShown(error: unknown, query: Query<unknown, unknown>) {
  // whether others are here is not known while nobody says so
  if (query.queryKey[0] === "live" || query.state.data === undefined || !isAway(error)) return;
  query.setState({ status: "success", error: null, isInvalidated: true });
}

/** The server answers again: all that could not be asked meanwhile is asked now. */
export function askMissed(queries: QueryClient) {
  void queries.invalidateQueries({
    predicate: ({ queryKey, state }) =>
      queryKey[0] !== "live" && (state.isInvalidated || state.status === "error"),
  });
}
