import { Link } from "react-router";
import { left, useTimers } from "../rework/useTimers";

/** The timer that ends next, or those that ring: quietly, on every page. */
export function TimerSign() {
  const { timers, now } = useTimers();
  const rung = timers.filter((one) => new Date(one.ends_at).getTime() <= now);
  const next = rung[0] ?? timers[0];
  if (!next) return null;
  return (
    <Link
      to={`/jobs/${next.job}/rework/timers`}
      className={`w-full rounded-md border-2 px-1 py-1 text-center ${rung.length > 0 ? "border-next bg-next-wash font-bold" : "border-rule"}`}
      data-testid="timer-sign"
      aria-label={
        rung.length > 0
          ? `${next.name} of ${next.job_label} is over`
          : `${next.name} of ${next.job_label} ends next`
      }
    >
      <span className="block text-[15px]">{next.job_label}</span>
      <span className="block font-mono">{left(next.ends_at, now)}</span>
      {rung.length > 0 && (
        <span className="block text-[15px]" role="status">
          {next.name}
        </span>
      )}
    </Link>
  );
}
