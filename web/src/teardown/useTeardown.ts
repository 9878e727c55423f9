import { useQuery } from "@tanstack/react-query";
import { api, newId } from "../api/client";
import { teardownQuery } from "../queries/job";
import { keyOf } from "../queries/keys";
import { useKeeping } from "../shared/keeping";

/** How far a job's card is taken apart, and entering more. */
export function useTeardown(number: number) {
  const keeping = useKeeping([keyOf("owed", number)]);
  const params = { path: { number } };
  const teardown = useQuery(teardownQuery(number));
  const done = async (step: string, way: "off" | "on", count: number, note = "") => {
    const body = { id: newId(), step, way, count, note };
    const answer = await keeping.keep(
      () => api.POST("/api/v1/jobs/{number}/teardown", { params, body }),
      teardownQuery(number).queryKey,
    );
    return answer !== null;
  };
  return { teardown, problem: keeping.said, done };
}
