import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, data } from "../api/client";
import { secondFactorQuery } from "../queries/shop";
import { TextField } from "../shared/fields";
import { QrCode } from "../shared/QrCode";

const KEY = secondFactorQuery().queryKey;

/** A code from the phone at sign-in, for whoever wants one. */
export function SecondFactor() {
  const queries = useQueryClient();
  const state = useQuery(secondFactorQuery());
  const [password, setPassword] = useState("");
  const [code, setCode] = useState("");
  const [begun, setBegun] = useState<{ address: string; code: string[] } | null>(null);
  const [said, setSaid] = useState("");
  const doing = (act: () => Promise<void>) => async (event: FormEvent) => {
    event.preventDefault();
    setSaid("");
    try {
      await act();
      setPassword("");
      setCode("");
      await queries.invalidateQueries({ queryKey: KEY });
    } catch (problem) {
      setSaid((problem as Error).message);
    }
  };
  const begin = doing(async () =>
    setBegun(data(await api.POST("/api/v1/session/second-factor", { body: { password } }))),
  );
  const confirm = doing(async () => {
    await api.PUT("/api/v1/session/second-factor", { body: { code } });
    setBegun(null);
    setSaid(t`It is on: from now on sign-in asks for a code.`);
  });
  const end = doing(async () => {
    await api.POST("/api/v1/session/second-factor/end", { body: { password } });
    setSaid(t`It is off: the password is enough.`);
  });
  if (!state.data) return null;
  return (
    <section aria-labelledby="factor-title" data-testid="second-factor">
      <h2 id="factor-title" className="text-xl font-bold">
        <Trans>Second factor {state.data.on ? "(on)" : "(off)"}</Trans>
      </h2>
      <p className="text-soft">
        <Trans>With it, sign-in asks for a code that an authenticator app on your phone shows, too.</Trans>
      </p>
      {begun ? (
        <form onSubmit={confirm} className="mt-2 flex flex-wrap items-end gap-4">
          <QrCode rows={begun.code} label={t`Code for the authenticator app`} />
          <TextField
            label={t`the code that the app shows`}
            value={code}
            onChange={setCode}
            mono
            wide="w-32"
            inputMode="numeric"
            autoComplete="one-time-code"
            maxLength={12}
          />
          <button type="submit" className="button" disabled={!code.trim()}>
            <Trans>Switch it on</Trans>
          </button>
        </form>
      ) : (
        <form onSubmit={state.data.on ? end : begin} className="mt-2 flex flex-wrap items-end gap-3">
          <TextField
            label={t`your password`}
            type="password"
            value={password}
            onChange={setPassword}
            wide="w-64"
            autoComplete="current-password"
            maxLength={500}
          />
          <button type="submit" className="button" disabled={!password}>
            {state.data.on ? t`Switch it off` : t`Set one up`}
          </button>
        </form>
      )}
      {said && <p role="status">{said}</p>}
    </section>
  );
}
