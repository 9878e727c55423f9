import { t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { api, data } from "../api/client";
import { invitationQuery } from "../queries/shop";
import { LoadError, Loading } from "../shared/states";
import { Door, Entry } from "./SignIn";
import { useNewSession } from "./session";

/** A one-time link: the person chooses name and password, or a new password, and is signed in. */
export function Welcome() {
  const { token = "" } = useParams();
  const [name, setName] = useState("");
  const [username, setUsername] = useState("");
  const [password, setPassword] = useState("");
  const [wrong, setWrong] = useState("");
  const path = { token };
  const invited = useQuery(invitationQuery(token));
  const known = invited.data?.username;
  const newSession = useNewSession();
  const navigate = useNavigate();

  const submit = async (event: FormEvent) => {
    event.preventDefault();
    try {
      const body = { username: known || username, password, name };
      await api.POST("/api/v1/invitations/{token}", { params: { path }, body });
      await api.POST("/api/v1/session", { body: { username: known || username, password } });
      // the first person of a shop is led through what it needs
      const next = !known && (await isNewShop()) ? "/setup" : "/shelf";
      await newSession();
      navigate(next);
    } catch (problem) {
      setWrong((problem as Error).message);
    }
  };

  if (invited.isError) return <LoadError problem={invited.error} again={() => invited.refetch()} />;
  if (!invited.data) return <Loading what={t`Checking the link`} />;
  if (known)
    return (
      <Door
        title={t`A new password for ${known}`}
        submit={submit}
        wrong={wrong}
        action={t`Set it and sign in`}
      >
        <Entry label={t`New password`} value={password} change={setPassword} complete="new-password" secret />
      </Door>
    );
  return (
    <Door title={t`Welcome. Choose how you sign in.`} submit={submit} wrong={wrong} action={t`Start`}>
      <Entry label={t`Your name`} value={name} change={setName} complete="name" />
      <Entry label={t`Name to sign in with`} value={username} change={setUsername} complete="username" />
      <Entry label={t`Password`} value={password} change={setPassword} complete="new-password" secret />
    </Door>
  );
}

/** Whether a lead signed in to a shop in which nobody else works and no job was opened yet. */
async function isNewShop(): Promise<boolean> {
  try {
    const { others, jobs } = data(await api.GET("/api/v1/setup"));
    return others === 0 && jobs === 0;
  } catch {
    return false;
  }
}
