import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type FormEvent, useState } from "react";
import type { Ohms } from "../api/client";
import { SelectField, TextField } from "../shared/fields";

export type SpotKind = "pad" | "fuse" | "coil" | "part" | "plug";
interface Named {
  name: string;
  kind: SpotKind;
  node: string;
}

const KINDS: readonly (readonly [SpotKind, string])[] = [
  ["pad", t`a point to probe`],
  ["fuse", t`a fuse`],
  ["coil", t`a coil`],
  ["part", t`a part`],
  ["plug", t`a plug`],
];
const LETTERS: Record<SpotKind, string> = { pad: "P", fuse: "F", coil: "L", part: "U", plug: "plug " };

interface NameSpotProps {
  ohms: Ohms;
  /** what it most likely is */
  kind?: SpotKind;
  keep: (named: Named) => Promise<boolean>;
  forget: () => void;
}

/** What was clicked on a photograph: its kind first, then its name, and which supply it belongs to. */
export function NameSpot({ ohms, kind: first = "pad", keep, forget }: NameSpotProps) {
  const [kind, setKind] = useState<SpotKind>(first);
  const [name, setName] = useState("");
  const [node, setNode] = useState("");
  const free = freeName(ohms, LETTERS[kind]);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    await keep({ name: name.trim() || (kind === "pad" && node) || free, kind, node });
  };
  const belongs = kind === "pad" || kind === "plug" ? t`it is` : t`it makes`;
  return (
    <form onSubmit={submit} className="border-next border-l-8 bg-next-wash px-4 py-3" data-testid="name-spot">
      <p className="font-bold">
        <Trans>What is there?</Trans>
      </p>
      <div className="mt-1 flex flex-wrap items-end gap-3">
        <SelectField label={t`kind`} value={kind} onChange={setKind} options={KINDS} />
        <TextField
          label={t`printed beside it`}
          value={name}
          onChange={setName}
          maxLength={60}
          placeholder={free}
          wide="w-32"
          mono
        />
        {kind !== "fuse" && (
          <label>
            <span className="block text-soft">{belongs}</span>
            <Select className="field" value={node} onChange={(event) => setNode(event.target.value)}>
              <option value="">{t`nothing of the plan`}</option>
              {ohms.plan.map((entry) => (
                <option key={entry.id} value={entry.id}>
                  {entry.name}
                </option>
              ))}
            </Select>
          </label>
        )}
        <button type="submit" className="button">
          <Trans>Name it</Trans>
        </button>
        <button type="button" className="button-plain" onClick={forget}>
          <Trans>Forget it</Trans>
        </button>
      </div>
    </form>
  );
}

/** P1, P2 … the first that is free. */
function freeName(ohms: Ohms, letter: string): string {
  const known = new Set(ohms.points.map((point) => point.name));
  let number = 1;
  while (known.has(`${letter}${number}`)) number += 1;
  return `${letter}${number}`;
}
