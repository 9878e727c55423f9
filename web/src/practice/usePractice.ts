import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, newId } from "../api/client";
import type { paths } from "../api/schema";
import { afterAct } from "../job/afterAct";
import { debriefQuery, jobPracticeQuery } from "../queries/practice";
import { useKeeping } from "../shared/keeping";

type Entry =
  paths["/api/v1/jobs/{number}/practice/steps"]["post"]["requestBody"]["content"]["application/json"];
export type Asked = Omit<Entry, "id" | "despite"> & { despite?: boolean };
export type Ended =
  paths["/api/v1/jobs/{number}/practice/end"]["post"]["requestBody"]["content"]["application/json"]["ended"];

/** The bench of a job of Practice: what its instruments answer, help, the end. */
export function usePractice(number: number) {
  const queries = useQueryClient();
  const bench = useQuery(jobPracticeQuery(number));
  const [answer, setAnswer] = useState<{ words: string[]; harm: string[] } | null>(null);
  const keeping = useKeeping([], () => afterAct(queries, number));
  const params = { path: { number } };
  const ask = async (asked: Asked) => {
    const said = await keeping.keep(() =>
      api.POST("/api/v1/jobs/{number}/practice/steps", {
        params,
        body: { id: newId(), despite: false, ...asked },
      }),
    );
    if (said && said !== "kept") setAnswer(said);
    return said !== null;
  };
  const help = () =>
    keeping.keep(
      () => api.POST("/api/v1/jobs/{number}/practice/help", { params }),
      jobPracticeQuery(number).queryKey,
    );
  const end = async (ended: Ended) =>
    (await keeping.keep(
      () => api.POST("/api/v1/jobs/{number}/practice/end", { params, body: { ended } }),
      debriefQuery(number).queryKey,
    )) !== null;
  return { ...keeping, bench, answer, ask, help, end };
}
