import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type FormEvent, useState } from "react";
import { useForm } from "react-hook-form";
import { Link } from "react-router";
import { api, newId } from "../api/client";
import { keyOf } from "../queries/keys";
import { FormError } from "../shared/FormError";
import { SelectField } from "../shared/fields";
import { FormNumber, FormSelect, FormText } from "../shared/formFields";
import { useKeeping } from "../shared/keeping";
import { decimalOf } from "../shared/numbers";
import { LoadError, Loading } from "../shared/states";
import { optionsOf, useKinds, wordsOf } from "../shared/useKinds";
import { jobLabel, moment, times } from "../shared/words";
import { FactsFields, factsOf, factsWords, type Typed, typedOf } from "./Facts";
import { Genealogy } from "./Genealogy";
import { COUNTED, type Condition, type Life, lifeAt, type Move, partWords, useLife } from "./useStock";

interface PartLifeProps {
  label: string;
  mayWork: boolean;
  close: () => void;
}

/** One part: where it is, its way through cards, every step, and what may be done with it from here. */
export function PartLife({ label, mayWork, close }: PartLifeProps) {
  const { stock: kinds, conditions } = useKinds();
  const life = useLife(label);
  if (life.isError)
    return (
      <div>
        <LoadError problem={life.error} again={() => life.refetch()} />
        <button type="button" className="button-plain" onClick={close}>
          <Trans>Back to the whole stock</Trans>
        </button>
      </div>
    );
  if (!life.data) return <Loading what={t`Reading its life`} />;
  const { part, facts, steps, drawn, members, printed } = life.data;
  const said = factsWords(facts as Record<string, unknown>);
  return (
    <article aria-label={t`Life of ${label}`} className="min-w-0 space-y-4">
      <header>
        <div className="flex flex-wrap items-baseline justify-between gap-3">
          <h2 className="break-all font-bold font-mono text-4xl">{label}</h2>
          <span>
            <a
              className="button-plain"
              href={`/api/v1/stock/label?label=${encodeURIComponent(label)}`}
              target="_blank"
              rel="noreferrer"
            >
              <Trans>Print its label</Trans>
            </a>
            <button type="button" className="button-plain" onClick={close}>
              <Trans>Whole stock</Trans>
            </button>
          </span>
        </div>
        <p className="text-xl">
          <Trans>
            {part.marking || partWords(kinds, part.kind)} is <strong>{part.where}</strong>
          </Trans>
          {life.data.job && (
            <>
              {" "}
              <Link className="button-plain" to={`/jobs/${life.data.job}/rework`}>
                <Trans>Open its job</Trans>
              </Link>
            </>
          )}
        </p>
        <p>
          {part.amount !== null ? t`${part.amount} pieces at hand. ` : t`Heated ${times(part.cycles)}. `}
          {part.condition && t`Condition: ${wordsOf(conditions, part.condition)}. `}
          {printed
            ? t`Lot ${printed}${part.lot !== printed ? t`, read as ${part.lot}` : t`, which no rule of the shop reads`}. `
            : part.kind === "chip" && t`Lot not read. `}
          {said || t`What it is has not been entered yet.`}
        </p>
      </header>
      {members.length > 0 && (
        <p>
          <Trans>With it: </Trans>
          {members.map((member) => (
            <Link key={member} className="button-plain font-mono" to={lifeAt(member)}>
              {member}
            </Link>
          ))}
        </p>
      )}
      <Genealogy drawn={drawn} title={t`The way of ${label} through cards`} />
      <MovePart life={life.data} />
      <section aria-labelledby="life-title">
        <h3 id="life-title" className="font-bold text-lg">
          <Trans>Its life</Trans>
        </h3>
        <ol aria-label={t`Steps of its life`}>
          {[...steps].reverse().map((step) => (
            <li key={`${step.at} ${step.words} ${step.cycles}`} className="border-rule border-t py-1">
              <strong>{step.words}</strong>
              {step.cycles > 0 && t`, heated ${times(step.cycles)} by then`}. {step.note}{" "}
              <span className="text-soft">
                {step.job && (
                  <Link className="button-plain" to={`/jobs/${step.job}/rework`}>
                    {jobLabel(step.job)}
                  </Link>
                )}{" "}
                {[step.by, step.at ? moment(step.at) : t`before this shop saw it`].filter(Boolean).join(", ")}
              </span>
            </li>
          ))}
        </ol>
      </section>
      {mayWork && <SayWhat key={life.data.edition} life={life.data} />}
    </article>
  );
}

const TAKES = [
  ["put", t`put away in`],
  ["lent", t`lend to`],
  ["back", t`came back into`],
  ["joined", t`put with the set`],
  ["condition", t`its condition is`],
  ["used", t`pieces used`],
  ["counted", t`pieces counted`],
  ["scrapped", t`scrap it`],
  ["lost", t`it is lost`],
  ["found", t`found again in`],
] as const;

