import { useQuery } from "@tanstack/react-query";
import { type Arrive, api, newId } from "../api/client";
import type { paths } from "../api/schema";
import { arriveQuery } from "../queries/job";
import { keyOf } from "../queries/keys";
import { useKeeping } from "../shared/keeping";

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
  const key = arriveQuery(number).queryKey;
  const arrive = useQuery(arriveQuery(number));
  const keeping = useKeeping([keyOf("hypotheses", number), keyOf("job", String(number))]);
  const keep = async (ask: () => Promise<{ data?: Arrive }>) => (await keeping.keep(ask, key)) !== null;
  const params = { path: { number } };
  return {
    arrive,
    problem: keeping.said,
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
