import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type FormEvent, useState } from "react";
import { api } from "../api/client";
import { FormError } from "./FormError";
import { TextField } from "./fields";
import { useKeeping } from "./keeping";

/** Takes an act back that was entered by mistake, with the reason; what rests on it is named by the answer. */
export function TakeBack({ act }: { act: string }) {
  const [asked, setAsked] = useState(false);
  const [reason, setReason] = useState("");
  const { problem, busy, keep } = useKeeping([[]]);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const body = { reason: reason.trim() };
    const done = await keep(() =>
      api.POST("/api/v1/acts/{act}/withdrawal", { params: { path: { act } }, body }),
    );
    if (done) setAsked(false);
  };
  return (
    <>
      <button type="button" className="button-plain" aria-expanded={asked} onClick={() => setAsked(!asked)}>
        <Trans>Take back</Trans>
      </button>
      {asked && (
        <form onSubmit={submit} className="flex w-full flex-wrap items-end gap-2">
          <TextField label={t`why it did not happen`} value={reason} onChange={setReason} />
          <button type="submit" className="button" disabled={!reason.trim() || busy}>
            <Trans>Take it back</Trans>
          </button>
          <FormError problem={problem} />
        </form>
      )}
    </>
  );
}
