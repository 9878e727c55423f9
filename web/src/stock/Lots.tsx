import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { api, newId } from "../api/client";
import type { components } from "../api/schema";
import { oneOrAllQuery } from "../queries/job";
import { keyOf } from "../queries/keys";
import { lotsQuery } from "../queries/stock";
import { FormError } from "../shared/FormError";
import { NumberField, TextField } from "../shared/fields";
import { useKeeping } from "../shared/keeping";
import { decimalOf } from "../shared/numbers";
import { Span } from "../shared/Span";
import { LoadError, Loading } from "../shared/states";
import { useFromAddress } from "../shared/useFromAddress";
import { amount, percent } from "../shared/words";
import { useSession } from "../signin/session";
import { type LotsData, lifeAt } from "./useStock";

const KEY = lotsQuery().queryKey;

/** Lots by the shop's own outcomes, with the doubt of small numbers; a job priced with one chip and with all. */
export function Lots() {
  const session = useSession();
  const lots = useQuery(lotsQuery());
  if (lots.isError) return <LoadError problem={lots.error} again={() => lots.refetch()} />;
  if (!lots.data) return <Loading what={t`Reading the lots`} />;
  return (
    <div className="grid gap-8 lg:grid-cols-2">
      <section aria-labelledby="lots-title">
        <h2 id="lots-title" className="font-bold text-xl">
          <Trans>Lots seen here</Trans>
        </h2>
        <p className="text-soft">
          <Trans>
            The bar is where the share that fails lies with nine chances in ten; the tick is the likeliest.
          </Trans>
        </p>
        <ol>
          {lots.data.lots.map((lot) => (
            <LotRow key={lot.lot} lot={lot} />
          ))}
          {lots.data.lots.length === 0 && (
            <li className="border-rule border-t py-2 text-soft">
              <Trans>No lot was read yet. Note what is printed on a chip at Rework.</Trans>
            </li>
          )}
        </ol>
        {session.data?.person?.role === "lead" && <LotSettings lots={lots.data} />}
      </section>
      <OneOrAll />
    </div>
  );
}

function LotRow({ lot }: { lot: LotsData["lots"][number] }) {
  return (
    <li className="border-rule border-t py-2" data-lot={lot.lot}>
      <p className="flex flex-wrap items-baseline justify-between gap-2">
        <strong className="font-mono text-lg">{lot.lot}</strong>
        {lot.suspect ? (
          <strong className="text-suspect">
            <Trans>! suspect lot</Trans>
          </strong>
        ) : (
          <span className="text-soft">
            <Trans>not suspect</Trans>
          </span>
        )}
      </p>
      <Span
        low={lot.low}
        high={lot.high}
        at={lot.share}
        title={t`Share that fails`}
        bad={lot.suspect}
        unsure={lot.seen < 8}
      />
      <p>{lot.why}</p>
      <details>
        <summary className="cursor-pointer underline underline-offset-3">
          {plural(lot.chips.length, { one: "# chip", other: "# chips" })}
        </summary>
        {lot.chips.map((chip) => (
          <Link key={chip} className="button-plain font-mono" to={lifeAt(chip)}>
            {chip}
          </Link>
        ))}
      </details>
    </li>
  );
}

type Priced = components["schemas"]["Priced"];

function OneOrAll() {
  const [query, setQuery] = useSearchParams();
  const [typed, setTyped] = useFromAddress("job");
  const [failed, setFailed] = useFromAddress("failed");
  const number = Number((query.get("job") ?? "").toUpperCase().replace(/^J-/, ""));
  const asked = query.get("failed") ?? "";
  const priced = useQuery({
    ...oneOrAllQuery(number, asked),
    enabled: Number.isInteger(number) && number > 0,
  });
  return (
    <section aria-labelledby="priced-title">
      <h2 id="priced-title" className="font-bold text-xl">
        <Trans>One chip, or all of them</Trans>
      </h2>
      <form
        className="flex flex-wrap items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          setQuery({
            job: typed.trim(),
            ...(failed.trim() ? { failed: failed.trim().replace(/[\s,]+/g, ",") } : {}),
          });
        }}
      >
        <TextField label={t`job`} value={typed} onChange={setTyped} mono wide="w-28" placeholder="J-0003" />
        <TextField
          label={t`chips that failed, else its mark`}
          value={failed}
          onChange={setFailed}
          mono
          wide="w-56"
        />
        <button type="submit" className="button" disabled={!typed.trim()}>
          <Trans>Price both</Trans>
        </button>
      </form>
      {priced.isError && <FormError problem={priced.error} />}
      {priced.data && <Both key={`${number} ${asked}`} number={number} priced={priced.data} />}
    </section>
  );
}

