import { Link } from "react-router";
import type { JobDetail } from "../api/client";
import { Clock } from "../clock/Clock";
import { percent } from "../shared/words";
import { mayWorkAtBench, useSession } from "../signin/session";
import type { Step } from "./StepLine";

const POWER = {
  "": "power state unknown",
  off: "unplugged, discharged",
  supply: "on the supply",
  computer: "in the computer",
} as const;

/** Job, card, the complaint in the customer's words, and the one sentence: what is next and why. */
export function JobStrip({ job, step }: { job: JobDetail; step: Step | null }) {
  const session = useSession();
  const mayWork = mayWorkAtBench(session.data?.person);
  return (
    <header className="grid items-center lg:grid-cols-[auto_1fr_minmax(20rem,38%)] gap-x-6 gap-y-2 border-b border-rule px-5 py-2.5">
      <div>
        <h1 className="font-mono text-3xl font-bold leading-tight">
          <Link to={`/jobs/${job.number}`} title="Where it was left, and its history">
            {job.label}
          </Link>
        </h1>
        <p className="text-soft">
          {job.place ? `shelf ${job.place}` : "no shelf place"}
          {job.express && <strong className="ml-2 text-ink">express</strong>}
        </p>
        <p className="flex items-baseline gap-4 whitespace-nowrap">
          <span data-testid="power-state">{POWER[job.measured.power]}</span>
          {mayWork && <Clock job={job} step={step} />}
        </p>
      </div>
      <div className="min-w-0">
        <p className="truncate">
          <strong className="text-lg">{job.model}</strong>{" "}
          <span className="font-mono text-soft">{job.serial}</span>
        </p>
        <p className="line-clamp-2 text-soft" title={job.complaint}>
          “{job.complaint}” <span className="not-italic">{job.customer}</span>
        </p>
      </div>
      <p
        className={`names rounded-sm border-l-8 bg-sheet px-4 py-2 ${job.move === "hands" ? "border-next" : "border-edge"}`}
        data-testid="next-step"
      >
        <strong>
          {job.move === "hands" ? "Next: " : "Waiting: "}
          {job.next.do}.
        </strong>{" "}
        {job.next.why}
        <Link
          className="mt-0.5 block underline text-[15px]"
          to={`/jobs/${job.number}/case`}
          data-testid="may-be"
        >
          {mayBe(job)}
        </Link>
      </p>
    </header>
  );
}

const MOST = 2;
const LEAST = 0.05;

/** What may be wrong, the likeliest first; the whole of it stands on the case's page. */
function mayBe(job: JobDetail): string {
  const known = job.mind.causes
    .filter((one) => one.says !== "not known yet" && one.chance >= LEAST)
    .slice(0, MOST);
  if (known.length === 0) return "Nothing is suspected yet: the case";
  return `May be ${known.map((one) => `${one.says} ${percent(one.chance)}`).join(", ")}: the case`;
}