/** Only what fits where the part is, is offered. */
function offered(life: Life): readonly (readonly [Move["do"], string])[] {
  const { place, kind } = life.part;
  const counted = COUNTED.includes(kind);
  return TAKES.filter(([word]) => {
    if (word === "condition") return true;
    if (word === "used" || word === "counted") return counted;
    if (place === "card") return false;
    if (place === "lent") return word === "back" || word === "lost";
    if (place === "gone") return word === "found";
    return word !== "back" && word !== "found";
  });
}

function MovePart({ life }: { life: Life }) {
  const { conditions } = useKinds();
  const words = offered(life);
  const { control, handleSubmit, watch, setValue } = useForm<{
    chosen: Move["do"] | "";
    to: string;
    due: string;
    amount: string;
    condition: Condition;
    note: string;
  }>({
    defaultValues: {
      chosen: "",
      to: "",
      due: "",
      amount: "",
      condition: "",
      note: "",
    },
  });
  const { chosen, to, due, amount, condition, note } = watch();
  const label = life.part.label;
  const keeping = useKeeping([keyOf("stock"), keyOf("rework"), keyOf("lots")]);
  const what = words.some(([word]) => word === chosen) ? chosen : (words[0]?.[0] ?? "condition");
  const submit = handleSubmit(async () => {
    const pieces = decimalOf(amount);
    const body = {
      id: newId(),
      label,
      do: what as Move["do"],
      to: to.trim(),
      condition,
      note: note.trim(),
      ...(due ? { due } : {}),
      ...(what === "used" || what === "counted" ? { amount: pieces } : {}),
    };
    if (await keeping.keep(() => api.POST("/api/v1/stock/moves", { body }), keyOf("life", label))) {
      setValue("to", "");
      setValue("note", "");
      setValue("amount", "");
    }
  });
  const wants = ["put", "lent", "back", "joined", "found"].includes(what);
  const pieces = what === "used" || what === "counted";
  const bad = pieces && (amount.trim() === "" || Number.isNaN(decimalOf(amount)));
  return (
    <form onSubmit={submit} className="flex flex-wrap items-end gap-3" data-testid="move-part">
      <SelectField
        label={t`next`}
        value={what as Move["do"]}
        onChange={(word) => setValue("chosen", word)}
        options={words}
      />
      {wants && (
        <FormText
          control={control}
          name="to"
          label={what === "lent" ? t`who has it` : what === "joined" ? t`label of the set` : "tray"}
          wide="w-44"
          maxLength={120}
        />
      )}
      {what === "lent" && (
        <FormText control={control} name="due" label={t`due back`} type="date" wide="w-44" />
      )}
      {pieces && <FormNumber control={control} name="amount" label={t`pieces`} />}
      {what === "condition" && (
        <FormSelect
          control={control}
          name="condition"
          label={t`condition`}
          options={[["", t`not recorded`], ...optionsOf<Condition>(conditions)]}
        />
      )}
      <FormText control={control} name="note" label={t`note`} />
      <button
        type="submit"
        className="button"
        disabled={keeping.busy || bad || (wants && !to.trim()) || (what === "condition" && !condition)}
      >
        <Trans>Enter</Trans>
      </button>
      {life.part.place === "card" && (
        <p className="w-full text-soft">
          <Trans>It comes off its card at Rework; then it can be put away or lent.</Trans>
        </p>
      )}
      <div className="w-full">
        <FormError problem={keeping.problem} />
      </div>
    </form>
  );
}

function SayWhat({ life }: { life: Life }) {
  const [typed, setTyped] = useState<Typed>(() => ({
    kind: "chip",
    ...typedOf(life.facts as Record<string, unknown>),
  }));
  const [wrong, setWrong] = useState("");
  const label = life.part.label;
  const keeping = useKeeping([keyOf("stock"), keyOf("before")]);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const said = factsOf(typed);
    if ("wrong" in said) return setWrong(said.wrong);
    setWrong("");
    const body = { facts: said.facts, base: life.edition };
    const params = { query: { label } };
    await keeping.keep(() => api.PUT("/api/v1/stock/life", { params, body }), keyOf("life", label));
  };
  return (
    <details open={life.edition === 0}>
      <summary className="cursor-pointer py-1 font-bold underline underline-offset-3">
        <Trans>What it is</Trans>
      </summary>
      <form onSubmit={submit} className="mt-2 space-y-3" data-testid="facts">
        <FactsFields typed={typed} onChange={setTyped} />
        <button type="submit" className="button" disabled={keeping.busy}>
          <Trans>Save</Trans>
        </button>
        <FormError problem={wrong ? { message: `${wrong}.` } : keeping.problem} />
      </form>
    </details>
  );
}