function Both({ number, priced }: { number: number; priced: Priced }) {
  const [found, setFound] = useState(
    () =>
      t`${priced.failed.join(", ")} failed.${priced.lots.length ? t` The other chips are of ${priced.lots.join(", ")}.` : ""}`,
  );
  const keeping = useKeeping([keyOf("job", String(number)), keyOf("shelf")]);
  const [sent, setSent] = useState(false);
  const money = (value: number) => amount(Math.round(value), priced.currency);
  if (priced.options.length === 0)
    return (
      <p className="mt-3">
        <Trans>
          Nothing to price: no chip of this job is marked or suspected, or its board is not drawn. Name the
          chips that failed.
        </Trans>
      </p>
    );
  const cheaper = [...priced.options].sort((a, b) => a.expected - b.expected)[0];
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const body = {
      id: newId(),
      title: t`One chip, or all of them`,
      found: found.trim(),
      options: priced.options.map((option) => ({
        name: t`Replace ${option.sites.join(", ")}`,
        price: option.price,
        chance: 1 - option.fails,
        consequence: option.why,
        against_advice: option !== cheaper,
      })),
    };
    const params = { path: { number } };
    if (await keeping.keep(() => api.POST("/api/v1/jobs/{number}/offers", { params, body }))) setSent(true);
  };
  return (
    <div className="mt-4 space-y-3" data-testid="priced">
      <div className="grid gap-4 sm:grid-cols-2">
        {priced.options.map((option) => (
          <section key={option.name} className="rounded-md border-2 border-edge bg-sheet p-4">
            <h3 className="font-bold">
              <Trans>Replace {option.name}</Trans>
            </h3>
            <p className="font-mono text-soft">{option.sites.join(" ")}</p>
            <p className="font-bold font-mono text-4xl">{money(option.price)}</p>
            <p>
              <Trans>
                <strong>{percent(option.fails)}</strong> fail in the warranty; with that, it comes to{" "}
                <strong>{money(option.expected)}</strong>
                {option === cheaper ? t`, the less of the two` : ""}.
              </Trans>
            </p>
            <p className="text-soft">{option.why}</p>
          </section>
        ))}
      </div>
      {priced.unread.length > 0 && (
        <p>
          <Trans>
            Lot not read on <span className="font-mono">{priced.unread.join(", ")}</span>: reading it may
            change the odds.
          </Trans>
        </p>
      )}
      {sent ? (
        <p role="status">
          <strong>
            <Trans>Waiting for the customer’s answer.</Trans>
          </strong>{" "}
          <Link className="button-plain" to={`/jobs/${number}`}>
            <Trans>Open the job</Trans>
          </Link>
        </p>
      ) : (
        <form onSubmit={submit} className="flex flex-wrap items-end gap-3">
          <TextField
            label={t`what was found, in plain words`}
            value={found}
            onChange={setFound}
            maxLength={2000}
          />
          <button type="submit" className="button" disabled={!found.trim() || keeping.busy}>
            <Trans>Offer the customer both</Trans>
          </button>
        </form>
      )}
      <FormError problem={keeping.problem} />
    </div>
  );
}

interface Rule {
  name: string;
  pattern: string;
  vendor: string;
  type: string;
}

const FIGURES = [
  ["chip", t`a chip costs`],
  ["work", t`work on one`],
  ["start", t`work of starting`],
  ["comeback", t`a comeback costs`],
  ["kills", t`heat kills a neighbour, 0 to 1`],
  ["halves_mm", t`halved every, mm`],
  ["wear", t`added by each cycle`],
  ["lead_days", t`an order takes, days`],
  ["run_out", t`order above this chance`],
] as const;

function LotSettings({ lots }: { lots: LotsData }) {
  const kept = lots.settings as Record<string, unknown> & { rules: Rule[] };
  const [rules, setRules] = useState<Rule[]>(kept.rules);
  const [figures, setFigures] = useState<Record<string, string>>(() =>
    Object.fromEntries(FIGURES.map(([name]) => [name, String(kept[name])])),
  );
  const keeping = useKeeping([KEY, keyOf("stock"), keyOf("one-or-all")]);
  const change = (at: number, part: Partial<Rule>) =>
    setRules(rules.map((rule, other) => (other === at ? { ...rule, ...part } : rule)));
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const numbers = Object.fromEntries(
      Object.entries(figures).map(([name, value]) => {
        const number = decimalOf(value);
        return [name, value.trim() === "" || Number.isNaN(number) ? value : number];
      }),
    );
    const document = {
      ...numbers,
      rules: rules
        .filter((rule) => rule.pattern.trim())
        .map((rule) => Object.fromEntries(Object.entries(rule).filter(([, value]) => value !== ""))),
    };
    await keeping.keep(() => api.PUT("/api/v1/stock-settings", { body: { document } }));
  };
  return (
    <details className="mt-6 border-rule border-t pt-4">
      <summary className="cursor-pointer font-bold underline underline-offset-3">
        <Trans>How this shop reads lots, and its figures</Trans>
      </summary>
      <form onSubmit={submit} className="mt-2 space-y-3" data-testid="lot-settings">
        <p className="text-soft">
          <Trans>
            A pattern names its groups: vendor, type, year, week, code. It must read the whole marking.
          </Trans>
        </p>
        {[...rules, { name: "", pattern: "", vendor: "", type: "" }].map((rule, at) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: rules have no other name than their place
          <div key={at} className="flex flex-wrap items-end gap-3">
            <TextField
              label={t`rule ${at + 1}`}
              value={rule.pattern}
              onChange={(pattern) =>
                at < rules.length ? change(at, { pattern }) : setRules([...rules, { ...rule, pattern }])
              }
              mono
              maxLength={400}
              placeholder="OK (?P<year>\d{2})(?P<week>\d{2})"
            />
            {at < rules.length && (
              <>
                <TextField
                  label={t`vendor`}
                  value={rule.vendor}
                  onChange={(vendor) => change(at, { vendor })}
                  wide="w-28"
                />
                <TextField
                  label={t`type`}
                  value={rule.type}
                  onChange={(type) => change(at, { type })}
                  wide="w-24"
                />
              </>
            )}
          </div>
        ))}
        <div className="flex flex-wrap items-end gap-3">
          {FIGURES.map(([name, label]) => (
            <NumberField
              key={name}
              label={label}
              value={figures[name] ?? ""}
              onChange={(value) => setFigures({ ...figures, [name]: value })}
            />
          ))}
        </div>
        <button type="submit" className="button" disabled={keeping.busy}>
          <Trans>Save</Trans>
        </button>
        <FormError problem={keeping.problem} />
      </form>
    </details>
  );
}
