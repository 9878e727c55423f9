import { type FormEvent, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { api } from "../api/client";
import { Door, Entry } from "./SignIn";
import { useNewSession } from "./session";

/** A one-time link: the person chooses name and password, and is signed in. */
export function Welcome() {
  const { token = "" } = useParams();
  const [name, setName] = useState("");
  const [username, setUsername] = useState("");
  const [password, setPassword] = useState("");
  const [wrong, setWrong] = useState("");
  const newSession = useNewSession();
  const navigate = useNavigate();

  const submit = async (event: FormEvent) => {
    event.preventDefault();
    try {
      const body = { username, password, name };
      await api.POST("/api/v1/invitations/{token}", { params: { path: { token } }, body });
      await api.POST("/api/v1/session", { body: { username, password } });
      await newSession();
      navigate("/shelf");
    } catch (problem) {
      setWrong((problem as Error).message);
    }
  };

  return (
    <Door title="Welcome. Choose how you sign in." submit={submit} wrong={wrong} action="Start">
      <Entry label="Your name" value={name} change={setName} complete="name" />
      <Entry label="Name to sign in with" value={username} change={setUsername} complete="username" />
      <Entry label="Password" value={password} change={setPassword} complete="new-password" secret />
    </Door>
  );
}
