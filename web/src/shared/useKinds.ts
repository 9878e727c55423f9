import { useQuery } from "@tanstack/react-query";
import type { Kinds } from "../api/client";
import { kindsQuery } from "../queries/shop";

const NONE: Kinds = { findings: [], groups: [], causes: [], acts: [], checks: [] };

/** Kinds of findings, causes, acts and checks with their words, as the core has them; empty until they are here. */
export function useKinds(): Kinds {
  const kinds = useQuery(kindsQuery());
  return kinds.data ?? NONE;
}
