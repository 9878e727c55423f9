import { t } from "@lingui/core/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, isKept, newId, Problem } from "../api/client";
import type { components } from "../api/schema";
import { afterAct } from "../job/afterAct";

export type ReworkData = components["schemas"]["JobRework"];
export type Before = components["schemas"]["Before"];
export type Do = components["schemas"]["ReworkDoEnum"];
export type NewRework = Omit<components["schemas"]["NewReworkRequest"], "id">;
type Planned = { site: string; do: Do; alloy_off?: string; alloy_on?: string; chip_in?: string };

/** What was done to a job's card, and entering more; a question that the server asks back is kept. */
export function useRework(number: number) {
  const queries = useQueryClient();
  const [problem, setProblem] = useState<Problem | null>(null);
  const key = ["rework", number];
  const params = { path: { number } };
  const rework = useQuery({
    queryKey: key,
    queryFn: async () => data(await api.GET("/api/v1/jobs/{number}/rework", { params })),
  });
  const keep = async (ask: () => Promise<{ data?: ReworkData }>) => {
    setProblem(null);
    try {
      queries.setQueryData(key, data(await ask()));
      afterAct(queries, number);
      return true;
    } catch (error) {
      setProblem(error instanceof Problem ? error : new Problem(0, "away", (error as Error).message, {}));
      return isKept(error);
    }
  };
  const enter = (body: NewRework) =>
    keep(() => api.POST("/api/v1/jobs/{number}/rework", { params, body: { id: newId(), ...body } }));
  const noteLot = (chip: string, lot: string) =>
    keep(() => api.POST("/api/v1/jobs/{number}/lots", { params, body: { id: newId(), chip, lot } }));
  /** A part that the model lacks is named once, with its place where that is known, and known from then on. */
  const declare = async (part: Declared) => {
    setProblem(null);
    try {
      const body = { id: newId(), ...part };
      data(await api.POST("/api/v1/jobs/{number}/declared-parts", { params, body }));
    } catch (error) {
      setProblem(error instanceof Problem ? error : new Problem(0, "away", (error as Error).message, {}));
    }
  };
  const keepCurve = (next: ReworkData) => queries.setQueryData(key, next);
  return { rework, problem, enter, noteLot, declare, keepCurve };
}

type Declared = Omit<components["schemas"]["DeclaredPartRequest"], "id">;
export type Reworking = ReturnType<typeof useRework>;

/** What to heed before a place is heated. */
export function useBefore(number: number, planned: Planned | null) {
  return useQuery({
    queryKey: ["before", number, planned],
    enabled: planned !== null,
    placeholderData: (old) => old,
    queryFn: async () => {
      if (!planned) throw new Error(t`nothing planned`);
      const query = Object.fromEntries(Object.entries(planned).filter(([, value]) => value)) as Planned;
      return data(
        await api.GET("/api/v1/jobs/{number}/rework/before", { params: { path: { number }, query } }),
      );
    },
  });
}
