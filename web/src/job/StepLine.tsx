import { Link } from "react-router";
import type { JobDetail } from "../api/client";

const STEPS = ["Arrive", "Look", "Ohms", "Volts", "Memory", "Rework", "Prove", "Return"] as const;

/** The eight stops in the order of the trade. Those whose work has no screen yet are named and lead nowhere. */
export function StepLine({ job }: { job: JobDetail }) {
  return (
    <nav aria-label="Steps" className="grid grid-cols-4 lg:grid-cols-8 border-b border-rule">
      {STEPS.map((step) =>
        step === "Memory" ? (
          <Link
            key={step}
            to={`/jobs/${job.number}/memory`}
            aria-current="step"
            className="border-t-4 border-ink bg-sheet px-4 py-1.5 focus-visible:-outline-offset-4"
          >
            <strong className="flex items-center gap-2">
              <StepSign state={memoryState(job)} /> {step}
            </strong>
            <span className="block text-[15px] text-soft">{memoryHolds(job)}</span>
          </Link>
        ) : (
          <div key={step} className="border-t-4 border-rule px-4 py-1.5 text-soft">
            <span className="flex items-center gap-2">
              <StepSign state="nothing" /> {step}
            </span>
            <span className="block text-[15px]">nothing yet</span>
          </div>
        ),
      )}
    </nav>
  );
}

function memoryHolds(job: JobDetail): string {
  if (job.runs === 0) return "nothing yet";
  const runs = `${job.runs} ${job.runs === 1 ? "run" : "runs"}`;
  if (job.mark) return `${runs}, ${job.mark.designator} marked`;
  const found = job.located?.finding;
  if (!found || found.kind === "unclear") return `${runs}, not clear`;
  if (found.kind === "no-errors") return `${runs}, clear`;
  return found.kind === "refused" ? `${runs}, refused` : `${runs}, 1 finding`;
}

type State = "nothing" | "clear" | "found" | "waiting";

function memoryState(job: JobDetail): State {
  if (job.move !== "hands") return "waiting";
  const kind = job.located?.finding.kind;
  if (!kind) return "nothing";
  return kind === "no-errors" ? "clear" : "found";
}

/** What a step holds, as a sign: a dotted ring, a filled dot, a pennant, an hourglass. */
function StepSign({ state }: { state: State }) {
  return (
    <svg viewBox="0 0 16 16" className="size-4 shrink-0" aria-hidden="true">
      {state === "nothing" && (
        <circle cx={8} cy={8} r={5} className="fill-none stroke-edge" strokeWidth={2} strokeDasharray="2 2" />
      )}
      {state === "clear" && <circle cx={8} cy={8} r={6} className="fill-good" />}
      {state === "found" && <path d="M3 15V1H14L11 4.5L14 8H4.5V15Z" className="fill-suspect" />}
      {state === "waiting" && <path d="M3 1H13V4L9 8L13 12V15H3V12L7 8L3 4Z" className="fill-soft" />}
    </svg>
  );
}
