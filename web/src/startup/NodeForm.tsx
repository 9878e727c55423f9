import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type FormEvent, useState } from "react";
import type { BoardDocument, Edit } from "../editor/document";
import { TextField } from "../shared/fields";
import { type FileNode, nodesOf } from "./StartupPage";

interface NodeFormProps {
  node: FileNode | undefined;
  document: BoardDocument;
  apply: (edit: Edit) => Promise<BoardDocument | null>;
  choose: (node: string | null) => void;
  /** where what is entered now is known from: the job that it was come from, and who */
  known: string;
}

const KINDS = ["input", "rail", "signal", "clock", "draw"] as const;
const UNIT: Record<string, string> = { clock: "MHz", draw: "A" };
const SURE = { "": t`not recorded`, proven: t`proven`, likely: t`likely`, guessed: t`guessed` } as const;

/** One node: what it is, when it counts as there, what it needs, where it is probed, and where that is known from. */
export function NodeForm({ node, document, apply, choose, known }: NodeFormProps) {
  const [id, setId] = useState(node?.id ?? "");
  const [name, setName] = useState(node?.name ?? "");
  const [kind, setKind] = useState(node?.kind ?? "rail");
  const [low, setLow] = useState(node?.volts ? String(node.volts[0]) : "");
  const [high, setHigh] = useState(node?.volts ? String(node.volts[1]) : "");
  const [needs, setNeeds] = useState<readonly string[]>(node?.needs ?? []);
  const [point, setPoint] = useState(node?.point ?? "");
  const [parts, setParts] = useState((node?.parts ?? []).join(" "));
  const [note, setNote] = useState(node?.note ?? "");
  const [from, setFrom] = useState(node?.from ?? known);
  const [sure, setSure] = useState(node?.sure ?? "");
  const number = (text: string) => Number(text.replace(",", "."));
  const banded = low.trim() !== "" && high.trim() !== "";
  const fits = id.trim() && (!banded || (Number.isFinite(number(low)) && Number.isFinite(number(high))));
  const others = nodesOf(document).filter((entry) => entry.id !== node?.id);
  const points = (document.points ?? []).map((entry) => String(entry.id));
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const said = { point, note: note.trim(), from: from.trim(), sure };
    const kept = Object.fromEntries(
      Object.entries({ ...node, ...said }).filter(([key, value]) => !(key in said) || value !== ""),
    );
    const entry = {
      ...kept,
      id: id.trim(),
      name: name.trim() || id.trim(),
      kind,
      ...(banded ? { volts: [number(low), number(high)] } : {}),
      needs: [...needs],
      parts: parts.split(/[\s,]+/).filter(Boolean),
    };
    if (await apply({ do: "node", id: node?.id ?? "", entry })) choose(node ? id.trim() : null);
  };
  return (
    <form onSubmit={submit} className="space-y-3" data-testid="node-form">
      <h2 className="font-bold text-lg">{node ? t`Node ${node.id}` : t`A new node`}</h2>
      <div className="grid grid-cols-2 gap-3">
        <TextField label={t`id`} value={id} onChange={setId} mono />
        <TextField label={t`name`} value={name} onChange={setName} />
        <label>
          <span className="block text-soft">
            <Trans>kind</Trans>
          </span>
          <select className="field w-full" value={kind} onChange={(event) => setKind(event.target.value)}>
            {KINDS.map((word) => (
              <option key={word}>{word}</option>
            ))}
          </select>
        </label>
        <div className="grid grid-cols-2 gap-3">
          <TextField label={t`from, ${UNIT[kind] ?? "V"}`} value={low} onChange={setLow} mono />
          <TextField label={t`to, ${UNIT[kind] ?? "V"}`} value={high} onChange={setHigh} mono />
        </div>
        <label>
          <span className="block text-soft">
            <Trans>probed at</Trans>
          </span>
          <select
            className="field w-full font-mono"
            value={point}
            onChange={(event) => setPoint(event.target.value)}
          >
            <option value="">{t`no point yet`}</option>
            {points.map((word) => (
              <option key={word}>{word}</option>
            ))}
          </select>
        </label>
        <TextField label={t`parts that make it`} value={parts} onChange={setParts} mono />
        <TextField label={t`known from`} value={from} onChange={setFrom} />
        <label>
          <span className="block text-soft">
            <Trans>how sure</Trans>
          </span>
          <select className="field w-full" value={sure} onChange={(event) => setSure(event.target.value)}>
            {Object.entries(SURE).map(([one, words]) => (
              <option key={one} value={one}>
                {words}
              </option>
            ))}
          </select>
        </label>
      </div>
      <TextField
        label={t`note: what makes it, on which side, substitute points`}
        value={note}
        onChange={setNote}
      />
      {others.length > 0 && (
        <fieldset>
          <legend className="text-soft">
            <Trans>needs</Trans>
          </legend>
          <div className="flex flex-wrap gap-x-4">
            {others.map((other) => (
              <label key={other.id} className="flex min-h-11 items-center gap-2">
                <input
                  type="checkbox"
                  className="size-6"
                  checked={needs.includes(other.id)}
                  onChange={(event) =>
                    setNeeds(
                      event.target.checked ? [...needs, other.id] : needs.filter((need) => need !== other.id),
                    )
                  }
                />
                <span className="font-mono">{other.id}</span>
              </label>
            ))}
          </div>
        </fieldset>
      )}
      <div className="flex gap-3">
        <button type="submit" className="button" disabled={!fits}>
          {node ? t`Change it` : t`Add it`}
        </button>
        {node && (
          <>
            <button
              type="button"
              className="button"
              onClick={async () => {
                if (await apply({ do: "drop-node", id: node.id })) choose(null);
              }}
            >
              <Trans>Take it away</Trans>
            </button>
            <button type="button" className="button-plain" onClick={() => choose(null)}>
              <Trans>A new one</Trans>
            </button>
          </>
        )}
      </div>
    </form>
  );
}
