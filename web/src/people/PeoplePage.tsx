import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import { api } from "../api/client";
import type { components } from "../api/schema";
import { keyOf } from "../queries/keys";
import { peopleQuery, sessionsQuery } from "../queries/shop";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";
import { LoadError, Loading } from "../shared/states";
import { useKinds } from "../shared/useKinds";
import { moment } from "../shared/words";
import { useSession } from "../signin/session";
import { Money } from "./Money";
import { SecondFactor } from "./SecondFactor";

type Role = components["schemas"]["PersonRow"]["role"];
const MAY = [
  [t`Arrive, parcels, customers, printing`, "technician", "front-desk", "lead"],
  [t`Readings, findings, memory, teardown, clocks`, "technician", "lead"],
  [t`Board models, recipes, readers, watchlists`, "technician", "lead"],
  [t`Release a card although something is owed`, "lead"],
  [t`Money, chances and times, taking recipes out of use`, "lead"],
  [t`People, invitations`, "lead"],
] as const;

/** Who works here: for everyone their sessions and password; for the lead all people, invitations and what was done. */
export function PeoplePage() {
  const { roles } = useKinds();
  const session = useSession();
  const lead = session.data?.person?.role === "lead";
  return (
    <main className="max-w-5xl space-y-8 p-6">
      <h1 className="text-3xl font-bold">
        <Trans>People</Trans>
      </h1>
      {lead && <Everybody />}
      <Sessions />
      <Password />
      <SecondFactor />
      {lead && <Money />}
      <section aria-labelledby="may-title">
        <h2 id="may-title" className="text-xl font-bold">
          <Trans>Roles and permissions</Trans>
        </h2>
        <table className="w-full text-left">
          <thead className="text-soft">
            <tr>
              <th className="font-normal">
                <Trans>what</Trans>
              </th>
              {roles.map(({ name, words }) => (
                <th key={name} className="font-normal">
                  {words}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {MAY.map(([what, ...who]) => (
              <tr key={what} className="border-t border-rule">
                <td className="py-1.5">{what}</td>
                {roles.map(({ name }) => (
                  <td key={name}>{(who as readonly string[]).includes(name) ? t`yes` : "–"}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
        <p className="text-soft">
          <Trans>Everybody signed in reads everything.</Trans>
        </p>
        <p className="mt-2">
          <a className="underline" href="/licences.txt">
            <Trans>Licences of what this page is made of</Trans>
          </a>
        </p>
      </section>
    </main>
  );
}

function Everybody() {
  const { roles } = useKinds();
  const { problem, keep } = useKeeping([keyOf("people"), keyOf("sessions")]);
  const [link, setLink] = useState("");
  const [newPassword, setNewPassword] = useState<{ username: string; link: string; days: number } | null>(
    null,
  );
  const [role, setRole] = useState<Role>("technician");
  const people = useQuery(peopleQuery());
  const change = async (username: string, body: { role?: Role; is_active?: boolean }) => {
    await keep(() => api.PUT("/api/v1/people/{username}", { params: { path: { username } }, body }));
  };
  const recover = async (username: string) => {
    const params = { path: { username } };
    const made = await keep(() => api.POST("/api/v1/people/{username}/recovery", { params }));
    if (!made || made === "kept") return;
    setNewPassword({ username, link: `${window.location.origin}${made.path}`, days: made.days });
  };
  const invite = async () => {
    const made = await keep(() => api.POST("/api/v1/invitations", { body: { role } }));
    if (made && made !== "kept") setLink(`${window.location.origin}${made.path}`);
  };
  if (people.isError) return <LoadError problem={people.error} again={() => people.refetch()} />;
  if (!people.data) return <Loading what={t`Loading the people`} />;
  return (
    <section aria-label={t`Everybody`}>
      <ul aria-label={t`People`}>
        {people.data.people.map((entry) => (
          <li key={entry.username} className="flex flex-wrap items-center gap-4 border-t border-rule py-2">
            <span className="min-w-48 flex-1">
              <strong className={entry.is_active ? "" : "font-normal line-through"}>{entry.name}</strong>{" "}
              <span className="font-mono text-soft">{entry.username}</span>
              <span className="block text-soft">
                {entry.last_login ? t`last signed in ${moment(entry.last_login)}` : t`never signed in`}
              </span>
            </span>
            <Select
              className="field"
              aria-label={t`Role of ${entry.name}`}
              value={entry.role}
              onChange={(event) => void change(entry.username, { role: event.target.value as Role })}
            >
              {roles.map(({ name, words }) => (
                <option key={name} value={name}>
                  {words}
                </option>
              ))}
            </Select>
            <button
              type="button"
              className="button"
              onClick={() => void change(entry.username, { is_active: !entry.is_active })}
            >
              {entry.is_active ? t`Switch off` : t`Switch on`}
            </button>
            <button type="button" className="button" onClick={() => void recover(entry.username)}>
              <Trans>Reset the password</Trans>
            </button>
            {newPassword?.username === entry.username && (
              <p role="status" className="w-full wrap-anywhere">
                <Trans>
                  Shown this once. Give it to {entry.name} alone; it serves once, within {newPassword.days}{" "}
                  days, and switches a second factor off:{" "}
                  <span className="font-mono">{newPassword.link}</span>
                </Trans>
              </p>
            )}
          </li>
        ))}
      </ul>
      <FormError problem={problem} plain />
      <div className="mt-3 flex flex-wrap items-end gap-3">
        <label>
          <span className="block text-soft">
            <Trans>invite a</Trans>
          </span>
          <Select className="field" value={role} onChange={(event) => setRole(event.target.value as Role)}>
            {roles.map(({ name, words }) => (
              <option key={name} value={name}>
                {words}
              </option>
            ))}
          </Select>
        </label>
        <button type="button" className="button" onClick={() => void invite()}>
          <Trans>Make a link</Trans>
        </button>
        {link && (
          <p role="status" className="min-w-0 flex-1 wrap-anywhere">
            <Trans>
              Send this once; it serves for seven days: <span className="font-mono">{link}</span>
            </Trans>
          </p>
        )}
      </div>
      <div className="mt-6 flex flex-wrap items-center justify-between gap-3">
        <h2 className="text-xl font-bold">
          <Trans>What was done to accounts</Trans>
        </h2>
        <Link className="button grid place-items-center" to="/people/audit">
          <Trans>All entries</Trans>
        </Link>
      </div>
      <ol aria-label={t`Account history`}>
        {people.data.events.map((event) => (
          <li key={`${event.at} ${event.words}`} className="border-t border-rule py-1">
            {event.user && <strong>{event.user}: </strong>}
            {event.words}{" "}
            <span className="text-soft">
              {event.by}, {moment(event.at)}
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}

function Sessions() {
  const queries = useQueryClient();
  const sessions = useQuery(sessionsQuery());
  const end = async (session: string) => {
    await api.DELETE("/api/v1/sessions/{session}", { params: { path: { session } } });
    await queries.invalidateQueries({ queryKey: keyOf("sessions") });
  };
  return (
    <section aria-labelledby="sessions-title">
      <h2 id="sessions-title" className="text-xl font-bold">
        <Trans>Active sessions</Trans>
      </h2>
      <ul aria-label={t`Sessions`}>
        {sessions.data?.map((session) => (
          <li key={session.id} className="flex items-baseline gap-4 border-t border-rule py-1.5">
            <span className="min-w-0 flex-1">
              <strong>{session.name}</strong>
              {session.mine && t`, this browser`}{" "}
              <span className="text-soft">
                {session.since && t`since ${moment(session.since)}`} {session.browser.slice(0, 60)}
              </span>
            </span>
            {!session.mine && (
              <button type="button" className="button" onClick={() => void end(session.id)}>
                <Trans>Sign out this session</Trans>
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

function Password() {
  const [old, setOld] = useState("");
  const [next, setNext] = useState("");
  const [said, setSaid] = useState("");
  const { problem, keep } = useKeeping([]);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    setSaid("");
    const body = { old, new: next };
    if ((await keep(() => api.PUT("/api/v1/session/password", { body }))) === null) return;
    setOld("");
    setNext("");
    setSaid(t`Changed. Your other browsers are signed out.`);
  };
  return (
    <form onSubmit={submit} className="flex flex-wrap items-end gap-3">
      <h2 className="w-full text-xl font-bold">
        <Trans>Your password</Trans>
      </h2>
      <label>
        <span className="block text-soft">
          <Trans>the old one</Trans>
        </span>
        <input
          type="password"
          className="field"
          autoComplete="current-password"
          value={old}
          onChange={(event) => setOld(event.target.value)}
        />
      </label>
      <label>
        <span className="block text-soft">
          <Trans>the new one</Trans>
        </span>
        <input
          type="password"
          className="field"
          autoComplete="new-password"
          value={next}
          onChange={(event) => setNext(event.target.value)}
        />
      </label>
      <button type="submit" className="button" disabled={!old || !next}>
        <Trans>Change it</Trans>
      </button>
      {said && <p role="status">{said}</p>}
      <FormError problem={problem} />
    </form>
  );
}
