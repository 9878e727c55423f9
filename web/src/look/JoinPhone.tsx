import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { api, data } from "../api/client";
import { QrCode } from "../shared/QrCode";
import type { useLook } from "./useLook";

interface Pass {
  address: string;
  minutes: number;
  code: string[];
}

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
          <Trans>From a phone</Trans>
        </button>
        {problem && <p role="alert">{problem}</p>}
      </>
    );
  return (
    <div className="mt-2 w-full" data-testid="join-phone">
      <QrCode rows={pass.code} label={t`Code for the phone`} />
      <p>
        <Trans>
          Scan it with the phone’s camera: for {pass.minutes} minutes it sends photographs to this job, and
          can read nothing. The phone must reach this server; in the shop’s network it is started with{" "}
          <span className="font-mono">--lan</span>.
        </Trans>
      </p>
      <p className="flex gap-3">
        <button type="button" className="button" onClick={() => void looking.look.refetch()}>
          <Trans>Look for new ones</Trans>
        </button>
        <button type="button" className="button" onClick={() => setPass(null)}>
          <Trans>Close</Trans>
        </button>
      </p>
    </div>
  );
}
