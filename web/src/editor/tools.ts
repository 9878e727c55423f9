import { t } from "@lingui/core/macro";
export type Tool =
  | "choose"
  | "photograph"
  | "scale"
  | "outline"
  | "core"
  | "mark"
  | "chips"
  | "points"
  | "parts"
  | "landmarks";

/** What can be held in hand, in the order in which a model is drawn from a photograph. */
export const TOOLS: readonly { tool: Tool; name: string; key: string; hint: string }[] = [
  {
    tool: "choose",
    name: t`Choose`,
    key: "v",
    hint: t`Click a thing to choose it, Shift adds; drag it or nudge it with the arrows (Shift: 0.1 mm). q turns it, Delete takes it away.`,
  },
  {
    tool: "photograph",
    name: t`1 Photo`,
    key: "p",
    hint: t`A photograph of each side lies under the drawing, taken as straight from above as you can. Without one, draw on the blank board.`,
  },
  {
    tool: "scale",
    name: t`2 Scale`,
    key: "s",
    hint: t`Click the first and the last contact of the slot row, left one first: contacts lie 1 mm apart. Or click any two points whose distance you know.`,
  },
  {
    tool: "outline",
    name: t`3 Outline`,
    key: "o",
    hint: t`Click two opposite corners of the board, or all its corners round, then Enter.`,
  },
  { tool: "core", name: t`4 Core`, key: "k", hint: t`Click two opposite corners of the core.` },
  { tool: "mark", name: t`5 Mark`, key: "m", hint: t`Click at the core’s marked corner.` },
  {
    tool: "chips",
    name: t`6 Chips`,
    key: "c",
    hint: t`Click the middle of each memory place, empty ones too, round the core from the marked corner.`,
  },
  { tool: "landmarks", name: t`Landmark`, key: "l", hint: t`Click where a plug, socket or hole is.` },
  { tool: "points", name: t`Point`, key: "i", hint: t`Click where a probe is held.` },
  { tool: "parts", name: t`Part`, key: "a", hint: t`Click where a part sits.` },
];
