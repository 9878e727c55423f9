import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, newId } from "../api/client";
import type { components } from "../api/schema";

export type Standard = components["schemas"]["Standard"];
export type MeterCheck = components["schemas"]["MeterCheck"];
export type Kind = MeterCheck["kind"];
type NewStandard = components["schemas"]["NewStandardRequest"];

/** The shop's meters, what they are held against, and entering a check. */
export function useMeters() {
  const queries = useQueryClient();
  const [problem, setProblem] = useState("");
  const meters = useQuery({
    queryKey: ["meters"],
    queryFn: async () => data(await api.GET("/api/v1/meters")),
  });
  const standard = useQuery({
    queryKey: ["morning-standard"],
    queryFn: async () => data(await api.GET("/api/v1/morning-standard")),
  });
  const keep = async (ask: () => Promise<unknown>) => {
    setProblem("");
    try {
      await ask();
      for (const key of ["meters", "morning-standard", "checks", "ohms"])
        await queries.invalidateQueries({ queryKey: [key] });
      return true;
    } catch (error) {
      setProblem((error as Error).message);
      return false;
    }
  };
  const check = (meter: number, kind: Kind, value: string) =>
    keep(async () =>
      data(
        await api.POST("/api/v1/meters/{meter}/checks", {
          params: { path: { meter } },
          body: { id: newId(), kind, value },
        }),
      ),
    );
  const setStandard = (body: NewStandard) =>
    keep(async () => data(await api.PUT("/api/v1/morning-standard", { body })));
  const setMeter = (body: { name: string; lead_ohms: number; address: string; reader?: unknown }) =>
    keep(async () => data(await api.PUT("/api/v1/meters", { body })));
  return { meters, standard, problem, check, setStandard, setMeter };
}

export function useChecks(meter: number) {
  return useQuery({
    queryKey: ["checks", meter],
    queryFn: async () =>
      data(await api.GET("/api/v1/meters/{meter}/checks", { params: { path: { meter } } })),
  });
}
