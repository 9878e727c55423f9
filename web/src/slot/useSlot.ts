import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, isKept, newId } from "../api/client";

/** The slot contacts of a job's card; recording that one is torn, and taking that back. */
export function useSlot(number: number) {
  const queries = useQueryClient();
  const [problem, setProblem] = useState("");
  const key = ["slot", number];
  const params = { path: { number } };
  const slot = useQuery({
    queryKey: key,
    queryFn: async () => data(await api.GET("/api/v1/jobs/{number}/slot", { params })),
  });
  const follow = async () => {
    await queries.invalidateQueries({ queryKey: key });
    for (const room of ["look", "teardown"]) void queries.invalidateQueries({ queryKey: [room, number] });
    void queries.invalidateQueries({ queryKey: ["job", String(number)] });
  };
  const keep = async (ask: () => Promise<unknown>) => {
    setProblem("");
    try {
      await ask();
      await follow();
      return true;
    } catch (error) {
      setProblem((error as Error).message);
      return isKept(error);
    }
  };
  const tear = (contact: string, side: "front" | "back") =>
    keep(async () =>
      data(
        await api.POST("/api/v1/jobs/{number}/look/findings", {
          params,
          body: { id: newId(), kind: "contact", side, contact },
        }),
      ),
    );
  const mend = (finding: string) =>
    keep(async () =>
      data(await api.POST("/api/v1/look-findings/{finding}/withdrawal", { params: { path: { finding } } })),
    );
  return { slot, problem, tear, mend, follow };
}
