import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, newId } from "../api/client";
import { slotQuery } from "../queries/job";
import { keyOf } from "../queries/keys";
import { useKeeping } from "../shared/keeping";

/** The slot contacts of a job's card; recording that one is torn, and taking that back. */
export function useSlot(number: number) {
  const queries = useQueryClient();
  const key = slotQuery(number).queryKey;
  const params = { path: { number } };
  const slot = useQuery(slotQuery(number));
  const follow = async () => {
    await queries.invalidateQueries({ queryKey: key });
    for (const step of ["look", "teardown"] as const)
      void queries.invalidateQueries({ queryKey: keyOf(step, number) });
    void queries.invalidateQueries({ queryKey: keyOf("job", String(number)) });
  };
  const keeping = useKeeping([], follow);
  const keep = async (ask: () => Promise<{ data?: unknown }>) => (await keeping.keep(ask)) !== null;
  const tear = (contact: string, side: "front" | "back") =>
    keep(() =>
      api.POST("/api/v1/jobs/{number}/look/findings", {
        params,
        body: { id: newId(), kind: "contact", side, contact },
      }),
    );
  const mend = (finding: string) =>
    keep(() => api.POST("/api/v1/look-findings/{finding}/withdrawal", { params: { path: { finding } } }));
  return { slot, problem: keeping.said, tear, mend, follow };
}
