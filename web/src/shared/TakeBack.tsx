import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, data, isKept } from "../api/client";
import { TextField } from "./fields";

/** Takes an act back that was entered by mistake, with the reason; what rests on it is named by the answer. */
export function TakeBack({ act }: { act: string }) {
  const [asked, setAsked] = useState(false);
  const [reason, setReason] = useState("");
  const [problem, setProblem] = useState("");
  const queries = useQueryClient();
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    setProblem("");
    try {
      const params = { path: { act } };
      data(await api.POST("/api/v1/acts/{act}/withdrawal", { params, body: { reason: reason.trim() } }));
      setAsked(false);
      await queries.invalidateQueries();
    } catch (error) {
      if (isKept(error)) setAsked(false);
      else setProblem((error as Error).message);
    }
  };
  return (
    <>
      <button type="button" className="button-plain" aria-expanded={asked} onClick={() => setAsked(!asked)}>
        <Trans>Take back</Trans>
      </button>
      {asked && (
        <form onSubmit={submit} className="flex w-full flex-wrap items-end gap-2">
          <TextField label={t`why it did not happen`} value={reason} onChange={setReason} />
          <button type="submit" className="button" disabled={!reason.trim()}>
            <Trans>Take it back</Trans>
          </button>
          {problem && (
            <p role="alert" className="w-full border-suspect border-l-4 pl-3">
              {problem}
            </p>
          )}
        </form>
      )}
    </>
  );
}
