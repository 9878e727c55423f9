import { useQuery } from "@tanstack/react-query";
import type { BesideCards } from "../api/client";
import { besideQuery } from "../queries/job";

export type Other = BesideCards["others"][number];

/** A job's card beside another; `asked` is `job-12` or `card-UUID`, empty where none is chosen yet. */
export function useBeside(number: number, asked: string) {
  return useQuery(besideQuery(number, asked));
}

export function nameOf(other: Other): string {
  return other.job ? `job-${other.job}` : `card-${other.reference}`;
}
