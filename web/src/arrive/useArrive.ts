import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { type Arrive, api, data, isKept, newId } from "../api/client";
import type { paths } from "../api/schema";

export interface SymptomEntry {
  often: "always" | "often" | "rarely";
  seen: string;
  began: string;
  conditions: string[];
  kinds: SymptomKind[];
}

export type SymptomKind = NonNullable<
  NonNullable<
    paths["/api/v1/jobs/{number}/symptom"]["post"]["requestBody"]
  >["content"]["application/json"]["kinds"]
>[number];

export interface IntakeEntry {
  serial: string;
  provenance: "unknown" | "new" | "used" | "open-box" | "broken" | "prototype";
  seals: "whole" | "broken" | "none";
  warranty: "" | "over" | "here" | "valid";
  came_with: string;
  missing: string;
  bare: boolean;
}

export interface EvidenceEntry {
  kind: "photograph" | "listing" | "log" | "measurement" | "repair" | "diagnosis" | "other";
  source: string;
  text: string;
  picture?: string;
  file?: string;
  file_name?: string;
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
      for (const other of ["hypotheses", "job"])
        void queries.invalidateQueries({ queryKey: [other, other === "job" ? String(number) : number] });
      return true;
    } catch (error) {
      setProblem((error as Error).message);
      return isKept(error);
    }
  };
  const params = { path: { number } };
  return {
    arrive,
    problem,
    takeIn: (entry: IntakeEntry) =>
      keep(() => api.POST("/api/v1/jobs/{number}/intake", { params, body: { id: newId(), ...entry } })),
    addEvidence: (entry: EvidenceEntry) =>
      keep(() => api.POST("/api/v1/jobs/{number}/evidence", { params, body: { id: newId(), ...entry } })),
    judge: (evidence: string, word: Arrive["evidence"][number]["word"]) =>
      keep(() =>
        api.POST("/api/v1/evidence/{evidence}/words", { params: { path: { evidence } }, body: { word } }),
      ),
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
