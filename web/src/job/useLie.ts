import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type JobDetail, type Lie } from "../api/client";
import { keyOf } from "../queries/keys";

/** How the card lies: shown at once, and kept with the job where the person may work. */
export function useLie(job: JobDetail, mayWork: boolean) {
  const [lie, setLie] = useState<Lie>(job.lie);
  const queries = useQueryClient();
  const keep = useMutation({
    // one after another: the last that was chosen is the one that is kept
    scope: { id: `lie ${job.number}` },
    mutationFn: async (body: Lie) =>
      // a page that is left or loaded again does not cut it off
      api.PUT("/api/v1/jobs/{number}/lie", {
        params: { path: { number: job.number } },
        body,
        keepalive: true,
      }),
    retry: 3,
    onSuccess: () => {
      // not waited for: the next turn would stand in line behind the whole job
      void queries.invalidateQueries({ queryKey: keyOf("job", String(job.number)) });
    },
  });
  const lay = (next: Lie) => {
    setLie(next);
    if (mayWork) keep.mutate(next);
  };
  return { lie, lay };
}
