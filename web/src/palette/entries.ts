import type { BoardDetail, JobDetail, Person } from "../api/client";
import { keyActs } from "../shared/keys";
import { KEYS } from "../spine/keyNames";

/** Something to go to or to do: where it is found, and a word that says what it is. */
export interface PaletteEntry {
  id: string;
  name: string;
  kind: string;
  to?: string;
  key?: string;
}

const SCREENS: readonly (readonly [string, string])[] = [
  ["/shelf", "Shelf"],
  ["/wall", "Wall: the shelf for a screen over the bench"],
  ["/jobs/new", "New job"],
  ["/parcels", "Parcels to come"],
  ["/messages", "Messages and letters"],
  ["/library", "Library"],
  ["/library/new", "Draw a new board model"],
  ["/library/pack", "Pack: the library in one file"],
  ["/library/plans", "Bench plans"],
  ["/library/pinouts", "Pinouts by marking"],
  ["/library/readers/teach", "Teach a reader"],
  ["/library/recipes/new", "New tester recipe"],
  ["/library/rework", "Rework settings"],
  ["/library/proof", "Proof protocol"],
  ["/library/habits", "Times and chances"],
  ["/meters", "Meters: the morning check, supplies"],
  ["/stock", "Stock: parts"],
  ["/stock/donors", "Donor boards"],
  ["/stock/lots", "Lots"],
  ["/stock/find", "Find a part"],
  ["/stock/values", "Values by designator"],
  ["/figures", "Figures"],
  ["/figures/learning", "Learned readings"],
  ["/figures/archive", "Export and backup"],
  ["/people", "People and passwords"],
];
const OF_LEADS: readonly (readonly [string, string])[] = [
  ["/people/audit", "Audit: who did what"],
  ["/setup", "Set up the shop"],
];

const OF_A_JOB: readonly (readonly [string, string])[] = [
  ["", "where it was left, and its history"],
  ["/case", "Case: every entry, what may be wrong"],
  ["/arrive", "Arrive"],
  ["/look", "Look"],
  ["/teardown", "Taking apart"],
  ["/ohms", "Ohms"],
  ["/ohms/shorts", "Hunt for a short"],
  ["/ohms/passes", "Passes over all rails"],
  ["/ohms/chips", "Chips: same pin, other chip"],
  ["/ohms/slot", "Slot contacts"],
  ["/ohms/beside", "Two cards in turn"],
  ["/volts", "Volts: the start-up map"],
  ["/volts/power", "Power and the bench supply"],
  ["/volts/converter", "Converter"],
  ["/volts/supervisor", "Supervisor"],
  ["/volts/phases", "Phases"],
  ["/volts/ladder", "Detection ladder"],
  ["/memory", "Memory"],
  ["/rework", "Rework"],
  ["/rework/pads/core", "Pads of the core"],
  ["/rework/images", "Firmware"],
  ["/rework/curve", "Thermocouple curve"],
  ["/rework/timers", "Timers"],
  ["/prove", "Prove"],
  ["/return", "Return"],
  ["/return/customer", "Customer: offers and letters"],
  ["/return/report", "Report"],
];

/** What a screen over all jobs offers. */
export function screens(person: Person | null): PaletteEntry[] {
  const all = person?.role === "lead" ? [...SCREENS, ...OF_LEADS] : SCREENS;
  return all.map(([to, name]) => ({ id: to, name, kind: "screen", to }));
}

/** What the keys of the screen that is shown do. */
export function acts(): PaletteEntry[] {
  return KEYS.filter(([key]) => !key.startsWith("g ") && keyActs(key)).map(([key, does]) => ({
    id: `key ${key}`,
    name: does,
    kind: "do",
    key,
  }));
}

/** Screens, points, parts and chips of one job. */
export function ofJob(job: JobDetail, model: BoardDetail | undefined): PaletteEntry[] {
  const at = `/jobs/${job.number}`;
  const rooms = OF_A_JOB.map(([room, name]) => ({
    id: `${at}${room}`,
    name,
    kind: job.label,
    to: `${at}${room}`,
  }));
  const { points = [], parts = [], sites = [] } = model?.drawing ?? {};
  const named = (name: string, kind: string, to: string) => ({ id: to, name, kind, to });
  return [
    ...rooms,
    ...points.map(({ id }) => named(id, "point, at Ohms", `${at}/ohms?point=${encodeURIComponent(id)}`)),
    ...sites.map(({ designator }) =>
      named(designator, "chip, at Rework", `${at}/rework?site=${encodeURIComponent(designator)}`),
    ),
    ...parts.map(({ designator }) =>
      named(designator, "part, at Rework", `${at}/rework?site=${encodeURIComponent(designator)}`),
    ),
  ];
}

const MOST = 12;

/** The entries that hold every word of a text, those that begin with it first; without a text the first of all. */
export function fitting(entries: PaletteEntry[], text: string): PaletteEntry[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const rank = ({ name }: PaletteEntry) => {
    const low = name.toLowerCase();
    if (low === text.trim().toLowerCase()) return 0;
    if (low.startsWith(words[0] ?? "")) return 1;
    return low.includes(` ${words[0]}`) ? 2 : 3;
  };
  return entries
    .filter(({ name, kind }) => words.every((word) => `${name} ${kind}`.toLowerCase().includes(word)))
    .map((entry, place) => ({ entry, place, rank: rank(entry) }))
    .sort((one, other) => one.rank - other.rank || one.place - other.place)
    .slice(0, MOST)
    .map(({ entry }) => entry);
}
