import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useKinds } from "../shared/useKinds";
import { type BoardDocument, type Edit, type Entry, entryAt, nameOf, type Target } from "./document";
import { NumberField, Text } from "./Fields";

interface PropertiesProps {
  document: BoardDocument;
  chosen: readonly Target[];
  apply: (edit: Edit) => Promise<BoardDocument | null>;
  act: (edit: Edit) => void;
  remove: () => void;
  packages: string[];
}

const CORNERS = ["top-left", "top-right", "bottom-left", "bottom-right"];
const REACH = ["outside", "cooler-off", "microscope"];

/** What is chosen: its keys, one by one; several are lined up, spread or moved together. */
export function Properties({ document, chosen, apply, act, remove, packages }: PropertiesProps) {
  const [first] = chosen;
  const entry = first && entryAt(document, first);
  if (!first || !entry) return null;
  if (chosen.length > 1)
    return (
      <section aria-label={t`Chosen`}>
        <h2 className="text-lg font-bold">
          <Trans>
            {chosen.length} chosen, first {nameOf(document, first)}
          </Trans>
        </h2>
        <div className="mt-2 flex flex-wrap gap-2">
          <button type="button" className="button" onClick={() => act({ do: "align", along: "x" })}>
            <Trans>In one column</Trans>
          </button>
          <button type="button" className="button" onClick={() => act({ do: "align", along: "y" })}>
            <Trans>In one row</Trans>
          </button>
          <button type="button" className="button" onClick={() => act({ do: "spread", along: "x" })}>
            <Trans>Spread across</Trans>
          </button>
          <button type="button" className="button" onClick={() => act({ do: "spread", along: "y" })}>
            <Trans>Spread up</Trans>
          </button>
          <button type="button" className="button" onClick={() => act({ do: "turn", deg: 90 })}>
            <Trans>
              Turn <kbd className="key">q</kbd>
            </Trans>
          </button>
          <button
            type="button"
            className="button"
            onClick={() => act({ do: "number", prefix: "U", first: 11 })}
          >
            <Trans>Number as chosen from U11</Trans>
          </button>
          <button type="button" className="button" onClick={remove}>
            <Trans>Take away</Trans>
          </button>
        </div>
      </section>
    );
  const set = (key: string, value: unknown) => void apply({ do: "set", target: first, key, value });
  return (
    <section aria-label={t`Chosen`}>
      <h2 className="text-lg font-bold">{nameOf(document, first)}</h2>
      <div className="mt-2 flex flex-wrap items-end gap-3">
        <Fields section={first[0]} entry={entry} set={set} packages={packages} />
      </div>
      {first[0] !== "core" && (
        <div className="mt-3 flex flex-wrap gap-2">
          <button type="button" className="button" onClick={() => act({ do: "turn", deg: 90 })}>
            <Trans>
              Turn <kbd className="key">q</kbd>
            </Trans>
          </button>
          <button type="button" className="button" onClick={() => act({ do: "double", dx: 16, dy: 0 })}>
            <Trans>One more beside it</Trans>
          </button>
          <button type="button" className="button" onClick={remove}>
            <Trans>
              Take away <kbd className="key">Delete</kbd>
            </Trans>
          </button>
        </div>
      )}
    </section>
  );
}

interface FieldsProps {
  section: Target[0];
  entry: Entry;
  set: (key: string, value: unknown) => void;
  packages: string[];
}

