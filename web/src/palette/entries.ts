import { t } from "@lingui/core/macro";
import type { BoardDetail, JobDetail, Person } from "../api/client";
import { keyActs } from "../shared/keys";
import { KEYS } from "../sidebar/keyNames";
import { mayWorkAtBench } from "../signin/session";

/** Something to go to or to do: where it is found, and a word that says what it is. */
export interface PaletteEntry {
  id: string;
  name: string;
  kind: string;
  to?: string;
  key?: string;
}

const SCREENS: readonly (readonly [string, string])[] = [
  ["/shelf", t`Shelf`],
  ["/wall", t`Wall: the shelf for a screen over the bench`],
  ["/jobs/new", t`New job`],
  ["/parcels", t`Parcels to come`],
  ["/messages", t`Messages and letters`],
  ["/library", t`Library`],
  ["/library/new", t`Draw a new board model`],
  ["/library/pack", t`Pack: the library in one file`],
  ["/library/plans", t`Bench plans`],
  ["/library/pinouts", t`Pinouts by marking`],
  ["/library/readers/teach", t`Teach a reader`],
  ["/library/recipes/new", t`New tester recipe`],
  ["/library/rework", t`Rework settings`],
  ["/library/proof", t`Proof protocol`],
  ["/library/habits", t`Times and chances`],
  ["/meters", t`Meters: the morning check, supplies`],
  ["/stock", t`Stock: parts`],
  ["/stock/donors", t`Donor boards`],
  ["/stock/lots", t`Lots`],
  ["/stock/find", t`Find a part`],
  ["/stock/values", t`Values by designator`],
  ["/figures", t`Figures`],
  ["/figures/learning", t`Learned readings`],
  ["/figures/archive", t`Export and backup`],
  ["/people", t`People and passwords`],
];
const OF_THE_BENCH: readonly (readonly [string, string])[] = [
  ["/practice", t`Practice: start a card`],
  ["/practice/rounds", t`Practice: history`],
  ["/practice/cards", t`Practice: saved cards`],
];
const OF_LEADS: readonly (readonly [string, string])[] = [
  ["/people/audit", t`Audit: who did what`],
  ["/setup", t`Set up the shop`],
];

const OF_A_JOB: readonly (readonly [string, string])[] = [
  ["", t`where it was left, and its history`],
  ["/case", t`Case: every entry, what may be wrong`],
  ["/arrive", t`Arrive`],
  ["/look", t`Look`],
  ["/teardown", t`Taking apart`],
  ["/ohms", t`Ohms`],
  ["/ohms/shorts", t`Hunt for a short`],
  ["/ohms/passes", t`Passes over all rails`],
  ["/ohms/chips", t`Chips: same pin, other chip`],
  ["/ohms/slot", t`Slot contacts`],
  ["/ohms/beside", t`Two cards in turn`],
  ["/volts", t`Volts: the start-up map`],
  ["/volts/power", t`Power and the bench supply`],
  ["/volts/converter", t`Converter`],
  ["/volts/supervisor", t`Supervisor`],
  ["/volts/phases", t`Phases`],
  ["/volts/ladder", t`Detection ladder`],
  ["/memory", t`Memory`],
  ["/rework", t`Rework`],
  ["/rework/pads/core", t`Pads of the core`],
  ["/rework/images", t`Firmware`],
  ["/rework/curve", t`Thermocouple curve`],
  ["/rework/timers", t`Timers`],
  ["/prove", t`Prove`],
  ["/return", t`Return`],
  ["/return/customer", t`Customer: offers and letters`],
  ["/return/report", t`Report`],
];

/** What a screen over all jobs offers. */
export function screens(person: Person | null): PaletteEntry[] {
  const all = [
    ...SCREENS,
    ...(mayWorkAtBench(person) ? OF_THE_BENCH : []),
    ...(person?.role === "lead" ? OF_LEADS : []),
  ];
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
  const screens = OF_A_JOB.map(([path, name]) => ({
    id: `${at}${path}`,
    name,
    kind: job.label,
    to: `${at}${path}`,
  }));
  const { points = [], parts = [], sites = [] } = model?.drawing ?? {};
  const named = (name: string, kind: string, to: string) => ({ id: to, name, kind, to });
  return [
    ...screens,
    ...points.map(({ id }) => named(id, t`point, at Ohms`, `${at}/ohms?point=${encodeURIComponent(id)}`)),
    ...sites.map(({ designator }) =>
      named(designator, t`chip, at Rework`, `${at}/rework?site=${encodeURIComponent(designator)}`),
    ),
    ...parts.map(({ designator }) =>
      named(designator, t`part, at Rework`, `${at}/rework?site=${encodeURIComponent(designator)}`),
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
    .sort((entry, other) => entry.rank - other.rank || entry.place - other.place)
    .slice(0, MOST)
    .map(({ entry }) => entry);
}
