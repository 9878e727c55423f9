import { t } from "@lingui/core/macro";
import { type FormEvent, type ReactNode, useState } from "react";
import { api, Problem } from "../api/client";
import { useNewSession } from "./session";

export function SignIn() {
  const [username, setUsername] = useState("");
  const [password, setPassword] = useState("");
  const [code, setCode] = useState<string | null>(null);
  const [wrong, setWrong] = useState("");
  const newSession = useNewSession();

  const submit = async (event: FormEvent) => {
    event.preventDefault();
    try {
      await api.POST("/api/v1/session", { body: { username, password, code: code ?? "" } });
      await newSession();
    } catch (problem) {
      const asked = problem instanceof Problem && problem.code === "code-wanted" && code === null;
      if (asked) setCode("");
      setWrong(asked ? "" : (problem as Error).message);
    }
  };

  return (
    <Door title={t`Sign in`} submit={submit} wrong={wrong} action={t`Sign in`}>
      <Entry label={t`Name`} value={username} change={setUsername} complete="username" />
      <Entry label={t`Password`} value={password} change={setPassword} complete="current-password" secret />
      {code !== null && (
        <Entry label={t`Code that your phone shows`} value={code} change={setCode} complete="one-time-code" />
      )}
    </Door>
  );
}

interface DoorProps {
  title: string;
  submit: (event: FormEvent) => void;
  wrong: string;
  action: string;
  children: ReactNode;
}

/** The frame of sign-in and welcome. */
export function Door({ title, submit, wrong, action, children }: DoorProps) {
  return (
    <main className="grid min-h-dvh place-items-center p-6">
      <form onSubmit={submit} className="w-full max-w-sm rounded-lg border border-rule bg-sheet p-8">
        <p className="font-mono text-2xl font-bold">uvrix</p>
        <h1 className="mt-1 mb-6 text-soft">{title}</h1>
        {children}
        {wrong && (
          <p role="alert" className="mb-4 border-l-4 border-suspect pl-3">
            {wrong}
          </p>
        )}
        <button type="submit" className="button w-full">
          {action}
        </button>
      </form>
    </main>
  );
}

interface EntryProps {
  label: string;
  value: string;
  change: (value: string) => void;
  complete: string;
  secret?: boolean;
}

export function Entry({ label, value, change, complete, secret }: EntryProps) {
  return (
    <label className="mb-4 block">
      <span className="mb-1 block font-semibold">{label}</span>
      <input
        className="field w-full"
        type={secret ? "password" : "text"}
        autoComplete={complete}
        value={value}
        onChange={(event) => change(event.target.value)}
        required
      />
    </label>
  );
}
