import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api } from "../api/client";
import type { components } from "../api/schema";
import { keyOf } from "../queries/keys";
import { moneyQuery } from "../queries/shop";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";

type Dates = components["schemas"]["Writing"]["dates"];
type Decimal = components["schemas"]["Writing"]["decimal"];

/** What the lead sets of money, and how the shop writes amounts and dates. */
export function Money() {
  const money = useQuery(moneyQuery());
  const [said, setSaid] = useState("");
  const { problem, keep } = useKeeping([keyOf("time"), keyOf("setup"), keyOf("writing")]);
  if (!money.data) return null;
  const submit = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const number = (name: string) => Number(String(form.get(name)).replace(",", "."));
    const body = {
      currency: String(form.get("currency")),
      hour: number("hour"),
      share: number("share"),
      dates: form.get("dates") as Dates,
      decimal: form.get("decimal") as Decimal,
    };
    setSaid("");
    const kept = await keep(() => api.PUT("/api/v1/money", { body }), moneyQuery().queryKey);
    if (kept) setSaid(t`Saved.`);
  };
  return (
    <form onSubmit={submit} className="flex flex-wrap items-end gap-3">
      <h2 className="w-full text-xl font-bold">
        <Trans>Money and writing</Trans>
      </h2>
      {(
        [
          ["currency", t`currency`, money.data.currency],
          ["hour", t`cost of an hour’s work`, money.data.hour],
          ["share", t`share of a card’s value that may go into it`, money.data.share],
        ] as const
      ).map(([name, label, value]) => (
        <label key={name}>
          <span className="block text-soft">{label}</span>
          <input className="field w-40 font-mono" name={name} required defaultValue={value} maxLength={12} />
        </label>
      ))}
      <label>
        <span className="block text-soft">
          <Trans>a date is written</Trans>
        </span>
        <Select className="field" name="dates" defaultValue={money.data.dates}>
          <option value="day-month">4 Sep 2031</option>
          <option value="month-day">Sep 4, 2031</option>
          <option value="iso">2031-09-04</option>
        </Select>
      </label>
      <label>
        <span className="block text-soft">
          <Trans>an amount is written</Trans>
        </span>
        <Select className="field" name="decimal" defaultValue={money.data.decimal}>
          <option value="point">1,234.50</option>
          <option value="comma">1.234,50</option>
        </Select>
      </label>
      <button type="submit" className="button">
        <Trans>Save</Trans>
      </button>
      {said && <p role="status">{said}</p>}
      <FormError problem={problem} />
    </form>
  );
}
