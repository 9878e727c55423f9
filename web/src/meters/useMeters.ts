import { useQuery } from "@tanstack/react-query";
import { api, newId } from "../api/client";
import type { components } from "../api/schema";
import { keyOf } from "../queries/keys";
import { checksQuery, metersQuery, morningStandardQuery } from "../queries/shop";
import { useKeeping } from "../shared/keeping";

export type Standard = components["schemas"]["Standard"];
export type MeterCheck = components["schemas"]["MeterCheck"];
export type Kind = MeterCheck["kind"];
type NewStandard = components["schemas"]["NewStandardRequest"];

/** The shop's meters, what they are held against, and entering a check. */
export function useMeters() {
  const meters = useQuery(metersQuery());
  const standard = useQuery(morningStandardQuery());
  const keeping = useKeeping(
    (["meters", "morning-standard", "checks", "ohms"] as const).map((subject) => keyOf(subject)),
  );
  const keep = async (ask: () => Promise<{ data?: unknown }>) => (await keeping.keep(ask)) !== null;
  const check = (meter: number, kind: Kind, value: string) =>
    keep(() =>
      api.POST("/api/v1/meters/{meter}/checks", {
        params: { path: { meter } },
        body: { id: newId(), kind, value },
      }),
    );
  const setStandard = (body: NewStandard) => keep(() => api.PUT("/api/v1/morning-standard", { body }));
  const setMeter = (body: { name: string; lead_ohms: number; address: string; reader?: unknown }) =>
    keep(() => api.PUT("/api/v1/meters", { body }));
  return { meters, standard, problem: keeping.said, check, setStandard, setMeter };
}

export function useChecks(meter: number) {
  return useQuery(checksQuery(meter));
}
