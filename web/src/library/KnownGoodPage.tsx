import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { api, type KnownReading } from "../api/client";
import type { components } from "../api/schema";
import { sendKnown } from "../api/upload";
import { keyOf } from "../queries/keys";
import { knownGoodFiguresQuery, knownGoodQuery } from "../queries/library";
import { ChooseFile } from "../shared/ChooseFile";
import { LoadError, Loading } from "../shared/states";
import { day } from "../shared/words";
import { mayWorkAtBench, useSession } from "../signin/session";

type Figure = components["schemas"]["Figure"];

/** What a figure and the readings behind it share. */
function thingOf(one: { counts_for: string; to: string; quantity: string; mode?: string }): string {
  return [one.counts_for, one.to, one.quantity, one.mode ?? ""].join(" ");
}

/** What good cards of a model read: each thing with its cards on one strip; every figure opens the cards behind it. */
export function KnownGoodPage() {
  const { slug = "" } = useParams();
  const session = useSession();
  const person = session.data?.person;
  const queries = useQueryClient();
  const [said, setSaid] = useState("");
  const [open, setOpen] = useState<string | null>(null);
  const key = knownGoodQuery(slug).queryKey;
  const known = useQuery(knownGoodQuery(slug));
  const fresh = async () => {
    await queries.invalidateQueries({ queryKey: key });
    await queries.invalidateQueries({ queryKey: keyOf("figures", slug) });
  };
  const send = async (file: File | undefined) => {
    if (!file) return;
    try {
      const { added } = await sendKnown(file);
      setSaid(t`${added} readings of good cards added.`);
      await fresh();
    } catch (error) {
      setSaid((error as Error).message);
    }
  };
  const out = async (row: number) => {
    await api.DELETE("/api/v1/known-good/{row}", { params: { path: { row } } });
    await fresh();
  };
  const figures = useQuery(knownGoodFiguresQuery(slug));
  if (figures.isError) return <LoadError problem={figures.error} again={() => figures.refetch()} />;
  if (known.isError) return <LoadError problem={known.error} again={() => known.refetch()} />;
  if (!known.data || !figures.data) return <Loading what={t`Reading what good cards read`} />;
  const things = new Map<string, KnownReading[]>();
  for (const entry of known.data) {
    const thing = thingOf(entry);
    things.set(thing, [...(things.get(thing) ?? []), entry]);
  }
  return (
    <main className="max-w-5xl p-6">
      <h1 className="text-3xl font-bold">
        <Trans>Known-good readings</Trans>
      </h1>
      <p className="text-soft">
        <Link className="button-plain -ml-2" to={`/library/${slug}`}>
          {slug}
        </Link>{" "}
        {known.data.length === 0
          ? t`has none yet. Until it has, a relative lends its figures, marked as borrowed.`
          : t`${new Set(known.data.map((entry) => entry.card)).size} good cards, ${known.data.length} readings.`}
      </p>
      <p className="mt-3 flex flex-wrap items-center gap-3">
        {mayWorkAtBench(person) && (
          <Link className="button grid place-items-center" to={`/library/${slug}/capture`}>
            <Trans>Capture a good card</Trans>
          </Link>
        )}
        {mayWorkAtBench(person) && (
          <ChooseFile take={(files) => void send(files[0])} accept=".csv,text/csv" testid="known-file">
            <Trans>Import a CSV</Trans>
          </ChooseFile>
        )}
        <a
          className="button grid place-items-center"
          href={`/api/v1/board-models/${slug}/known-good/file`}
          download
        >
          <Trans>Export {slug}.known.csv</Trans>
        </a>
        {said && <span role="status">{said}</span>}
      </p>
      <ul className="mt-4" aria-label={t`Known-good readings`}>
        {figures.data.map((figure) => {
          const thing = thingOf(figure);
          const rows = things.get(thing) ?? [];
          const odd = figure.figure.odd.length;
          return (
            <li key={thing} className="border-t border-rule py-1">
              <button
                type="button"
                aria-expanded={open === thing}
                className="grid w-full grid-cols-[8rem_1fr_10rem] items-center gap-4 text-left"
                onClick={() => setOpen(open === thing ? null : thing)}
              >
                <strong className="font-mono text-lg">
                  {figure.counts_for}{" "}
                  {figure.to === "across" && (
                    <span className="font-sans text-soft">
                      <Trans>across</Trans>
                    </span>
                  )}
                </strong>
                <FigureStrip one={figure} />
                <span className="text-right text-soft">
                  {plural(figure.figure.cards, { one: "# card", other: "# cards" })}, {figure.quantity}
                  {odd > 0 && (
                    <strong className="block text-suspect">
                      <Trans>{odd} stands out</Trans>
                    </strong>
                  )}
                </span>
              </button>
              {open === thing && (
                <ul className="mt-2 pl-32">
                  {rows.map((row) => (
                    <li key={row.id} className="flex items-baseline gap-4 border-t border-rule py-1">
                      <strong className="w-28 font-mono">{row.text}</strong>
                      <span className="min-w-0 flex-1">
                        {row.card}
                        {row.meter && `, ${row.meter}`}{" "}
                        <span className="text-soft">
                          <Trans>
                            from {row.source}; {row.added_by}, {day(row.added_at)}
                          </Trans>
                        </span>
                      </span>
                      {person?.role === "lead" && (
                        <button type="button" className="button-plain" onClick={() => void out(row.id)}>
                          <Trans>Take it out</Trans>
                        </button>
                      )}
                    </li>
                  ))}
                </ul>
              )}
            </li>
          );
        })}
      </ul>
    </main>
  );
}

