import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { Link } from "react-router";
import type { JobDetail } from "../api/client";
import { Clock } from "../clock/Clock";
import { OthersHere } from "../live/OthersHere";
import { PracticeMark } from "../practice/PracticeMark";
import { percent } from "../shared/words";
import { useMayWork } from "../signin/session";
import type { Step } from "./StepLine";

const POWER = {
  "": t`power state unknown`,
  off: t`unplugged, discharged`,
  supply: t`on the supply`,
  computer: t`in the computer`,
} as const;

// what stands in the place of a next step
const UNASKED = ["practice", "closed"];

/** Job, card, the complaint in the customer's words, and the one sentence: what is next and why. */
export function JobStrip({ job, step }: { job: JobDetail; step: Step | null }) {
  const mayWork = useMayWork(job);
  return (
    <header className="grid items-center gap-x-5 gap-y-1 border-b border-rule px-5 py-1.5 lg:grid-cols-[1fr_minmax(24rem,46%)]">
      <div className="min-w-0">
        <div className="flex items-baseline gap-x-3 whitespace-nowrap">
          <h1 className="font-mono text-xl font-bold">
            <Link to={`/jobs/${job.number}`} title={t`Where it was left, and its history`}>
              {job.label}
            </Link>
          </h1>
          <p className="min-w-0 truncate">
            <strong>{job.model}</strong> <span className="font-mono text-soft">{job.serial}</span>
          </p>
          {job.practice && <PracticeMark />}
          {job.express && (
            <strong>
              <Trans>express</Trans>
            </strong>
          )}
        </div>
        <p className="truncate text-soft" title={`“${job.complaint}” ${job.customer}`}>
          “{job.complaint}” {job.customer}
        </p>
        <p className="flex items-baseline gap-x-4 whitespace-nowrap text-[15px] text-soft">
          <span data-testid="power-state">{POWER[job.measured.power]}</span>
          <span>{job.place ? t`shelf ${job.place}` : t`no shelf place`}</span>
          {mayWork && <Clock job={job} step={step} />}
          <OthersHere />
        </p>
      </div>
      <div
        className={`names rounded-sm border-l-8 bg-sheet px-3 py-1 leading-snug ${job.move === "hands" ? "border-next" : "border-edge"}`}
        data-testid="next-step"
      >
        <p className="line-clamp-2" title={job.next.why}>
          <strong>
            {job.move !== "hands" && t`Waiting: `}
            {job.move === "hands" && !UNASKED.includes(job.next.what) && t`Next: `}
            {job.next.do}.
          </strong>{" "}
          {job.next.why}
        </p>
        <Link
          className="block truncate underline text-[15px]"
          to={`/jobs/${job.number}/case`}
          data-testid="may-be"
        >
          {mayBe(job)}
        </Link>
      </div>
    </header>
  );
}

const MOST = 2;
const LEAST = 0.05;

/** What may be wrong, the likeliest first; the whole of it stands on the case's page. */
function mayBe(job: JobDetail): string {
  if (job.next.what === "practice") return t`Suspects are hidden too: the case`;
  const known = job.mind.causes
    .filter((cause) => cause.cause !== "unknown" && cause.chance >= LEAST)
    .slice(0, MOST);
  if (known.length === 0) return t`Nothing is suspected yet: the case`;
  return t`May be ${known.map((entry) => `${entry.says} ${percent(entry.chance)}`).join(", ")}: the case`;
}
