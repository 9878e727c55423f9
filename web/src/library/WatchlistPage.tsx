import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useParams } from "react-router";
import { api, data } from "../api/client";
import { LoadError, Loading } from "../shared/states";
import { mayWorkAtBench, useSession } from "../signin/session";
import { SheetButtons, SheetHead } from "./SheetParts";
import { useSheet } from "./useSheet";

interface Watch {
  cause: string;
  look?: string;
  part?: string;
  always?: boolean;
}

/** What a model is known to suffer: it opens each job's hypotheses. */
export function WatchlistPage() {
  const { slug = "" } = useParams();
  const session = useSession();
  const mayWork = mayWorkAtBench(session.data?.person);
  const params = { path: { slug } };
  const editing = useSheet({
    key: ["watchlist", slug],
    get: async () => data(await api.GET("/api/v1/board-models/{slug}/watchlist", { params })),
    rowsOf: (saved): Watch[] => saved.watch,
    put: async (rows, edition) => {
      const body = { edition, watch: rows.filter((row) => row.cause.trim()) };
      return data(await api.PUT("/api/v1/board-models/{slug}/watchlist", { params, body }));
    },
  });
  const { sheet, rows: watch, edit } = editing;
  if (sheet.isError) return <LoadError problem={sheet.error} again={() => sheet.refetch()} />;
  if (!sheet.data) return <Loading what={t`Reading the watchlist`} />;
  const change = (at: number, part: Partial<Watch>) =>
    edit(watch.map((entry, number) => (number === at ? { ...entry, ...part } : entry)));
  return (
    <main className="max-w-5xl p-6">
      <SheetHead title={t`Watchlist`} slug={slug} head={sheet.data} />
      <ol className="mt-4 space-y-3" aria-label={t`Watchlist`}>
        {watch.map((entry, number) => (
          <li
            // biome-ignore lint/suspicious/noArrayIndexKey: rows have no other identity while they are typed
            key={number}
            className="grid gap-3 border-t border-rule pt-3 sm:grid-cols-[1fr_1.4fr_7rem_auto]"
          >
            <label className="block">
              <span className="block text-soft">
                <Trans>cause</Trans>
              </span>
              <input
                className="field w-full"
                maxLength={120}
                disabled={!mayWork}
                value={entry.cause}
                onChange={(event) => change(number, { cause: event.target.value })}
              />
            </label>
            <label className="block">
              <span className="block text-soft">
                <Trans>where and how to look</Trans>
              </span>
              <input
                className="field w-full"
                maxLength={400}
                disabled={!mayWork}
                value={entry.look ?? ""}
                onChange={(event) => change(number, { look: event.target.value })}
              />
            </label>
            <label className="block">
              <span className="block text-soft">
                <Trans>part</Trans>
              </span>
              <input
                className="field w-full font-mono"
                maxLength={80}
                disabled={!mayWork}
                value={entry.part ?? ""}
                onChange={(event) => change(number, { part: event.target.value })}
              />
            </label>
            {mayWork && (
              <button
                type="button"
                className="button self-end"
                onClick={() => edit(watch.filter((_, other) => other !== number))}
              >
                <Trans>Take out</Trans>
              </button>
            )}
            <label className="flex items-center gap-3 sm:col-span-4">
              <input
                type="checkbox"
                className="size-6"
                disabled={!mayWork}
                checked={entry.always ?? false}
                onChange={(event) => change(number, { always: event.target.checked })}
              />
              <Trans>looked at even when the complaint is cured</Trans>
            </label>
          </li>
        ))}
      </ol>
      {watch.length === 0 && (
        <p className="mt-4">
          <Trans>Nothing is on it yet.</Trans>
        </p>
      )}
      {mayWork && (
        <SheetButtons add={t`Add a cause`} onAdd={() => edit([...watch, { cause: "" }])} editing={editing} />
      )}
    </main>
  );
}
