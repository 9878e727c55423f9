import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type FormEvent, useState } from "react";
import { api, newId } from "../api/client";
import { keyOf } from "../queries/keys";
import { FormError } from "../shared/FormError";
import { NumberField, SelectField, TextField } from "../shared/fields";
import { useKeeping } from "../shared/keeping";
import { numberOf } from "../shared/numbers";
import { optionsOf, useKinds } from "../shared/useKinds";
import { FactsFields, factsOf, type Typed } from "./Facts";
import { COUNTED, type Condition } from "./useStock";

/** Taking a part into stock; without a label it gets the next of the shop's own. */
export function TakeIn({ taken }: { taken: (label: string) => void }) {
  const { conditions } = useKinds();
  const [typed, setTyped] = useState<Typed>({ kind: "chip" });
  const [label, setLabel] = useState("");
  const [tray, setTray] = useState("");
  const [condition, setCondition] = useState<Condition>("");
  const [amount, setAmount] = useState("");
  const [wrong, setWrong] = useState("");
  const keeping = useKeeping([keyOf("stock")]);
  const counted = COUNTED.includes(typed.kind ?? "");
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const said = factsOf(typed);
    const pieces = numberOf(amount);
    if ("wrong" in said) return setWrong(said.wrong);
    if (Number.isNaN(pieces)) return setWrong(t`pieces: found “${amount}”, expected a number`);
    setWrong("");
    const body = {
      id: newId(),
      facts: said.facts,
      to: tray.trim(),
      label: label.trim(),
      condition,
      amount: counted ? pieces : null,
    };
    const answer = await keeping.keep(() => api.POST("/api/v1/stock", { body }));
    if (answer && answer !== "kept") taken(answer.label);
  };
  return (
    <form onSubmit={submit} className="space-y-3 border-rule border-t pt-4" data-testid="take-in">
      <h2 className="font-bold text-xl">
        <Trans>Book a part in</Trans>
      </h2>
      <FactsFields typed={typed} onChange={setTyped} />
      <div className="flex flex-wrap items-end gap-3">
        <TextField label={t`tray`} value={tray} onChange={setTray} wide="w-40" maxLength={120} />
        <TextField
          label={t`label, where it has one`}
          value={label}
          onChange={setLabel}
          mono
          wide="w-40"
          maxLength={120}
        />
        <SelectField
          label={t`condition`}
          value={condition}
          onChange={setCondition}
          options={[["", t`not recorded`], ...optionsOf<Condition>(conditions)]}
        />
        {counted && <NumberField label={t`pieces`} value={amount} onChange={setAmount} />}
        <button type="submit" className="button" disabled={!tray.trim() || keeping.busy}>
          <Trans>Take it in</Trans>
        </button>
      </div>
      <FormError problem={wrong ? { message: `${wrong}.` } : keeping.problem} />
    </form>
  );
}
