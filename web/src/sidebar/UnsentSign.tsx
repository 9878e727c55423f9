import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { csrfHeader } from "../api/client";
import { forgetUnsent, keepSending, useUnsent } from "../api/unsent";
import { moment } from "../shared/words";

/** How many entries wait in this browser for the server, and what became of those that it refused. */
export function UnsentSign({ username }: { username: string }) {
  const unsent = useUnsent();
  const [open, setOpen] = useState(false);
  const queries = useQueryClient();
  useEffect(
    () => keepSending(username, csrfHeader, () => void queries.invalidateQueries()),
    [username, queries],
  );
  if (unsent.length === 0) return null;
  return (
    <div className="relative">
      <button
        type="button"
        className="w-full rounded-md border-2 border-suspect px-1 py-2 text-center font-bold"
        aria-expanded={open}
        data-testid="unsent"
        onClick={() => setOpen(!open)}
      >
        <Trans>{unsent.length} unsent</Trans>
      </button>
      {open && (
        <div
          role="status"
          className="absolute bottom-0 left-full z-30 ml-2 w-96 rounded-md border border-edge bg-sheet p-4 shadow-lg"
        >
          <p className="font-bold">
            <Trans>Kept in this browser, sent in this order when the server is back.</Trans>
          </p>
          <ol>
            {unsent.map((entry) => (
              <li key={entry.id} className="border-t border-rule py-1">
                <span className="font-mono text-[15px]">{entry.path.replace("/api/v1/", "")}</span>{" "}
                <span className="text-soft">
                  {moment(entry.at)}
                  {entry.by !== username && t`, by ${entry.by}, who must be signed in`}
                </span>
                {entry.refused && (
                  <span className="block">
                    <Trans>Refused: {entry.refused} </Trans>
                    <button type="button" className="button-plain" onClick={() => forgetUnsent(entry.id)}>
                      <Trans>Forget it</Trans>
                    </button>
                  </span>
                )}
              </li>
            ))}
          </ol>
        </div>
      )}
    </div>
  );
}
