import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, isKept, newId } from "../api/client";

/** How far a job's card is taken apart, and entering more. */
export function useTeardown(number: number) {
  const queries = useQueryClient();
  const [problem, setProblem] = useState("");
  const key = ["teardown", number];
  const params = { path: { number } };
  const teardown = useQuery({
    queryKey: key,
    queryFn: async () => data(await api.GET("/api/v1/jobs/{number}/teardown", { params })),
  });
  const done = async (step: string, way: "off" | "on", count: number, note = "") => {
    setProblem("");
    try {
      const body = { id: newId(), step, way, count, note };
      queries.setQueryData(key, data(await api.POST("/api/v1/jobs/{number}/teardown", { params, body })));
      await queries.invalidateQueries({ queryKey: ["owed", number] });
      return true;
    } catch (error) {
      setProblem((error as Error).message);
      return isKept(error);
    }
  };
  return { teardown, problem, done };
}
