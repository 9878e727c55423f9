import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { api } from "../api/client";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";
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
  const { problem, keep } = useKeeping([]);
  const join = async () => {
    const body = { origin: window.location.origin };
    const given = await keep(() =>
      api.POST("/api/v1/jobs/{number}/phone-pass", { params: { path: { number } }, body }),
    );
    if (given && given !== "kept") setPass(given);
  };
  if (!pass)
    return (
      <>
        <button type="button" className="button" onClick={() => void join()}>
          <Trans>From a phone</Trans>
        </button>
        <FormError problem={problem} plain />
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
