import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api } from "../api/client";
import { benchPlansQuery } from "../queries/library";
import { ChooseFile } from "../shared/ChooseFile";
import { FormError } from "../shared/FormError";
import { TextField } from "../shared/fields";
import { useKeeping } from "../shared/keeping";
import { LoadError, Loading } from "../shared/states";
import { useCodeWords } from "../shared/useKinds";
import { mayWorkAtBench, useSession } from "../signin/session";

interface PlanNode {
  id: string;
  name: string;
  kind: string;
  names: string[];
  always?: boolean;
  volts?: [number, number];
  mhz?: [number, number];
  ohms?: [number, number];
  where?: string;
  lowered_by?: string;
  wrong?: string;
  leads?: string;
}
interface PlanDocument {
  id: string;
  name: string;
  nodes: PlanNode[];
}

const WORDS = [
  ["where", t`where one finds it`],
  ["lowered_by", t`what lowers it`],
  ["wrong", t`what a wrong reading means`],
] as const;

/** The bench plans: what every card of a class has in common, in the usual order of start. */
export function PlansPage() {
  const codeWords = useCodeWords();
  const session = useSession();
  const mayWork = mayWorkAtBench(session.data?.person);
  const plans = useQuery(benchPlansQuery());
  const [chosen, setChosen] = useState(0);
  const [edited, setEdited] = useState<PlanDocument | null>(null);
  const { problem, keep } = useKeeping([], () => setEdited(null));
  if (plans.isError) return <LoadError problem={plans.error} again={() => plans.refetch()} />;
  if (!plans.data) return <Loading what={t`Reading the bench plans`} />;
  const saved = plans.data[chosen];
  const plan = edited ?? (saved?.document as unknown as PlanDocument);
  const change = (at: number, part: Partial<PlanNode>) =>
    setEdited({
      ...plan,
      nodes: plan.nodes.map((node, number) => (number === at ? { ...node, ...part } : node)),
    });
  const save = async (document: unknown) => {
    const body = { document: document as Record<string, never> };
    await keep(() => api.POST("/api/v1/bench-plans", { body }), benchPlansQuery().queryKey);
  };
  const file = new Blob([JSON.stringify(plan, null, 1)], { type: "application/json" });
  return (
    <main className="max-w-5xl space-y-4 p-6">
      <header className="flex flex-wrap items-center gap-3">
        <h1 className="text-3xl font-bold">
          <Trans>Bench plans</Trans>
        </h1>
        <span className="ml-auto flex flex-wrap gap-3">
          <button
            type="button"
            className="button"
            onClick={() => {
              const link = Object.assign(document.createElement("a"), {
                href: URL.createObjectURL(file),
                download: `${plan.id}.plan.json`,
              });
              link.click();
            }}
          >
            <Trans>Export {plan.id}.plan.json</Trans>
          </button>
          {mayWork && (
            <ChooseFile
              take={async ([first]) => first && save(JSON.parse(await first.text()))}
              accept=".json"
              testid="plan-file"
            >
              <Trans>Import a plan</Trans>
            </ChooseFile>
          )}
        </span>
      </header>
      <p>
        <Trans>
          A card whose board nobody has drawn is read by what every card has: its supplies in their usual
          order of start. Figures are orders of magnitude, never a band of good cards.
        </Trans>
      </p>
      <label className="block">
        <span className="block text-soft">
          <Trans>plan</Trans>
        </span>
        <Select
          className="field"
          value={chosen}
          onChange={(event) => {
            setChosen(Number(event.target.value));
            setEdited(null);
          }}
        >
          {plans.data.map((entry, number) => (
            <option key={(entry.document as unknown as PlanDocument).id} value={number}>
              {(entry.document as unknown as PlanDocument).name}
              {entry.own && t`, changed by this shop`}
            </option>
          ))}
        </Select>
      </label>
      <FormError problem={problem} />
      <ol aria-label={t`Nodes`} className="space-y-4">
        {plan.nodes.map((node, at) => (
          <li key={node.id} className="border-rule border-t pt-3">
            <p className="flex flex-wrap items-baseline gap-x-4">
              <strong className="text-lg">{node.name}</strong>
              <span className="text-soft">
                {codeWords(node.kind)}
                {!node.always && t`, not on every card`}
                {node.volts && t`, ${node.volts[0]} to ${node.volts[1]} V`}
                {node.mhz && t`, ${node.mhz[0]} to ${node.mhz[1]} MHz`}
                {node.ohms && t`, usually ${node.ohms[0]} to ${node.ohms[1]} Ω to ground`}
              </span>
            </p>
            <div className="grid gap-x-3 sm:grid-cols-2">
              <TextField
                label={t`it is called`}
                value={node.names.join(", ")}
                onChange={(text) => change(at, { names: text.split(",").map((name) => name.trim()) })}
                disabled={!mayWork}
                maxLength={2000}
              />
              {WORDS.map(([key, label]) => (
                <TextField
                  key={key}
                  label={label}
                  value={node[key] ?? ""}
                  onChange={(text) => change(at, { [key]: text })}
                  disabled={!mayWork}
                  maxLength={300}
                />
              ))}
            </div>
          </li>
        ))}
      </ol>
      {mayWork && (
        <button type="button" className="button" disabled={!edited} onClick={() => void save(plan)}>
          <Trans>Save as this shop’s plan</Trans>
        </button>
      )}
    </main>
  );
}
