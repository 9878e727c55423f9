import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { SelectField, TextField } from "../shared/fields";
import { LoadError, Loading } from "../shared/states";
import { optionsOf, useKinds, wordsOf } from "../shared/useKinds";
import { day, times } from "../shared/words";
import { mayWorkAtBench, useSession } from "../signin/session";
import { PartLife } from "./PartLife";
import { TakeIn } from "./TakeIn";
import { type Kind, partWords, type StockData, useStock } from "./useStock";

const PLACES = [
  ["", t`anywhere`],
  ["tray", t`in a tray`],
  ["hand", t`at the bench`],
  ["lent", t`lent`],
  ["set", t`with a set`],
  ["card", t`on a card`],
  ["gone", t`gone`],
] as const;

/** Parts that are sought at the left; at the right one part's life, or the whole. */
export function Parts() {
  const { stock: kinds, conditions } = useKinds();
  const [query, setQuery] = useSearchParams();
  const [text, setText] = useState("");
  const [kind, setKind] = useState("");
  const [place, setPlace] = useState<(typeof PLACES)[number][0]>("");
  const session = useSession();
  const mayWork = mayWorkAtBench(session.data?.person);
  const label = query.get("label") ?? "";
  const stock = useStock({ text: text.trim(), kind, place });
  const choose = (next: string) => setQuery(next ? { label: next } : {});
  if (stock.isError) return <LoadError problem={stock.error} again={() => stock.refetch()} />;
  if (!stock.data) return <Loading what={t`Reading the stock`} />;
  return (
    <div className="grid gap-8 lg:grid-cols-[24rem_1fr]">
      <section aria-label={t`Search results`}>
        <div className="flex flex-wrap items-end gap-3">
          <TextField label={t`label, marking, tray, lot`} value={text} onChange={setText} />
          <SelectField
            label={t`kind`}
            value={kind}
            onChange={setKind}
            options={[["", t`every kind`], ...optionsOf<Kind>(kinds)]}
          />
          <SelectField label={t`where`} value={place} onChange={setPlace} options={PLACES} />
        </div>
        <p className="mt-2 text-soft">
          {plural(stock.data.found, { one: "# part", other: "# parts" })}
          {stock.data.found > stock.data.parts.length && t`, the first ${stock.data.parts.length} shown`}
        </p>
        <ul aria-label={t`Parts`}>
          {stock.data.parts.map((part) => (
            <li key={part.label} className="border-rule border-t">
              <button
                type="button"
                className={`w-full px-2 py-2 text-left ${part.label === label ? "bg-sheet shadow-[inset_4px_0_0_var(--color-ink)]" : ""}`}
                aria-pressed={part.label === label}
                onClick={() => choose(part.label)}
              >
                <strong className="break-all font-mono text-lg">{part.label}</strong>{" "}
                <span>
                  {[part.marking || partWords(kinds, part.kind), part.vendor].filter(Boolean).join(", ")}
                </span>
                <span className="block text-soft">
                  {part.amount !== null && t`${part.amount} pieces, `}
                  {part.where}
                  {part.condition && `, ${wordsOf(conditions, part.condition)}`}
                  {part.cycles > 0 && t`, heated ${times(part.cycles)}`}
                </span>
              </button>
            </li>
          ))}
          {stock.data.parts.length === 0 && (
            <li className="border-rule border-t py-2 text-soft">
              <Trans>No match. Scan a label, or book a part in.</Trans>
            </li>
          )}
        </ul>
      </section>
      {label ? (
        <PartLife key={label} label={label} mayWork={mayWork} close={() => choose("")} />
      ) : (
        <div className="min-w-0 space-y-6">
          <Whole stock={stock.data} choose={choose} pick={setText} />
          <TakeIn taken={choose} />
        </div>
      )}
    </div>
  );
}

function Whole({
  stock,
  choose,
  pick,
}: {
  stock: StockData;
  choose: (label: string) => void;
  pick: (text: string) => void;
}) {
  return (
    <>
      <section aria-labelledby="order-title">
        <h2 id="order-title" className="font-bold text-xl">
          <Trans>To order</Trans>
        </h2>
        <ul>
          {stock.hints.map((hint) => (
            <li key={hint.name} className="border-rule border-t py-2">
              <strong>
                <Trans>
                  {hint.order} more {hint.name}
                </Trans>
              </strong>
              : {hint.why}
            </li>
          ))}
          {stock.hints.length === 0 && (
            <li className="text-soft">
              <Trans>Nothing is likely to run out before an order comes.</Trans>
            </li>
          )}
        </ul>
      </section>
      <section aria-labelledby="loans-title">
        <h2 id="loans-title" className="font-bold text-xl">
          <Trans>On loan</Trans>
        </h2>
        <ul>
          {stock.loans.map((loan) => (
            <li key={loan.label} className="border-rule border-t py-1">
              <button
                type="button"
                className="button-plain -ml-2 font-mono"
                onClick={() => choose(loan.label)}
              >
                {loan.label}
              </button>
              <Trans>
                {" "}
                with {loan.to} since {day(loan.since)}
              </Trans>
              {loan.due &&
                (loan.overdue ? (
                  <strong className="text-suspect">
                    <Trans>, was due {day(loan.due)}</Trans>
                  </strong>
                ) : (
                  t`, due ${day(loan.due)}`
                ))}
            </li>
          ))}
          {stock.loans.length === 0 && (
            <li className="text-soft">
              <Trans>Nothing is lent.</Trans>
            </li>
          )}
        </ul>
      </section>
      <section aria-labelledby="trays-title">
        <h2 id="trays-title" className="font-bold text-xl">
          <Trans>Trays</Trans>
        </h2>
        <ul className="flex flex-wrap gap-2">
          {stock.trays.map((tray) => (
            <li key={tray.name}>
              <button type="button" className="button" onClick={() => pick(tray.name)}>
                {tray.name}{" "}
                <span className="text-soft">{plural(tray.parts, { one: "# part", other: "# parts" })}</span>
              </button>
            </li>
          ))}
          {stock.trays.length === 0 && (
            <li className="text-soft">
              <Trans>No tray holds a part yet.</Trans>
            </li>
          )}
        </ul>
      </section>
    </>
  );
}
