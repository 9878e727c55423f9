import { useQuery } from "@tanstack/react-query";
import type { components } from "../api/schema";
import { kindsQuery } from "../queries/shop";

export type Kinds = components["schemas"]["Kinds"];
type Named = components["schemas"]["Named"];

const NONE: Kinds = {
  findings: [],
  groups: [],
  causes: [],
  actions: [],
  acts: [],
  checks: [],
  rungs: [],
  refusals: [],
  landmarks: [],
  points: [],
  parts: [],
  nodes: [],
  pin_uses: [],
  promises: [],
  comebacks: [],
  materials: [],
  log_columns: [],
  stock: [],
  conditions: [],
  value_sources: [],
  figures: [],
  moves: [],
  roles: [],
  tried: [],
  came_of: [],
  codes: [],
};

/** All kinds with their words, as the core and the shop have them; empty until they are here. */
export function useKinds(): Kinds {
  const kinds = useQuery(kindsQuery());
  return kinds.data ?? NONE;
}

/** Kinds as a select offers them. */
export function optionsOf<Kind extends string>(named: readonly Named[]): (readonly [Kind, string])[] {
  return named.map(({ name, words }) => [name as Kind, words] as const);
}

/** What a kind is called; one that is not known stands as it is. */
export function wordsOf(named: readonly Named[], name: string): string {
  return named.find((entry) => entry.name === name)?.words ?? name;
}

/** Says codes of the API as a sentence has them. */
export function useCodeWords(): (code: string) => string {
  const { codes } = useKinds();
  return (code) => wordsOf(codes, code);
}
