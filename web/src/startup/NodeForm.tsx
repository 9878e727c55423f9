import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useForm } from "react-hook-form";
import type { BoardDocument, Edit } from "../editor/document";
import { FormSelect, FormText, FormTicks } from "../shared/formFields";
import { decimalOf } from "../shared/numbers";
import { optionsOf, useKinds } from "../shared/useKinds";
import { type FileNode, nodesOf } from "./StartupPage";

interface NodeFormProps {
  node: FileNode | undefined;
  document: BoardDocument;
  apply: (edit: Edit) => Promise<BoardDocument | null>;
  choose: (node: string | null) => void;
  /** where what is entered now is known from: the job that it was come from, and who */
  known: string;
}

const UNIT: Record<string, string> = { clock: "MHz", draw: "A" };
const SURE = { "": t`not recorded`, proven: t`proven`, likely: t`likely`, guessed: t`guessed` } as const;

/** One node: what it is, when it counts as there, what it needs, where it is probed, and where that is known from. */
export function NodeForm({ node, document, apply, choose, known }: NodeFormProps) {
  const { nodes: kinds } = useKinds();
  const { control, handleSubmit, watch } = useForm({
    defaultValues: {
      id: node?.id ?? "",
      kind: (node?.kind ?? "rail") as string,
      needs: [...(node?.needs ?? [])],
      point: node?.point ?? "",
      sure: (node?.sure ?? "") as string,
      name: node?.name ?? "",
      low: node?.volts ? String(node.volts[0]) : "",
      high: node?.volts ? String(node.volts[1]) : "",
      parts: (node?.parts ?? []).join(" "),
      note: node?.note ?? "",
      from: node?.from ?? known,
    },
  });
  const { id, name, kind, low, high, needs, point, parts, note, from, sure } = watch();
  const banded = low.trim() !== "" && high.trim() !== "";
  const fits =
    id.trim() && (!banded || (Number.isFinite(decimalOf(low)) && Number.isFinite(decimalOf(high))));
  const others = nodesOf(document).filter((entry) => entry.id !== node?.id);
  const points = (document.points ?? []).map((entry) => String(entry.id));
  const submit = handleSubmit(async () => {
    const said = { point, note: note.trim(), from: from.trim(), sure };
    const kept = Object.fromEntries(
      Object.entries({ ...node, ...said }).filter(([key, value]) => !(key in said) || value !== ""),
    );
    const entry = {
      ...kept,
      id: id.trim(),
      name: name.trim() || id.trim(),
      kind,
      ...(banded ? { volts: [decimalOf(low), decimalOf(high)] } : {}),
      needs,
      parts: parts.split(/[\s,]+/).filter(Boolean),
    };
    if (await apply({ do: "node", id: node?.id ?? "", entry })) choose(node ? id.trim() : null);
  });
  return (
    <form onSubmit={submit} className="space-y-3" data-testid="node-form">
      <h2 className="font-bold text-lg">{node ? t`Node ${node.id}` : t`A new node`}</h2>
      <div className="grid grid-cols-2 gap-3">
        <FormText control={control} name="id" label={t`id`} mono />
        <FormText control={control} name="name" label={t`name`} />
        <FormSelect
          control={control}
          name="kind"
          wide="w-full"
          label={t`kind`}
          options={optionsOf<string>(kinds)}
        />
        <div className="grid grid-cols-2 gap-3">
          <FormText control={control} name="low" wide="w-full" label={t`from, ${UNIT[kind] ?? "V"}`} mono />
          <FormText control={control} name="high" wide="w-full" label={t`to, ${UNIT[kind] ?? "V"}`} mono />
        </div>
        <FormSelect
          control={control}
          name="point"
          wide="w-full"
          label={t`probed at`}
          mono
          options={[["", t`no point yet`], ...points.map((word) => [word, word] as const)]}
        />
        <FormText control={control} name="parts" label={t`parts that make it`} mono />
        <FormText control={control} name="from" label={t`known from`} />
        <FormSelect
          control={control}
          name="sure"
          wide="w-full"
          label={t`how sure`}
          options={Object.entries(SURE)}
        />
      </div>
      <FormText
        control={control}
        name="note"
        label={t`note: what makes it, on which side, substitute points`}
      />
      {others.length > 0 && (
        <fieldset>
          <legend className="text-soft">
            <Trans>needs</Trans>
          </legend>
          <div className="flex flex-wrap gap-x-4">
            <FormTicks control={control} name="needs" names={others.map((other) => other.id)} />
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
