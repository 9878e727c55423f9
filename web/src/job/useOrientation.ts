import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type JobDetail, type Orientation } from "../api/client";
import { keyOf } from "../queries/keys";

/** How the card lies: shown at once, and kept with the job where the person may work. */
export function useOrientation(job: JobDetail, mayWork: boolean) {
  const [orientation, show] = useState<Orientation>(job.orientation);
  const queries = useQueryClient();
  const keep = useMutation({
    // one after another: the last that was chosen is the one that is kept
    scope: { id: `orientation ${job.number}` },
    mutationFn: async (body: Orientation) =>
      // a page that is left or loaded again does not cut it off
      api.PUT("/api/v1/jobs/{number}/orientation", {
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
  const setOrientation = (next: Orientation) => {
    show(next);
    if (mayWork) keep.mutate(next);
  };
  return { orientation, setOrientation };
}
