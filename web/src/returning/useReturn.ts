import { useQuery } from "@tanstack/react-query";
import type { components } from "../api/schema";
import { returnQuery } from "../queries/job";

export type ReturnData = components["schemas"]["JobReturn"];
export type Offer = components["schemas"]["Offer"];

/** What is to be settled before a card leaves, and what became of it. */
export function useReturn(number: number, noFix: boolean) {
  return useQuery(returnQuery(number, noFix));
}
