import { useQuery } from "@tanstack/react-query";
import { api, data } from "../api/client";
import type { components } from "../api/schema";

export type ReturnData = components["schemas"]["JobReturn"];
export type Offer = components["schemas"]["Offer"];

export function returnKey(number: number) {
  return ["return", number] as const;
}

/** What is to be settled before a card leaves, and what became of it. */
export function useReturn(number: number, noFix: boolean) {
  return useQuery({
    queryKey: [...returnKey(number), noFix],
    placeholderData: (old) => old,
    queryFn: async () =>
      data(
        await api.GET("/api/v1/jobs/{number}/return", {
          params: { path: { number }, query: noFix ? { no_fix: true } : {} },
        }),
      ),
  });
}
