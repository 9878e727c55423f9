import { plural, t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";
import type { JobDetail } from "../api/client";
import type { Proof } from "../proving/useProof";
import { proofQuery } from "../queries/job";
import { useKeys } from "../shared/keys";
import { useOwed } from "./Owed";

const STEPS = ["Arrive", "Look", "Ohms", "Volts", "Memory", "Rework", "Prove", "Return"] as const;
export type Step = (typeof STEPS)[number];

const STEP_NAMES: Record<Step, string> = {
  Arrive: t`Arrive`,
  Look: t`Look`,
  Ohms: t`Ohms`,
  Volts: t`Volts`,
  Memory: t`Memory`,
  Rework: t`Rework`,
  Prove: t`Prove`,
  Return: t`Return`,
};

/** Stops whose work has a screen: where it lies, its key, and what it holds. */
const SCREENS: Record<
  Step,
  { at: string; key: string; holds: (job: JobDetail) => string; state: (job: JobDetail) => State }
> = {
  Arrive: { at: "arrive", key: "g a", holds: arriveHolds, state: arriveState },
  Look: { at: "look", key: "g l", holds: lookHolds, state: lookState },
  Ohms: { at: "ohms", key: "g o", holds: ohmsHolds, state: ohmsState },
  Volts: { at: "volts", key: "g v", holds: voltsHolds, state: voltsState },
  Memory: { at: "memory", key: "g m", holds: memoryHolds, state: memoryState },
  Rework: { at: "rework", key: "g w", holds: reworkHolds, state: reworkState },
  Prove: { at: "prove", key: "g p", holds: () => "", state: () => "nothing" },
  Return: { at: "return", key: "g t", holds: () => "", state: () => "nothing" },
};

/** The eight stops in the order of the trade, and what each holds. */
export function StepLine({ job, current }: { job: JobDetail; current: Step | null }) {
  const navigate = useNavigate();
  const debts = useOwed(job.number);
  // before anything was done to it, what fails is the fault that it came with
  const proof = useQuery({ ...proofQuery(job.number), enabled: job.proof_begun });
  useKeys(
    Object.fromEntries(
      Object.values(SCREENS)
        .map((screen) => [screen.key, () => navigate(`/jobs/${job.number}/${screen.at}`)])
        .concat([["g j", () => navigate(`/jobs/${job.number}`)]]) as [string, () => void][],
    ),
  );
  return (
    <nav aria-label={t`Steps`} className="grid grid-cols-4 lg:grid-cols-8 border-b border-rule">
      {STEPS.map((step) => {
        const screen = SCREENS[step];
        const [holds, state] =
          step === "Prove"
            ? proofHolds(job, proof.data)
            : step === "Return"
              ? returnHolds(job, (debts.data ?? []).filter((debt) => debt.blocks).length)
              : [screen.holds(job), screen.state(job)];
        const here = step === current;
        return (
          <Link
            key={step}
            to={`/jobs/${job.number}/${screen.at}`}
            aria-current={here ? "step" : undefined}
            title={`${STEP_NAMES[step]}: ${holds}`}
            className={`flex min-h-10 min-w-0 items-center gap-1.5 border-t-4 px-2 focus-visible:-outline-offset-4 ${here ? "border-ink bg-sheet" : "border-rule"}`}
          >
            <StepSign state={state} />
            <span className={here ? "font-bold" : ""}>{STEP_NAMES[step]}</span>{" "}
            <span
              className={`min-w-0 truncate text-[14px] text-soft ${[t`nothing yet`, t`as it came`].includes(holds) ? "sr-only" : ""}`}
            >
              {holds}
            </span>
          </Link>
        );
      })}
    </nav>
  );
}

function proofHolds(job: JobDetail, proof: Proof | undefined): [string, State] {
  if (!job.proof_begun) return [t`nothing yet`, "nothing"];
  if (!proof) return ["…", "nothing"];
  const failed = proof.checks.filter((check) => check.judged === "failed" && !check.waived).length;
  const passed = proof.checks.filter((check) => check.judged === "passed" || check.waived).length;
  if (proof.proven) return [t`proven`, "clear"];
  if (failed > 0) return [t`${failed} failed`, "found"];
  return [passed > 0 ? t`${passed} of ${proof.checks.length}` : t`nothing yet`, "nothing"];
}

function returnHolds(job: JobDetail, owed: number): [string, State] {
  if (job.closed_at) return [t`left`, "clear"];
  return owed > 0 ? [t`${owed} owed`, "waiting"] : [t`nothing yet`, "nothing"];
}

function arriveHolds(job: JobDetail): string {
  const { trials, symptom } = job.arrived;
  if (trials > 0) return `${trials} ${plural(trials, { one: "test", other: "tests" })}`;
  return symptom ? t`symptom said` : t`as it came`;
}

function arriveState(job: JobDetail): State {
  return job.arrived.symptom ? "clear" : "nothing";
}

function lookHolds(job: JobDetail): string {
  const { regions, looked, findings, photographs } = job.looked;
  if (findings > 0) return `${findings} ${plural(findings, { one: "finding", other: "findings" })}`;
  if (looked > 0) return looked === regions ? "clear" : t`${looked} of ${regions}`;
  return photographs > 0
    ? `${photographs} ${plural(photographs, { one: "picture", other: "pictures" })}`
    : t`nothing yet`;
}

function lookState(job: JobDetail): State {
  const { regions, looked, findings } = job.looked;
  if (findings > 0) return "found";
  return regions > 0 && looked === regions ? "clear" : "nothing";
}

function voltsHolds(job: JobDetail): string {
  const { volts } = job.measured;
  return volts > 0 ? t`${volts} read` : t`nothing yet`;
}

function voltsState(job: JobDetail): State {
  return job.measured.volts > 0 ? "clear" : "nothing";
}

function reworkHolds(job: JobDetail): string {
  const { rework } = job.measured;
  return rework > 0 ? `${rework} ${plural(rework, { one: "step", other: "steps" })}` : t`nothing yet`;
}

function reworkState(job: JobDetail): State {
  return job.measured.rework > 0 ? "clear" : "nothing";
}

function ohmsHolds(job: JobDetail): string {
  const { readings } = job.measured;
  return readings > 0 ? t`${readings} read` : t`nothing yet`;
}

function ohmsState(job: JobDetail): State {
  return job.measured.readings > 0 ? "clear" : "nothing";
}

function memoryHolds(job: JobDetail): string {
  if (job.runs === 0) return t`nothing yet`;
  const runs = `${job.runs} ${plural(job.runs, { one: "run", other: "runs" })}`;
  if (job.mark) return t`${runs}, ${job.mark.designator} marked`;
  const found = job.located?.finding;
  if (!found || found.kind === "unclear") return t`${runs}, not clear`;
  if (found.kind === "no-errors") return t`${runs}, clear`;
  return found.kind === "refused" ? t`${runs}, refused` : t`${runs}, 1 finding`;
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
