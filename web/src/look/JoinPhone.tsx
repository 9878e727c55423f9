import { useState } from "react";
import { api, data } from "../api/client";
import type { useLook } from "./useLook";

interface Pass {
  address: string;
  minutes: number;
  code: string[];
}

const QUIET = 4;

/** A code on the screen: a phone that scans it sends photographs to this job for a while, and can read nothing. */
export function JoinPhone({ number, looking }: { number: number; looking: ReturnType<typeof useLook> }) {
  const [pass, setPass] = useState<Pass | null>(null);
  const [problem, setProblem] = useState("");
  const join = async () => {
    setProblem("");
    try {
      const body = { origin: window.location.origin };
      setPass(
        data(await api.POST("/api/v1/jobs/{number}/phone-pass", { params: { path: { number } }, body })),
      );
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  if (!pass)
    return (
      <>
        <button type="button" className="button" onClick={() => void join()}>
          From a phone
        </button>
        {problem && <p role="alert">{problem}</p>}
      </>
    );
  const size = pass.code.length;
  return (
    <div className="mt-2 w-full" data-testid="join-phone">
      <svg
        viewBox={`${-QUIET} ${-QUIET} ${size + 2 * QUIET} ${size + 2 * QUIET}`}
        className="size-56 bg-chip-text"
        role="img"
        aria-label="Code for the phone"
      >
        <path d={runsOf(pass.code)} className="fill-chip" />
      </svg>
      <p>
        Scan it with the phone’s camera: for {pass.minutes} minutes it sends photographs to this job, and can
        read nothing. The phone must reach this server; in the shop’s network it is started with{" "}
        <span className="font-mono">--lan</span>.
      </p>
      <p className="flex gap-3">
        <button type="button" className="button" onClick={() => void looking.look.refetch()}>
          Look for new ones
        </button>
        <button type="button" className="button" onClick={() => setPass(null)}>
          Close
        </button>
      </p>
    </div>
  );
}

/** The dark modules of a code as one path. */
function runsOf(code: readonly string[]): string {
  return code
    .flatMap((row, y) =>
      [...row.matchAll(/1+/g)].map((run) => `M${run.index} ${y}h${run[0].length}v1h-${run[0].length}z`),
    )
    .join("");
}
