/** The instruments of a virtual card's bench: what each is called, where it may be held, what it asks the card. */
import { t } from "@lingui/core/macro";
import type { AtTheBench } from "../api/client";
import type { Asked } from "./usePractice";

export type Instrument =
  | "other"
  | "eye"
  | "fuse"
  | "ohms"
  | "diode"
  | "feed"
  | "thermal"
  | "power"
  | "volts"
  | "frequency"
  | "draw"
  | "start"
  | "tester"
  | "check";

interface Held {
  name: string;
  /** what the button says */
  does: string;
  places: (bench: AtTheBench) => readonly { id: string; name: string }[];
  asks: (place: string, volts: number, amps: number) => Asked;
  /** it is fed with volts and amperes */
  feeds?: boolean;
  /** it shows a picture, and enters nothing */
  sees?: boolean;
}

const NOWHERE = () => [];
const POWER = [
  { id: "off", name: t`off: unplugged, discharged` },
  { id: "supply", name: t`on the bench supply` },
  { id: "computer", name: t`in the test computer` },
];
const CONDITIONS = [
  { id: "cold", name: t`cold` },
  { id: "warm", name: t`warm` },
  { id: "flexed", name: t`flexed a little` },
];
const OTHER_THINGS: Record<string, string> = {
  computer: t`in another computer`,
  plug: t`on another power plug`,
  lead: t`on another lead`,
  card: t`another card in its place`,
};

export const INSTRUMENTS: Record<Instrument, Held> = {
  other: {
    name: t`Swap test`,
    does: t`Try`,
    places: (bench) => bench.cells.map(({ id, name }) => ({ id, name: OTHER_THINGS[id] ?? name })),
    asks: (target) => ({ do: "trial", target }),
  },
  eye: {
    name: t`Microscope`,
    does: t`Look`,
    places: (bench) => [...bench.regions, ...bench.sites],
    asks: (target) => ({ do: "read", target }),
    sees: true,
  },
  fuse: {
    name: t`Inspect a fuse`,
    does: t`Look`,
    places: (bench) => bench.fuses,
    asks: (target) => ({ do: "tick", target }),
  },
  ohms: {
    name: t`Meter, ohms`,
    does: t`Read`,
    places: (bench) => bench.points,
    asks: (target) => ({ do: "read", target, quantity: "resistance" }),
  },
  diode: {
    name: t`Meter, diode mode`,
    does: t`Read`,
    places: (bench) => bench.points,
    asks: (target) => ({ do: "read", target, quantity: "diode" }),
  },
  feed: {
    name: t`Bench supply, inject`,
    does: t`Inject`,
    places: (bench) => bench.points,
    asks: (target, volts, amps_limit) => ({ do: "inject", target, volts, amps_limit }),
    feeds: true,
  },
  thermal: {
    name: t`Thermal camera`,
    does: t`Look`,
    places: NOWHERE,
    asks: () => ({ do: "glow", target: "" }),
  },
  power: {
    name: t`Power`,
    does: t`Set`,
    places: () => POWER,
    asks: (target) => ({ do: "power", target }),
  },
  volts: {
    name: t`Meter, volts`,
    does: t`Read`,
    places: (bench) => bench.points,
    asks: (target) => ({ do: "read", target, quantity: "voltage" }),
  },
  frequency: {
    name: t`Frequency counter`,
    does: t`Read`,
    places: (bench) => bench.points,
    asks: (target) => ({ do: "read", target, quantity: "frequency" }),
  },
  draw: {
    name: t`Bench supply, current`,
    does: t`Read`,
    places: NOWHERE,
    asks: () => ({ do: "draw", target: "supply" }),
  },
  start: {
    name: t`Test computer, boot`,
    does: t`Boot`,
    places: NOWHERE,
    asks: () => ({ do: "rung", target: "computer" }),
  },
  tester: {
    name: t`Memory tester`,
    does: t`Run`,
    places: () => CONDITIONS,
    asks: (target) => ({ do: "run", target, condition: [target] }),
  },
  check: {
    name: t`Proof check`,
    does: t`Run`,
    places: (bench) => bench.checks,
    asks: (target) => ({ do: "proof", target }),
  },
};

/** Which instruments lie at hand at a step, the likeliest first. */
export const OF_STEP: Record<string, readonly Instrument[]> = {
  "": ["power"],
  Arrive: ["other"],
  Look: ["eye", "fuse"],
  Ohms: ["ohms", "diode", "fuse", "feed", "thermal", "power"],
  Volts: ["volts", "frequency", "draw", "start", "power"],
  Memory: ["tester", "start", "power"],
  Rework: ["eye", "ohms", "power"],
  Prove: ["check", "ohms", "draw", "start", "tester", "power"],
  Return: ["power"],
};
