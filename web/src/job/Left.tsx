import { Trans } from "@lingui/react/macro";
import { Link } from "react-router";
import type { JobDetail } from "../api/client";
import { day, jobLabel } from "../shared/words";

/** Of a card that left: that nothing more is entered here, and where it is entered if the card is back. */
export function Left({ serial, left }: { serial: string; left: NonNullable<JobDetail["left"]> }) {
  const on = day(left.at);
  return (
    <p
      role="status"
      data-testid="left"
      className="flex flex-wrap items-baseline gap-x-4 border-b border-rule bg-sheet px-5 py-1.5"
    >
      <strong>
        <Trans>This card left on {on}: nothing more is measured or done here.</Trans>
      </strong>
      {left.here_as ? (
        <Link className="underline" to={`/jobs/${left.here_as}`}>
          <Trans>It is here again as {jobLabel(left.here_as)}</Trans>
        </Link>
      ) : (
        <Link className="underline" to={`/jobs/new?serial=${encodeURIComponent(serial)}`}>
          <Trans>Is it back? Open a new job for it</Trans>
        </Link>
      )}
    </p>
  );
}
