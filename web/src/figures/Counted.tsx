import { t } from "@lingui/core/macro";
import { Plural, Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { Fragment, useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { components } from "../api/schema";
import { figuresCountedQuery } from "../queries/shop";
import { SelectField, TextField } from "../shared/fields";
import { Span } from "../shared/Span";
import { LoadError, Loading } from "../shared/states";
import { optionsOf, useKinds, wordsOf } from "../shared/useKinds";
import { jobLabel, percent } from "../shared/words";

type Asked = components["schemas"]["Figures"];
type Row = Asked["rows"][number];
type Share = Row["seen"];

type By = Asked["by"];
type Number = "jobs" | "not" | "back";

/** What fails how often, what holds, what it takes: every number opens its jobs, small numbers look uncertain. */
export function Counted() {
  const kinds = useKinds();
  const [query, setQuery] = useSearchParams();
  const [open, setOpen] = useState<{ name: string; which: Number } | null>(null);
  const by = (query.get("by") ?? "model") as By;
  const asked = {
    by,
    model: query.get("model") ?? "",
    cause: query.get("cause") ?? "",
    since: query.get("since") ?? "",
  };
  const found = useQuery(figuresCountedQuery(asked));
  const set = (name: string) => (value: string) => {
    const next = { ...Object.fromEntries(query), [name]: value };
    setQuery(Object.fromEntries(Object.entries(next).filter(([, one]) => one)), { replace: true });
    setOpen(null);
  };
  if (found.isError) return <LoadError problem={found.error} again={() => found.refetch()} />;
  if (!found.data) return <Loading what={t`Counting`} />;
  const figures = found.data;
  const sheet = new URLSearchParams(Object.entries(asked).filter(([, value]) => value));
  return (
    <>
      <div className="flex flex-wrap items-end gap-3">
        <SelectField label={t`by`} value={by} onChange={set("by")} options={optionsOf<By>(kinds.figures)} />
        <SelectField
          label={t`of the model`}
          value={asked.model}
          onChange={set("model")}
          options={[["", t`every model`], ...figures.models.map((model) => [model, model] as const)]}
        />
        <SelectField
          label={t`with the cause`}
          value={asked.cause}
          onChange={set("cause")}
          options={[["", t`every cause`], ...figures.causes.map((cause) => [cause, cause] as const)]}
        />
        <TextField
          label={t`received since`}
          type="date"
          value={asked.since}
          onChange={set("since")}
          wide="w-44"
        />
        <a className="button grid place-items-center" href={`/api/v1/figures.csv?${sheet}`}>
          <Trans>As CSV</Trans>
        </a>
      </div>
      <p className="text-soft">
        <Trans>
          <Plural value={figures.cases} one="# job" other="# jobs" />. Each bar is a 90 % interval; a dashed
          one rests on few jobs. A repair counts as holding once the card has been gone for{" "}
          {figures.holds_days} days.
        </Trans>
      </p>
      <div className="overflow-x-auto">
        <table className="w-full min-w-3xl" data-testid="figures">
          <thead>
            <tr className="text-left text-soft">
              <th className="py-1 pr-4 font-normal">{wordsOf(kinds.figures, by)}</th>
              <th className="pr-4 font-normal">
                <Trans>how often</Trans>
              </th>
              <th className="pr-4 font-normal">
                <Trans>repaired</Trans>
              </th>
              <th className="pr-4 font-normal">
                <Trans>came back</Trans>
              </th>
              <th className="pr-4 font-normal">
                <Trans>minutes, middle</Trans>
              </th>
              <th className="font-normal">
                <Trans>left over, {figures.currency}</Trans>
              </th>
            </tr>
          </thead>
          <tbody>
            {figures.rows.map((row) => (
              <Fragment key={row.name}>
                <tr className="border-rule border-t align-top" data-row={row.name}>
                  <th className="max-w-64 py-2 pr-4 text-left">{row.name}</th>
                  <td className="py-2 pr-4">
                    <Shown
                      share={row.seen}
                      title={t`${row.name}, how often`}
                      open={() => setOpen({ name: row.name, which: "jobs" })}
                    />
                  </td>
                  <td className="py-2 pr-4">
                    <Shown
                      share={row.repaired}
                      title={t`${row.name}, repaired`}
                      open={() => setOpen({ name: row.name, which: "not" })}
                    />
                  </td>
                  <td className="py-2 pr-4">
                    <Shown
                      share={row.came_back}
                      title={t`${row.name}, came back`}
                      open={() => setOpen({ name: row.name, which: "back" })}
                    />
                  </td>
                  <td className="py-2 pr-4">
                    <Minutes row={row} />
                  </td>
                  <td className="py-2 font-mono">
                    {row.money.count > 0 ? (
                      <>
                        {Math.round(row.money.total)}{" "}
                        <span className="text-soft">
                          <Trans>
                            of <Plural value={row.money.count} one="# job" other="# jobs" />
                          </Trans>
                        </span>
                      </>
                    ) : (
                      <span className="text-soft">
                        <Trans>no price</Trans>
                      </span>
                    )}
                  </td>
                </tr>
                {open?.name === row.name && <Behind row={row} which={open.which} />}
              </Fragment>
            ))}
          </tbody>
        </table>
      </div>
      {figures.rows.length === 0 && (
        <p className="text-soft">
          <Trans>Nothing yet by that. Causes are counted once they are confirmed on a job.</Trans>
        </p>
      )}
    </>
  );
}

function Shown({ share, title, open }: { share: Share; title: string; open: () => void }) {
  if (share.of === 0)
    return (
      <span className="text-soft">
        <Trans>not known yet</Trans>
      </span>
    );
  return (
    <div className="w-40">
      <button
        type="button"
        className="button-plain -ml-2 font-mono"
        aria-label={t`${share.hits} of ${share.of}: ${title}`}
        onClick={open}
      >
        <Trans>
          {share.hits} of {share.of}
        </Trans>
      </button>
      <Span low={share.low} high={share.high} at={share.share} unsure={share.few} title={title} />
      <span className="text-soft">
        <Trans>
          {percent(share.low)} to {percent(share.high)}
          {share.few ? t`, few` : ""}
        </Trans>
      </span>
    </div>
  );
}

function Minutes({ row }: { row: Row }) {
  const { minutes, by_step } = row;
  if (minutes.middle === null)
    return (
      <span className="text-soft">
        <Trans>no clock</Trans>
      </span>
    );
  return (
    <details>
      <summary className="cursor-pointer font-mono">
        {Math.round(minutes.middle)}{" "}
        <span className="text-soft">
          <Trans>
            {Math.round(minutes.low ?? 0)} to {Math.round(minutes.high ?? 0)}
          </Trans>
        </span>
      </summary>
      <ul>
        {Object.entries(by_step).map(([step, one]) => (
          <li key={step}>
            {step} <span className="font-mono">{Math.round(one.middle ?? 0)}</span>
          </li>
        ))}
      </ul>
    </details>
  );
}

function Behind({ row, which }: { row: Row; which: Number }) {
  const says = {
    jobs: [t`The jobs behind it`, row.jobs],
    not: [t`Not repaired`, row.not_repaired],
    back: [t`Came back`, row.back],
  } as const;
  const [title, numbers] = says[which];
  return (
    <tr>
      <td colSpan={6} className="bg-sheet px-3 py-2" data-testid="behind">
        <strong>{title}:</strong> {numbers.length === 0 && t`none`}
        {numbers.map((number) => (
          <Link key={number} className="button-plain font-mono" to={`/jobs/${number}`}>
            {jobLabel(number)}
          </Link>
        ))}
      </td>
    </tr>
  );
}