function Fields({ section, entry, set, packages }: FieldsProps) {
  const kinds = useKinds();
  const offered =
    section === "landmarks" || section === "points" || section === "parts" ? kinds[section] : null;
  const text = (key: string, label: string) => (
    <div className="w-36">
      <Text
        label={label}
        value={String(entry[key] ?? "")}
        onChange={(value) => set(key, value || null)}
        mono
      />
    </div>
  );
  const size = (entry.size_mm as number[] | undefined) ?? [14, 12];
  return (
    <>
      {section === "points"
        ? text("id", t`Id`)
        : section !== "landmarks" && text("designator", t`Designator`)}
      <NumberField label={t`x, mm`} value={Number(entry.x_mm)} onChange={(value) => set("x_mm", value)} />
      <NumberField label={t`y, mm`} value={Number(entry.y_mm)} onChange={(value) => set("y_mm", value)} />
      {section !== "points" && section !== "parts" && (
        <>
          <NumberField
            label={t`wide, mm`}
            value={size[0] ?? 0}
            onChange={(value) => set("size_mm", [value, size[1]])}
          />
          <NumberField
            label={t`high, mm`}
            value={size[1] ?? 0}
            onChange={(value) => set("size_mm", [size[0], value])}
          />
        </>
      )}
      {section === "core" && (
        <Choice
          label={t`Marked corner`}
          value={entry.mark_corner}
          words={CORNERS}
          onChange={(v) => set("mark_corner", v)}
        />
      )}
      {section !== "core" && section !== "landmarks" && (
        <Choice
          label={t`Side`}
          value={entry.side ?? "front"}
          words={["front", "back"]}
          onChange={(v) => set("side", v)}
        />
      )}
      {section === "sites" && (
        <>
          <NumberField
            label={t`turned, °`}
            value={Number(entry.rotation_deg ?? 0)}
            onChange={(value) => set("rotation_deg", value)}
          />
          <Choice
            label={t`Package`}
            value={entry.package ?? ""}
            words={[
              "",
              ...packages,
              ...(entry.package && !packages.includes(String(entry.package)) ? [String(entry.package)] : []),
            ]}
            onChange={(value) => set("package", value || null)}
          />
          {text("group", t`Supply group`)}
          {text("rail", t`Rail`)}
          <div className="w-36">
            <Text
              label={t`Lines`}
              value={spansOf(entry.dq)}
              onChange={(value) => set("dq", dqOf(value))}
              mono
            />
          </div>
          <label className="flex min-h-11 items-center gap-2">
            <input
              type="checkbox"
              className="size-6"
              checked={entry.fitted !== false}
              onChange={(event) => set("fitted", event.target.checked)}
            />
            <Trans>fitted</Trans>
          </label>
        </>
      )}
      {offered && (
        <Choice label={t`Kind`} value={entry.kind} words={offered} onChange={(value) => set("kind", value)} />
      )}
      {section === "landmarks" && text("text", t`Text`)}
      {section === "parts" && text("value", t`Value`)}
      {section === "parts" && text("marking", t`Marking`)}
      {section === "points" && (
        <>
          {text("net", t`Net`)}
          <Choice
            label={t`Reach`}
            value={entry.reach ?? "cooler-off"}
            words={REACH}
            onChange={(v) => set("reach", v)}
          />
        </>
      )}
    </>
  );
}

/** Lines as typed: 0-15, or 0-7, 16-23 */
function spansOf(dq: unknown): string {
  const pairs = Array.isArray(dq) ? (Array.isArray(dq[0]) ? dq : [dq]) : [];
  return pairs.map((pair) => (pair as number[]).join("-")).join(", ");
}

function dqOf(typed: string): unknown {
  const pairs = typed
    .split(",")
    .map((part) => part.split(/[-–]/).map((word) => Number(word.trim())))
    .filter((pair) => pair.length > 1);
  return pairs.length === 0 ? null : pairs.length === 1 ? pairs[0] : pairs;
}

interface ChoiceProps {
  label: string;
  value: unknown;
  words: readonly string[];
  onChange: (value: string) => void;
}

function Choice({ label, value, words, onChange }: ChoiceProps) {
  return (
    <label className="block">
      <span className="block text-soft">{label}</span>
      <Select
        className="field"
        value={String(value ?? "")}
        onChange={(event) => onChange(event.target.value)}
      >
        {words.map((word) => (
          <option key={word} value={word}>
            {word || t`not known`}
          </option>
        ))}
      </Select>
    </label>
  );
}