const WIDTH = 420;
const HEIGHT = 40;
const ROOM = 150;

/** Every card a tick, the accepted band, the middle and the band's ends in figures; by logarithms. */
function FigureStrip({ one }: { one: Figure }) {
  const { centre, low, high, by_card } = one.figure;
  if (centre === null || low === null || high === null)
    return (
      <span className="text-soft">
        <Trans>open on good cards</Trans>
      </span>
    );
  const values = by_card.flatMap((card) => (card.value === null ? [] : [card.value]));
  const logs = Math.min(low, ...values) > 0;
  const put = (value: number) => (logs ? Math.log(Math.max(value, 1e-12)) : value);
  const [least, most] = [Math.min(put(low), ...values.map(put)), Math.max(put(high), ...values.map(put))];
  const margin = Math.max((most - least) * 0.06, 1e-9);
  const x = (value: number) =>
    40 + ((put(value) - least + margin) / (most - least + 2 * margin)) * (WIDTH - 80);
  // a narrow band has no room for three figures below it
  const labels =
    x(high) - x(low) > ROOM
      ? ([
          [x(low), one.low, "middle"],
          [x(centre), one.centre, "middle"],
          [x(high), one.high, "middle"],
        ] as const)
      : ([
          [x(low) - 4, one.centre, x(low) > WIDTH / 2 ? "end" : "start"],
          [x(high) + 46, t`${one.low} to ${one.high}`, "start"],
        ] as const);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="w-full"
      role="img"
      aria-label={t`Middle ${one.centre}, accepted ${one.low} to ${one.high}`}
    >
      <rect x={x(low)} y={4} width={Math.max(1, x(high) - x(low))} height={18} className="fill-good/20" />
      <path d={`M0 13H${WIDTH}`} className="stroke-rule" strokeWidth={1} />
      <path d={`M${x(centre)} 1V25`} className="stroke-ink" strokeWidth={1} strokeDasharray="2 2" />
      {by_card.map((card) =>
        card.value === null ? null : (
          <path
            key={card.card}
            d={`M${x(card.value)} 5V21`}
            className={card.odd ? "stroke-suspect" : "stroke-good"}
            strokeWidth={card.odd ? 3 : 2}
          />
        ),
      )}
      {labels.map(([at, label, anchor]) => (
        <text
          key={label}
          x={at}
          y={36}
          fontSize={10.5}
          textAnchor={anchor}
          className={`font-mono ${label === one.centre ? "fill-ink font-bold" : "fill-soft"}`}
        >
          {label}
        </text>
      ))}
    </svg>
  );
}
