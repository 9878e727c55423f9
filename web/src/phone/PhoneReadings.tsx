import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, newId } from "../api/client";
import type { components } from "../api/schema";
import { Mark } from "../ohms/Mark";
import { keyOf } from "../queries/keys";
import { phoneRouteQuery } from "../queries/shop";
import { useKeeping } from "../shared/keeping";

type Taken = components["schemas"]["PhoneReading"];
type Quantity = components["schemas"]["NewPhoneReadingRequest"]["quantity"];

const QUANTITIES: readonly (readonly [Quantity, string])[] = [
  ["resistance", t`Ohms`],
  ["diode", t`Diode`],
  ["voltage", t`Volts`],
];

// what is confirmed by storing all the same
const CONFIRMED: Record<string, string> = {
  "not-off": t`It is unplugged and discharged: store it`,
  "unit-slip": t`It is right: store it`,
};

/** Readings typed where the probe is: the next point stands there, the verdict comes back at once. */
export function PhoneReadings({ token }: { token: string }) {
  const queries = useQueryClient();
  const params = { path: { token } };
  const route = useQuery(phoneRouteQuery(token));
  const [id, setId] = useState(newId);
  const [chosen, setChosen] = useState("");
  const [quantity, setQuantity] = useState<Quantity>("resistance");
  const [value, setValue] = useState("");
  const [taken, setTaken] = useState<Taken[]>([]);
  const { problem, keep, forget } = useKeeping([], () =>
    // waited for: the next point follows from what is read by then
    queries.invalidateQueries({ queryKey: keyOf("phone-route", token) }),
  );
  // whoever let this phone in does not work at the bench, or the board has no points
  if (!route.data || route.data.route.length === 0) return null;
  const point = chosen || route.data.next;
  const enter = async (event: FormEvent) => {
    event.preventDefault();
    const asked = problem?.code;
    const body = { id, point, quantity, value, sure: asked === "unit-slip", unplugged: asked === "not-off" };
    const found = await keep(() => api.POST("/api/v1/phone/{token}/readings", { params, body }));
    if (!found || found === "kept") return;
    setTaken((all) => [found, ...all.filter((entry) => entry.id !== found.id)]);
    setId(newId());
    setValue("");
    setChosen("");
  };
  return (
    <section className="space-y-3" data-testid="phone-readings">
      <h2 className="font-bold text-2xl">
        <Trans>Readings</Trans>
      </h2>
      <form onSubmit={enter} className="space-y-3">
        <label className="block">
          <span className="block text-soft">
            <Trans>point</Trans>
          </span>
          <Select
            className="field w-full text-xl"
            value={point}
            onChange={(event) => {
              setChosen(event.target.value);
              forget();
            }}
          >
            {point === "" && <option value="">{t`all are read`}</option>}
            {route.data.route.map((name) => (
              <option key={name}>{name}</option>
            ))}
          </Select>
        </label>
        <fieldset className="grid grid-cols-3 gap-2">
          <legend className="sr-only">
            <Trans>What is measured</Trans>
          </legend>
          {QUANTITIES.map(([kind, label]) => (
            <label
              key={kind}
              className={`button grid place-items-center py-3 ${kind === quantity ? "border-ink bg-tray font-bold" : ""}`}
            >
              <input
                type="radio"
                className="sr-only"
                name="quantity"
                checked={kind === quantity}
                onChange={() => {
                  setQuantity(kind);
                  forget();
                }}
              />
              {label}
            </label>
          ))}
        </fieldset>
        <label className="block">
          <span className="block text-soft">
            <Trans>it shows</Trans>
          </span>
          <input
            className="field w-full py-3 font-mono text-2xl"
            value={value}
            maxLength={40}
            autoComplete="off"
            autoCapitalize="off"
            onChange={(event) => {
              setValue(event.target.value);
              forget();
            }}
          />
        </label>
        {problem && (
          <p role="alert" className="border-suspect border-l-4 pl-3">
            {problem.message}
          </p>
        )}
        <button
          type="submit"
          className="button w-full border-next py-4 text-xl"
          disabled={!point || !value.trim()}
        >
          {CONFIRMED[problem?.code ?? ""] ?? t`Store`}
        </button>
      </form>
      <ul className="space-y-2" aria-label={t`Stored`}>
        {taken.map((entry) => (
          <li
            key={entry.id}
            className="grid grid-cols-[auto_1fr] gap-x-3 rounded border border-rule bg-sheet p-2"
          >
            <Mark verdict={entry.verdict} size={28} />
            <p>
              <strong className="font-mono">{entry.point}</strong> {entry.why}
            </p>
          </li>
        ))}
      </ul>
    </section>
  );
}
