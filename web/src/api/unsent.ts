import { t } from "@lingui/core/macro";
import { useSyncExternalStore } from "react";

/** An entry that could not be sent: kept in the browser until the server is back, then sent in order, once. */
export interface Unsent {
  id: string;
  path: string;
  body: string;
  by: string;
  at: string;
  refused?: string;
}

const KEPT = "uvrix-unsent";
const EVERY_MS = 3_000;
const listeners = new Set<() => void>();
let held: Unsent[] = read();
let sending = false;
// told when something was sent
let heard: () => void = () => undefined;

function read(): Unsent[] {
  try {
    return JSON.parse(localStorage.getItem(KEPT) ?? "[]") as Unsent[];
  } catch {
    return [];
  }
}

function write(next: Unsent[]) {
  held = next;
  localStorage.setItem(KEPT, JSON.stringify(next));
  for (const tell of listeners) tell();
}

/** Keeps an entry that carries its own id, so that sending it twice counts once; says whether it was one. */
export function keepUnsent(path: string, body: string, by: string): boolean {
  try {
    const entry = JSON.parse(body) as { id?: string; entry?: string };
    const id = entry.id ?? entry.entry;
    if (!id || !by) return false;
    if (!held.some((unsent) => unsent.id === id))
      write([...held, { id, path, body, by, at: new Date().toISOString() }]);
    return true;
  } catch {
    return false;
  }
}

export function forgetUnsent(id: string) {
  write(held.filter((unsent) => unsent.id !== id));
}

export function useUnsent(): Unsent[] {
  return useSyncExternalStore(
    (tell) => {
      listeners.add(tell);
      return () => listeners.delete(tell);
    },
    () => held,
  );
}

/** Sends what is kept, oldest first; stops at the first that the server does not answer. */
async function send(by: string, headers: () => Record<string, string>): Promise<void> {
  if (sending) return;
  sending = true;
  let sent = 0;
  try {
    for (const unsent of held.filter((entry) => entry.by === by && !entry.refused)) {
      const answer = await fetch(unsent.path, {
        method: "POST",
        body: unsent.body,
        headers: { "Content-Type": "application/json", ...headers() },
      });
      // away, or signed out meanwhile: the entries wait for the person
      if (answer.status >= 500 || answer.status === 401) break;
      if (answer.ok) {
        sent += 1;
        forgetUnsent(unsent.id);
      } else {
        const said = (await answer.json().catch(() => ({}))) as { detail?: string };
        const refused = said.detail ?? t`The server answered ${answer.status}.`;
        write(held.map((entry) => (entry.id === unsent.id ? { ...entry, refused } : entry)));
      }
    }
  } catch {
    // still away: the next round tries again
  }
  sending = false;
  if (sent > 0) heard();
}

/** Whether entries of this person still wait, after trying once more to send them. */
export async function waiting(by: string, headers: () => Record<string, string>): Promise<boolean> {
  const own = () => held.some((entry) => entry.by === by && !entry.refused);
  if (own()) await send(by, headers);
  return own();
}

/** Tries again while something is kept; `done` hears of every round that sent something. */
export function keepSending(by: string, headers: () => Record<string, string>, done: () => void): () => void {
  heard = done;
  const round = () => {
    if (held.length > 0) void send(by, headers);
  };
  const timer = window.setInterval(round, EVERY_MS);
  window.addEventListener("online", round);
  round();
  return () => {
    window.clearInterval(timer);
    window.removeEventListener("online", round);
  };
}
