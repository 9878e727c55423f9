import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, data } from "../api/client";

/** What the lead sets of money: currency, an hour's cost, the share of a card's value that may go into it. */
export function Money() {
  const queries = useQueryClient();
  const money = useQuery({
    queryKey: ["money"],
    queryFn: async () => data(await api.GET("/api/v1/money")),
  });
  const [said, setSaid] = useState("");
  if (!money.data) return null;
  const submit = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const number = (name: string) => Number(String(form.get(name)).replace(",", "."));
    try {
      const body = { currency: String(form.get("currency")), hour: number("hour"), share: number("share") };
      queries.setQueryData(["money"], data(await api.PUT("/api/v1/money", { body })));
      for (const key of ["time", "setup"]) void queries.invalidateQueries({ queryKey: [key] });
      setSaid("Saved.");
    } catch (error) {
      setSaid((error as Error).message);
    }
  };
  return (
    <form onSubmit={submit} className="flex flex-wrap items-end gap-3">
      <h2 className="w-full text-xl font-bold">
        <Trans>Money</Trans>
      </h2>
      {(
        [
          ["currency", "currency", money.data.currency],
          ["hour", t`cost of an hour’s work`, money.data.hour],
          ["share", t`share of a card’s value that may go into it`, money.data.share],
        ] as const
      ).map(([name, says, value]) => (
        <label key={name}>
          <span className="block text-soft">{says}</span>
          <input className="field w-40 font-mono" name={name} required defaultValue={value} maxLength={12} />
        </label>
      ))}
      <button type="submit" className="button">
        <Trans>Save</Trans>
      </button>
      {said && <p role="status">{said}</p>}
    </form>
  );
}
