import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useEffect } from "react";
import type { JobDetail } from "../api/client";
import type { Step } from "../job/StepLine";
import { jobLabel } from "../shared/words";
import { hours, useClock, useMinutesSince } from "./useClock";

/** The clock of this job's step: one press; it goes on while the page is closed, and moves along with the steps. */
export function Clock({ job, step }: { job: JobDetail; step: Step | null }) {
  const { running, start, stop } = useClock();
  const here = running?.job === job.number;
  const minutes = useMinutesSince(running?.at);
  const slug = step?.toLowerCase();
  // biome-ignore lint/correctness/useExhaustiveDependencies: when the step changes while the clock runs here
  useEffect(() => {
    if (here && step && running && running.step !== slug) void start(job.number, step);
  }, [slug, here, running?.step]);
  if (here)
    return (
      <button type="button" className="button-plain -ml-2" onClick={() => void stop()} data-testid="clock">
        <Trans>
          <strong>{hours(minutes)}</strong> at {running?.step}, stop
        </Trans>
      </button>
    );
  if (!step) return null;
  return (
    <button
      type="button"
      className="button-plain -ml-2"
      data-testid="clock"
      onClick={() => void start(job.number, step)}
    >
      <Trans>
        Start the clock
        {running ? t` (runs on ${jobLabel(running.job)})` : ""}
      </Trans>
    </button>
  );
}
