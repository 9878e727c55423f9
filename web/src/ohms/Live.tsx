import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import type { Taken } from "./useMeter";

const STATES: Record<Taken["state"], string> = {
  held: t`the same as stored; move the probe`,
  moving: t`settling`,
  creeping: t`creeps: a capacitor charges, wait`,
  settled: t`settled`,
  unsteady: t`will not settle: kept as a span`,
  overload: t`OL; Enter takes it`,
};

/** What the meter shows now, and whether it has settled; a lost line is said and typing goes on. */
export function Live({ live, lost, typed }: { live: Taken | null; lost: string; typed: boolean }) {
  if (lost)
    return (
      <p role="alert" className="border-l-4 border-suspect pl-3" data-testid="meter-lost">
        {lost}
      </p>
    );
  return (
    <p className="text-soft" data-testid="meter-live" data-state={live?.state ?? ""}>
      {live ? (
        <Trans>
          The meter shows{" "}
          <strong className="font-mono text-xl text-ink">{live.text || t`nothing yet`}</strong>,{" "}
          {STATES[live.state]}.{typed ? t` What was typed stands; Esc takes the meter’s.` : ""}
        </Trans>
      ) : (
        t`Asking the meter …`
      )}
    </p>
  );
}
