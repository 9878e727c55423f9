import { useQuery } from "@tanstack/react-query";
import { api, data, type Kinds } from "../api/client";

const NONE: Kinds = { findings: [], groups: [], causes: [], acts: [], checks: [] };

/** Kinds of findings, causes, acts and checks with their words, as the core has them; empty until they are here. */
export function useKinds(): Kinds {
  const kinds = useQuery({
    queryKey: ["kinds"],
    queryFn: async () => data(await api.GET("/api/v1/kinds")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return kinds.data ?? NONE;
}
