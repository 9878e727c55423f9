import { Trans } from "@lingui/react/macro";
import { useShownFrom } from "../queries/away";
import { clockTime, moment } from "../shared/words";

/** Says that what is shown is from before, while the server does not answer. */
export function AwaySign({ className }: { className: string }) {
  const from = useShownFrom();
  if (!from) return null;
  const today = from.toDateString() === new Date().toDateString();
  const time = today ? clockTime(from) : moment(from.toISOString());
  return (
    <p role="status" data-testid="away" className={`font-bold ${className}`}>
      <Trans>Server away: shown as of {time}</Trans>
    </p>
  );
}
