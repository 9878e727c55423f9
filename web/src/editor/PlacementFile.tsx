import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import type { Placement } from "../api/client";
import { uploadEntry } from "../api/upload";
import { ChooseFile } from "../shared/ChooseFile";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";
import { listed } from "../shared/words";
import type { BoardDocument, Edit } from "./document";

/** A component-placement CSV: read, shown with what was understood, memory and core ticked, then taken in. */
export function PlacementFile({ apply }: { apply: (edit: Edit) => Promise<BoardDocument | null> }) {
  const [read, setRead] = useState<Placement | null>(null);
  const [file, setFile] = useState<File | null>(null);
  const [memory, setMemory] = useState<string[]>([]);
  const [core, setCore] = useState("");
  const reading = useKeeping([]);
  const take = async (chosen: File | null | undefined, unit?: string) => {
    if (!chosen) return;
    setFile(chosen);
    const form = new FormData();
    form.append("file", chosen);
    if (unit) form.append("unit", unit);
    const found = await reading.keep(() =>
      uploadEntry<Placement>("/api/v1/board-drafts/placement", form, () => undefined),
    );
    const placement = found && found !== "kept" ? found : null;
    setRead(placement);
    if (!placement) return;
    setMemory(placement.memory);
    setCore(placement.core ?? "");
  };
  const use = async () => {
    if (!read) return;
    if (await apply({ do: "placement", rows: read.rows, memory, core })) setRead(null);
  };
  const groups = read ? groupsOf(read) : [];
  return (
    <details>
      <summary className="cursor-pointer py-1 text-lg font-bold">
        <Trans>Import a placement file</Trans>
      </summary>
      <p className="text-soft">
        <Trans>
          A CSV with designator, x, y, and if it has them side, rotation, value and package; any header names.
        </Trans>
      </p>
      <ChooseFile
        take={(files) => void take(files[0])}
        accept=".csv,.txt,.tsv"
        testid="placement"
        className="mt-2"
      >
        <Trans>Choose a placement file</Trans>
      </ChooseFile>
      <FormError plain problem={reading.problem && { message: t`${reading.said} The model is as it was.` }} />
      {read && (
        <div className="mt-3 space-y-3">
          <p>
            <Trans>{read.rows.length} components in </Trans>
            <Select
              className="field"
              aria-label={t`Unit`}
              value={read.unit}
              onChange={(event) => void take(file, event.target.value)}
            >
              {["mm", "mil", "inch"].map((unit) => (
                <option key={unit}>{unit}</option>
              ))}
            </Select>
            <Trans>
              {" "}
              ({read.unit_why}). Taken:{" "}
              {Object.entries(read.columns)
                .map(([column, header]) => t`${column} from “${header}”`)
                .join(", ")}
              .
            </Trans>
          </p>
          {read.unread_count > 0 && (
            <p className="border-l-4 border-ink pl-3">
              <Trans>
                {read.unread_count} rows could not be read, first line {read.unread[0]?.line}:{" "}
                <span className="font-mono">{read.unread[0]?.text}</span>
              </Trans>
            </p>
          )}
          <fieldset>
            <legend className="font-semibold">
              <Trans>Which are the memory</Trans>
            </legend>
            {groups.map((group) => (
              <label key={group.key} className="flex min-h-9 items-center gap-3">
                <input
                  type="checkbox"
                  className="size-5"
                  checked={group.names.every((name) => memory.includes(name))}
                  onChange={(event) =>
                    setMemory((old) => {
                      const rest = old.filter((name) => !group.names.includes(name));
                      return event.target.checked ? [...rest, ...group.names] : rest;
                    })
                  }
                />
                <span>
                  {group.names.length} × {group.what}:{" "}
                  <span className="font-mono">{listed(group.names.slice(0, 10))}</span>
                  {group.names.length > 10 && " …"}
                </span>
              </label>
            ))}
            <Names
              names={memory}
              known={read.rows.map((row) => row.designator)}
              onChange={(names) => setMemory(names)}
            />
          </fieldset>
          <label className="block">
            <span className="font-semibold">
              <Trans>The core is</Trans>{" "}
            </span>
            <Select className="field" value={core} onChange={(event) => setCore(event.target.value)}>
              <option value="">{t`none of these`}</option>
              {read.rows
                .filter((row) => !SMALL.test(row.designator) && !memory.includes(row.designator))
                .map((row) => (
                  <option key={row.designator}>{row.designator}</option>
                ))}
            </Select>
          </label>
          <button type="button" className="button" onClick={() => void use()}>
            <Trans>Take them in</Trans>
          </button>
        </div>
      )}
    </details>
  );
}

// Parts that are no chips, by their letters.
const SMALL = /^(R|C|L|F|D|Q|Y|X|J|P|RS|FB|TP|H|MH|FID)[0-9]/i;

/** The chosen designators themselves, for what no group says. */
function Names({
  names,
  known,
  onChange,
}: {
  names: string[];
  known: string[];
  onChange: (names: string[]) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const wanted = (typed ?? "").split(/[\s,;]+/).filter(Boolean);
  const unknown = wanted.filter((name) => !known.includes(name));
  return (
    <label className="mt-1 block">
      <span className="block text-soft">
        <Trans>by designator</Trans>
      </span>
      <input
        className="field w-full font-mono"
        value={typed ?? names.join(" ")}
        onChange={(event) => {
          setTyped(event.target.value);
          const found = event.target.value.split(/[\s,;]+/);
          onChange(known.filter((name) => found.includes(name)));
        }}
        onBlur={() => unknown.length === 0 && setTyped(null)}
      />
      {unknown.length > 0 && (
        <span role="alert" className="block border-l-4 border-suspect pl-3">
          <Trans>{listed(unknown.slice(0, 6))}: not in the file.</Trans>
        </span>
      )}
    </label>
  );
}

/** Chips of like letters that share value and package, the largest groups first. */
function groupsOf(read: Placement) {
  const groups = new Map<string, string[]>();
  for (const row of read.rows) {
    if (SMALL.test(row.designator)) continue;
    const letters = row.designator.replace(/[0-9].*$/, "");
    const key = [letters, row.value, row.package].filter(Boolean).join(", ");
    groups.set(key, [...(groups.get(key) ?? []), row.designator]);
  }
  return [...groups]
    .map(([key, names]) => ({ key, names, what: key }))
    .sort((entry, other) => other.names.length - entry.names.length)
    .slice(0, 12);
}
