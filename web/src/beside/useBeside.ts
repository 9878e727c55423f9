import { useQuery } from "@tanstack/react-query";
import { api, type BesideCards, data } from "../api/client";

export type Other = BesideCards["others"][number];

/** A job's card beside another; `asked` is `job-12` or `card-UUID`, empty where none is chosen yet. */
export function useBeside(number: number, asked: string) {
  const [kind, ...rest] = asked.split("-");
  const id = rest.join("-");
  return useQuery({
    queryKey: ["beside", number, asked],
    queryFn: async () =>
      data(
        await api.GET("/api/v1/jobs/{number}/beside", {
          params: {
            path: { number },
            query: kind === "job" ? { job: Number(id) } : kind === "card" ? { reference: id } : {},
          },
        }),
      ),
  });
}

export function nameOf(other: Other): string {
  return other.job ? `job-${other.job}` : `card-${other.reference}`;
}
