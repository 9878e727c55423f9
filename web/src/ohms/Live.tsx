import type { Taken } from "./useMeter";

const STATES: Record<Taken["state"], string> = {
  held: "the same as stored; move the probe",
  moving: "settling",
  creeping: "creeps: a capacitor charges, wait",
  settled: "settled",
  unsteady: "will not settle: kept as a span",
  overload: "OL; Enter takes it",
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
        <>
          The meter shows <strong className="font-mono text-xl text-ink">{live.text || "nothing yet"}</strong>
          , {STATES[live.state]}.{typed && " What was typed stands; Esc takes the meter’s."}
        </>
      ) : (
        "Asking the meter …"
      )}
    </p>
  );
}
