import { t } from "@lingui/core/macro";
import { NumberField, SelectField, TextField } from "../shared/fields";
import { decimalOf } from "../shared/numbers";
import { optionsOf, useKinds } from "../shared/useKinds";
import type { Kind } from "./useStock";

export type Typed = Record<string, string>;

interface Asked {
  name: string;
  label: string;
  figure?: boolean;
  /** what stands behind the figure where it is shown */
  unit?: string;
}

const TEXT = (name: string, label: string): Asked => ({ name, label });
const FIGURE = (name: string, label: string, unit: string): Asked => ({ name, label, figure: true, unit });
const OF: Record<Kind, readonly Asked[]> = {
  chip: [
    TEXT("vendor", t`maker`),
    FIGURE("gbit", t`capacity, Gbit`, "Gbit"),
    FIGURE("width", t`lines`, t`lines`),
    FIGURE("volts", t`volts`, "V"),
    FIGURE("speed", t`speed, Gbit/s`, "Gbit/s"),
  ],
  core: [TEXT("vendor", t`maker`)],
  small: [
    TEXT("part", t`resistor, capacitor, coil, fuse`),
    TEXT("value", t`value, as 4k7 or 100n`),
    TEXT("size", t`package, mm as 1.0 x 0.5`),
    FIGURE("rating", t`rating`, t`rating`),
  ],
  connector: [
    FIGURE("pitch_mm", t`pitch, mm`, t`mm pitch`),
    FIGURE("pins", t`pins`, t`pins`),
    FIGURE("rows", t`rows`, t`rows`),
    FIGURE("anchors", t`anchors`, t`anchors`),
    TEXT("seen_on", t`also seen on`),
  ],
  set: [],
  stencil: [FIGURE("pitch_mm", t`pitch, mm`, t`mm pitch`), FIGURE("ball_mm", t`ball, mm`, t`mm balls`)],
  balls: [FIGURE("ball_mm", t`size, mm`, "mm"), TEXT("alloy", t`leaded or lead-free`)],
  other: [],
};
const COMMON = [TEXT("marking", t`marking`), TEXT("origin", t`came from`), TEXT("note", t`note`)];

/** What a part is, asked by its kind. */
export function FactsFields({ typed, onChange }: { typed: Typed; onChange: (typed: Typed) => void }) {
  const { stock } = useKinds();
  const kind = (typed.kind ?? "chip") as Kind;
  const put = (name: string) => (value: string) => onChange({ ...typed, [name]: value });
  return (
    <div className="flex flex-wrap items-end gap-3">
      <SelectField
        label={t`kind`}
        value={kind}
        onChange={(next) => onChange({ ...typed, kind: next })}
        options={optionsOf<Kind>(stock)}
      />
      {[...COMMON.slice(0, 1), ...OF[kind], ...COMMON.slice(1)].map((asked) =>
        asked.figure ? (
          <NumberField
            key={asked.name}
            label={asked.label}
            value={typed[asked.name] ?? ""}
            onChange={put(asked.name)}
          />
        ) : (
          <TextField
            key={asked.name}
            label={asked.label}
            value={typed[asked.name] ?? ""}
            onChange={put(asked.name)}
            wide={asked.name === "note" ? "grow" : "w-44"}
            maxLength={120}
          />
        ),
      )}
    </div>
  );
}

/** What was typed as the server takes it; a text where a figure is wanted is said, not dropped. */
export function factsOf(typed: Typed): { facts: Record<string, unknown> } | { wrong: string } {
  const kind = (typed.kind ?? "chip") as Kind;
  const facts: Record<string, unknown> = { kind };
  for (const asked of [...COMMON, ...OF[kind]]) {
    const value = (typed[asked.name] ?? "").trim();
    if (!value) continue;
    if (asked.name === "size") {
      const size = /^(\d+(?:[.,]\d+)?)\s*[x×]\s*(\d+(?:[.,]\d+)?)$/.exec(value);
      if (!size) return { wrong: t`${asked.label}: found “${value}”, expected two figures as 1.0 x 0.5` };
      facts.size_mm = [size[1], size[2]].map((side) => Number(side?.replace(",", ".")));
    } else if (asked.figure) {
      const number = decimalOf(value);
      if (Number.isNaN(number)) return { wrong: t`${asked.label}: found “${value}”, expected a number` };
      facts[asked.name] = number;
    } else facts[asked.name] = value;
  }
  return { facts };
}

/** Kept facts as they are typed. */
export function typedOf(facts: Record<string, unknown>): Typed {
  const typed = Object.fromEntries(Object.entries(facts).map(([name, value]) => [name, String(value)]));
  const size = facts.size_mm as number[] | undefined;
  return size ? { ...typed, size: `${size[0]} x ${size[1]}` } : typed;
}

/** Kept facts in one line. */
export function factsWords(facts: Record<string, unknown>): string {
  const kind = (facts.kind ?? "other") as Kind;
  const typed = typedOf(facts);
  return [...OF[kind], ...COMMON]
    .filter((asked) => asked.name !== "marking" && typed[asked.name])
    .map((asked) =>
      asked.unit
        ? `${typed[asked.name]} ${asked.unit}`
        : `${asked.label.split(",")[0]}: ${typed[asked.name]}`,
    )
    .join(" · ");
}
