import { type QueryClient, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, isOwnRequest, type LiveAnswer } from "../api/client";
import { afterAct } from "../job/afterAct";
import { noteAnswer, noteFailure } from "../queries/away";
import { keyOf } from "../queries/keys";

const AGAIN_MS = 1_500;
const AWAY_MS = 10_000;
// what lists of the whole shop show; what is filled in as a form is not asked again under somebody's hands
const OF_THE_SHOP = new Set([
  ...["shelf", "tasks", "parcels", "reminders", "mailbox", "customers"],
  ...["stock", "life", "values"],
  ...["board-models", "families", "recipes", "readers", "packages", "bench-plans", "pinouts"],
  ...["meters", "supplies", "checks"],
]);
// of the server's clock; what was told before is told once more for a few seconds
let since: string | undefined;
const seen = new Set<string>();
const MOST_SEEN = 2_000;
const NOBODY: string[] = [];

/** Asks what others entered, and shows it on whatever is open; gives who else has this job's page open. */
export function useLive(job: number | null): string[] {
  const queries = useQueryClient();
  // only who is here is kept of an answer: what asks again and again must not draw the page again and again
  const live = useQuery({
    queryKey: keyOf("live", job),
    staleTime: 0,
    retry: false,
    gcTime: 0,
    refetchInterval: (query) => (query.state.status === "error" ? AWAY_MS : AGAIN_MS),
    queryFn: async () => {
      const query = { ...(since && { since }), ...(job && { job }) };
      try {
        const told = data(await api.GET("/api/v1/live", { params: { query } }));
        noteAnswer(queries);
        apply(queries, told);
        return told.others;
      } catch (error) {
        noteFailure(error);
        throw error;
      }
    },
  });
  return live.isError ? NOBODY : (live.data ?? NOBODY);
}

/** Ask anew for what others' changes may have made old. */
export function apply(queries: QueryClient, told: LiveAnswer) {
  const first = since === undefined;
  since = told.at;
  if (told.all && !first) {
    // what is asked once for good (a draft's start) stays, or somebody's work in hand would be laid over
    void queries.invalidateQueries({
      predicate: ({ queryKey: [what], options }) =>
        what !== "live" && !("staleTime" in options && options.staleTime === Number.POSITIVE_INFINITY),
    });
    return;
  }
  const fresh = told.changes.filter((change) => !seen.has(change.request) && !isOwnRequest(change.request));
  if (seen.size > MOST_SEEN) seen.clear();
  for (const change of told.changes) seen.add(change.request);
  if (fresh.length === 0) return;
  for (const job of new Set(fresh.map((change) => change.job))) if (job !== null) afterAct(queries, job);
  void queries.invalidateQueries({
    predicate: ({ queryKey: [what] }) => OF_THE_SHOP.has(String(what)),
  });
}
