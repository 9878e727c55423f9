import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, newId } from "../api/client";
import type { components } from "../api/schema";
import { afterAct } from "../job/afterAct";
import { reworkQuery } from "../queries/job";
import { NOTHING_ELSE, useKeeping } from "../shared/keeping";

export type ReworkData = components["schemas"]["JobRework"];
export type Before = components["schemas"]["Before"];
export type Do = components["schemas"]["ReworkDoEnum"];
export type NewRework = Omit<components["schemas"]["NewReworkRequest"], "id">;

/** What was done to a job's card, and entering more; a question that the server asks back is kept. */
export function useRework(number: number) {
  const queries = useQueryClient();
  const key = reworkQuery(number).queryKey;
  const params = { path: { number } };
  const rework = useQuery(reworkQuery(number));
  const keeping = useKeeping([], () => afterAct(queries, number));
  const keep = async (ask: () => Promise<{ data?: ReworkData }>) => (await keeping.keep(ask, key)) !== null;
  // how many acts were entered from here: with each of them the form begins anew, not with somebody else's
  const [entered, setEntered] = useState(0);
  const enter = async (body: NewRework) => {
    const ask = () => api.POST("/api/v1/jobs/{number}/rework", { params, body: { id: newId(), ...body } });
    const kept = await keep(ask);
    if (kept) setEntered((times) => times + 1);
    return kept;
  };
  const noteLot = (chip: string, lot: string) =>
    keep(() => api.POST("/api/v1/jobs/{number}/lots", { params, body: { id: newId(), chip, lot } }));
  /** A part that the model lacks is named once, with its place where that is known, and known from then on. */
  const declare = async (part: Declared) => {
    const body = { id: newId(), ...part };
    await keeping.keep(
      () => api.POST("/api/v1/jobs/{number}/declared-parts", { params, body }),
      undefined,
      undefined,
      NOTHING_ELSE,
    );
  };
  const keepCurve = (next: ReworkData) => queries.setQueryData(key, next);
  const problem = keeping.problem;
  return { rework, problem, enter, entered, noteLot, declare, keepCurve };
}

type Declared = Omit<components["schemas"]["NewDeclaredRequest"], "id">;
export type Reworking = ReturnType<typeof useRework>;
