import { t } from "@lingui/core/macro";
import { Link } from "react-router";
import { left, useTimers } from "../rework/useTimers";

/** The timer that ends next, or those that ring: quietly, on every page. */
export function TimerSign() {
  const { timers, now } = useTimers();
  const rung = timers.filter((timer) => new Date(timer.ends_at).getTime() <= now);
  const next = rung[0] ?? timers[0];
  if (!next) return null;
  return (
    <Link
      to={`/jobs/${next.job}/rework/timers`}
      className={`w-full rounded-md border-2 px-1 py-1 text-center ${rung.length > 0 ? "border-next bg-next-wash font-bold" : "border-rule"}`}
      data-testid="timer-sign"
    >
      <span className="block text-[15px]">{next.job_label}</span>
      <span className="block font-mono">{left(next.ends_at, now)}</span>
      <span className="sr-only">{rung.length > 0 ? "is over: " : t`left of `}</span>
      <span
        className={rung.length > 0 ? "block text-[15px]" : "sr-only"}
        role={rung.length > 0 ? "status" : undefined}
      >
        {next.name}
      </span>
    </Link>
  );
}
