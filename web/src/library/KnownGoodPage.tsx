import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { api, data, type KnownReading } from "../api/client";
import { sendKnown } from "../api/upload";
import { ChooseFile } from "../shared/ChooseFile";
import { Loading, Trouble } from "../shared/states";
import { day, many } from "../shared/words";
import { mayWorkAtBench, useSession } from "../signin/session";

/** What good cards of a model read: each thing with its cards on one strip; every figure opens the cards behind it. */
export function KnownGoodPage() {
  const { slug = "" } = useParams();
  const session = useSession();
  const person = session.data?.person;
  const queries = useQueryClient();
  const [said, setSaid] = useState("");
  const [open, setOpen] = useState<string | null>(null);
  const key = ["known-good", slug];
  const known = useQuery({
    queryKey: key,
    queryFn: async () =>
      data(await api.GET("/api/v1/board-models/{slug}/known-good", { params: { path: { slug } } })),
  });
  const send = async (file: File | undefined) => {
    if (!file) return;
    try {
      const { added } = await sendKnown(file);
      setSaid(`${added} readings of good cards added.`);
      await queries.invalidateQueries({ queryKey: key });
    } catch (error) {
      setSaid((error as Error).message);
    }
  };
  const out = async (row: number) => {
    await api.DELETE("/api/v1/known-good/{row}", { params: { path: { row } } });
    await queries.invalidateQueries({ queryKey: key });
  };
  if (known.isError) return <Trouble problem={known.error} again={() => known.refetch()} />;
  if (!known.data) return <Loading what="Reading what good cards read" />;
  const things = new Map<string, KnownReading[]>();
  for (const one of known.data) {
    const thing = [one.counts_for, one.to, one.quantity, one.mode].join(" ");
    things.set(thing, [...(things.get(thing) ?? []), one]);
  }
  return (
    <main className="max-w-5xl p-6">
      <h1 className="text-3xl font-bold">Known-good readings</h1>
      <p className="text-soft">
        <Link className="button-plain -ml-2" to={`/library/${slug}`}>
          {slug}
        </Link>{" "}
        {known.data.length === 0
          ? "has none yet. Until it has, a relative lends its figures, marked as borrowed."
          : `${new Set(known.data.map((one) => one.card)).size} good cards, ${known.data.length} readings.`}
      </p>
      <p className="mt-3 flex flex-wrap items-center gap-3">
        {mayWorkAtBench(person) && (
          <Link className="button grid place-items-center" to={`/library/${slug}/capture`}>
            Capture a good card
          </Link>
        )}
        {mayWorkAtBench(person) && (
          <ChooseFile take={(files) => void send(files[0])} accept=".csv,text/csv" testid="known-file">
            Import a CSV
          </ChooseFile>
        )}
        <a
          className="button grid place-items-center"
          href={`/api/v1/board-models/${slug}/known-good/file`}
          download
        >
          Export {slug}.known.csv
        </a>
        {said && <span role="status">{said}</span>}
      </p>
      <ul className="mt-4" aria-label="Known-good readings">
        {[...things].map(([thing, rows]) => (
          <li key={thing} className="border-t border-rule py-2">
            <button
              type="button"
              aria-expanded={open === thing}
              className="grid w-full grid-cols-[8rem_1fr_8rem] items-center gap-4 text-left"
              onClick={() => setOpen(open === thing ? null : thing)}
            >
              <strong className="font-mono text-lg">
                {rows[0]?.counts_for}{" "}
                {rows[0]?.to === "across" && <span className="font-sans text-soft">across</span>}
              </strong>
              <Cards rows={rows} />
              <span className="text-right text-soft">
                {many(new Set(rows.map((one) => one.card)).size, "card")}, {rows[0]?.quantity}
              </span>
            </button>
            {open === thing && (
              <ul className="mt-2 pl-32">
                {rows.map((one) => (
                  <li key={one.id} className="flex items-baseline gap-4 border-t border-rule py-1">
                    <strong className="w-28 font-mono">{one.text}</strong>
                    <span className="min-w-0 flex-1">
                      {one.card}
                      {one.meter && `, ${one.meter}`}{" "}
                      <span className="text-soft">
                        from {one.source}; {one.added_by}, {day(one.added_at)}
                      </span>
                    </span>
                    {person?.role === "lead" && (
                      <button type="button" className="button-plain" onClick={() => void out(one.id)}>
                        Take it out
                      </button>
                    )}
                  </li>
                ))}
              </ul>
            )}
          </li>
        ))}
      </ul>
    </main>
  );
}

const WIDTH = 400;

/** Every card a tick, by logarithms, so that an odd one stands out. */
function Cards({ rows }: { rows: KnownReading[] }) {
  const values = rows.flatMap(({ low }) => (low && low > 0 ? [Math.log(low)] : []));
  if (values.length === 0) return <span className="text-soft">OL</span>;
  const least = Math.min(...values);
  const room = Math.max(0.05, Math.max(...values) - least);
  return (
    <svg viewBox={`0 0 ${WIDTH} 20`} className="w-full" aria-hidden="true">
      <path d={`M0 10H${WIDTH}`} className="stroke-rule" strokeWidth={1} />
      {values.map((one, at) => (
        <path
          // biome-ignore lint/suspicious/noArrayIndexKey: cards may read alike
          key={at}
          d={`M${10 + ((one - least) / room) * (WIDTH - 20)} 2V18`}
          className="stroke-good"
          strokeWidth={2}
        />
      ))}
    </svg>
  );
}
