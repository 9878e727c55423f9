import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { type Arrive, api, data, newId } from "../api/client";

export interface SymptomEntry {
  often: "always" | "often" | "rarely";
  seen: string;
  began: string;
  conditions: string[];
}

/** What is known of a card before it is opened, and entering more. */
export function useArrive(number: number) {
  const queries = useQueryClient();
  const [problem, setProblem] = useState("");
  const key = ["arrive", number];
  const arrive = useQuery({
    queryKey: key,
    queryFn: async () =>
      data(await api.GET("/api/v1/jobs/{number}/arrive", { params: { path: { number } } })),
  });
  const keep = async (ask: () => Promise<{ data?: Arrive }>) => {
    setProblem("");
    try {
      queries.setQueryData(key, data(await ask()));
      return true;
    } catch (error) {
      setProblem((error as Error).message);
      return false;
    }
  };
  const params = { path: { number } };
  return {
    arrive,
    problem,
    say: (entry: SymptomEntry) =>
      keep(() => api.POST("/api/v1/jobs/{number}/symptom", { params, body: { id: newId(), ...entry } })),
    trial: (cell: string, shows: boolean, tries: number) =>
      keep(() =>
        api.POST("/api/v1/jobs/{number}/trials", {
          params,
          body: { id: newId(), cell: cell as "own", shows, tries },
        }),
      ),
    withdraw: (trial: string) =>
      keep(() => api.POST("/api/v1/trials/{trial}/withdrawal", { params: { path: { trial } } })),
    reproduce: (load: string, minutes: number, outcome: string) =>
      keep(() =>
        api.POST("/api/v1/jobs/{number}/reproductions", {
          params,
          body: { id: newId(), load, minutes, outcome },
        }),
      ),
  };
}
