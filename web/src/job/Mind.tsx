import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { Link, useLocation } from "react-router";
import type { JobDetail } from "../api/client";
import { percent } from "../shared/words";

type Step = JobDetail["mind"]["next"][number];
type Cause = JobDetail["mind"]["causes"][number];

// So many lines beside a board; the case has them all.
const MOST = 3;

/** The one mind, at the same place on every step: what to do next, and what may be wrong. */
export function Mind({ job }: { job: JobDetail }) {
  if (job.closed_at || job.mind.next.length === 0) return null;
  return (
    <section aria-label={t`What next, and what may be wrong`} className="space-y-1" data-testid="mind">
      <WhatNext job={job} steps={job.mind.next.slice(0, MOST)} />
      <MayBeWrong job={job} causes={job.mind.causes} />
    </section>
  );
}

/** The list of next steps, best first; each opens its reason and what either result would mean. */
export function WhatNext({ job, steps }: { job: JobDetail; steps: readonly Step[] }) {
  const [first, ...rest] = steps;
  if (!first) return null;
  return (
    <details className="group" open data-testid="what-next">
      <summary className="cursor-pointer">
        <h3 className="inline text-lg font-bold">
          <Trans>What next</Trans>
        </h3>
      </summary>
      <ol>
        {[first, ...rest].map((entry, at) => (
          <li key={`${entry.do} ${entry.target}`}>
            <details className={`border-l-8 pl-3 ${at === 0 ? "border-next bg-next-wash" : "border-rule"}`}>
              <summary className="grid cursor-pointer grid-cols-[1fr_auto] items-baseline gap-3 py-0.5">
                <span className={at === 0 ? "font-bold" : ""}>{entry.says}</span>
                <span className="whitespace-nowrap text-soft">{minutes(entry.minutes)}</span>
              </summary>
              <p>{entry.why}</p>
              {entry.means && <p className="text-soft">{entry.means}</p>}
              <StepLink job={job} step={entry} />
            </details>
          </li>
        ))}
      </ol>
    </details>
  );
}

// Acts of Rework that are done at a site.
const AT_A_SITE = new Set<Step["do"]>([
  "remove",
  "place",
  "swap",
  "reball",
  "renew-joint",
  "contact-repaired",
]);

const capital = (word: string) => `${word.charAt(0).toUpperCase()}${word.slice(1)}`;

/** Where a step is done: the screen, and on Rework what it is about. */
export function addressOf(number: number, step: Pick<Step, "do" | "target" | "step">): string {
  const at = `/jobs/${number}/${step.step}`;
  const target = encodeURIComponent(step.target);
  if (step.do === "pads") return `${at}/pads/${target}`;
  return AT_A_SITE.has(step.do) && step.step === "rework" ? `${at}?site=${target}` : at;
}

/** To where a step is done, unless that is here. */
function StepLink({ job, step }: { job: JobDetail; step: Step }) {
  const { pathname, search } = useLocation();
  const address = addressOf(job.number, step);
  const screen = `/jobs/${job.number}/${step.step}`;
  const onScreen = pathname.startsWith(screen);
  if (address === screen ? onScreen : `${pathname}${search}` === address) return null;
  return (
    <Link className="button-plain -ml-2" to={address}>
      {onScreen ? t`Show ${step.target}` : t`Go to ${capital(step.step)}`}
    </Link>
  );
}

/** What may be wrong, likeliest first; each opens what speaks for it, entry by entry. */
export function MayBeWrong({
  job,
  causes,
  open,
}: {
  job: JobDetail;
  causes: readonly Cause[];
  open?: boolean;
}) {
  const likeliest = causes.find((cause) => cause.cause !== "unknown");
  return (
    <details data-testid="may-be-wrong" open={open}>
      <summary className="cursor-pointer">
        <h3 className="inline text-lg font-bold">
          <Trans>What may be wrong</Trans>
        </h3>{" "}
        <span className="text-soft">
          {likeliest ? `${likeliest.says}, ${percent(likeliest.chance)}` : t`nothing is suspected yet`}
        </span>
      </summary>
      {causes.map((cause) => (
        <details key={cause.says} className="border-t border-rule py-0.5" data-testid="cause">
          <summary className="cursor-pointer">
            <span className="inline-block w-14 text-right font-mono">{percent(cause.chance)}</span>{" "}
            <strong>{cause.says}</strong>
          </summary>
          <ul className="ml-16 list-disc">
            {cause.why.map((why) => (
              <li key={why}>{why}</li>
            ))}
            {cause.evidence.map((entry) => (
              <li key={entry.number} className="text-soft">
                <Link className="underline" to={`/jobs/${job.number}/case?entry=${entry.number}`}>
                  {entry.words}
                </Link>
              </li>
            ))}
          </ul>
        </details>
      ))}
    </details>
  );
}

function minutes(many: number): string {
  return many < 1 ? t`half a minute` : t`${Math.round(many)} min`;
}
