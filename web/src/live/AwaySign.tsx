import { Trans } from "@lingui/react/macro";
import { useShownFrom } from "../queries/away";
import { moment } from "../shared/words";

/** Says that what is shown is from before while the server does not answer; it moves nothing and takes no press. */
export function AwaySign() {
  const from = useShownFrom();
  if (!from) return null;
  return (
    <p
      role="status"
      data-testid="away"
      className="pointer-events-none fixed bottom-4 left-1/2 z-40 -translate-x-1/2 rounded-md border-2 border-suspect bg-sheet px-4 py-2 font-bold shadow-lg"
    >
      <Trans>No answer from the server. What you see is from {moment(from.toISOString())}.</Trans>
    </p>
  );
}
