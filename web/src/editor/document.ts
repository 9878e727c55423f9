import type { Drawing } from "../api/client";

type Section = "sites" | "points" | "parts" | "landmarks" | "core";
export type Target = readonly [Section, number];

/** One entry of a board model's file; keys that nobody knows are kept. */
export type Entry = Record<string, unknown>;

interface Walk {
  start: string;
  direction: string;
  order: (string | null)[];
}

/** A board model's file while it is edited (docs/formats/board.schema.json); it may not be whole yet. */
export interface BoardDocument {
  id?: string;
  name?: string;
  revision?: string;
  family?: string;
  slot?: { lanes?: number };
  relative_of?: string;
  core?: Entry;
  sites?: Entry[];
  points?: Entry[];
  parts?: Entry[];
  landmarks?: Entry[];
  walk?: Walk;
  photographs?: Entry[];
  [key: string]: unknown;
}

/** An edit as the core takes it: what to do, and what it takes for that. */
export type Edit = { do: string } & Record<string, unknown>;

export function entryAt(document: BoardDocument, [section, index]: Target): Entry | undefined {
  return section === "core" ? document.core : document[section]?.[index];
}

export function nameOf(document: BoardDocument, target: Target): string {
  const entry = entryAt(document, target);
  return String(entry?.designator ?? entry?.id ?? entry?.kind ?? target[0]);
}

export function same(one: Target, other: Target): boolean {
  return one[0] === other[0] && one[1] === other[1];
}

/** Where a thing is drawn: its corners, or the one point of a small thing. */
export function shapeOf(document: BoardDocument, drawing: Drawing, target: Target): number[][] {
  const [section, index] = target;
  if (section === "core") return drawing.core.corners;
  const name = nameOf(document, target);
  if (section === "sites") return drawing.sites.find((site) => site.designator === name)?.corners ?? [];
  if (section === "points") return at(drawing.points.find((point) => point.id === name)?.at);
  if (section === "parts") return at(drawing.parts.find((part) => part.designator === name)?.at);
  return drawing.landmarks[index]?.corners ?? [];
}

function at(point: number[] | undefined): number[][] {
  return point ? [point] : [];
}

/** Every thing of the model that is drawn. */
export function targetsOf(document: BoardDocument): Target[] {
  const found: Target[] = [["core", 0]];
  for (const section of ["landmarks", "parts", "points", "sites"] as const)
    document[section]?.forEach((_, index) => {
      found.push([section, index]);
    });
  return found;
}
