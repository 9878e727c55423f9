import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { Link, useSearchParams } from "react-router";
import { api, data } from "../api/client";
import { keyOf } from "../queries/keys";
import { peopleQuery } from "../queries/shop";
import { SelectField } from "../shared/fields";
import { LoadError, Loading } from "../shared/states";
import { jobLabel, moment } from "../shared/words";

const FULL = 200;
const DID: Record<string, string> = { POST: t`entered`, PUT: t`set`, DELETE: t`ended`, GET: t`took along` };
const SESSION: Record<string, string> = { POST: t`signed in`, DELETE: t`signed out` };
const REFUSED: Record<number, string> = {
  401: t`refused: not signed in`,
  403: t`refused: not theirs to do`,
  429: t`refused: too many tries`,
};

function didWhat({ method, route }: { method: string; route: string }) {
  if (route === "session") return SESSION[method] ?? method;
  return `${DID[method] ?? method}: ${route.replace(/-/g, " ")}`;
}

/** All entries, changed or taken along, newest first, for the lead. */
export function AuditPage() {
  const [query, setQuery] = useSearchParams();
  const person = query.get("person") ?? "";
  const people = useQuery(peopleQuery());
  const entries = useInfiniteQuery({
    queryKey: keyOf("audit", person),
    initialPageParam: undefined as number | undefined,
    queryFn: async ({ pageParam: before }) =>
      data(
        await api.GET("/api/v1/audit", {
          params: { query: { ...(person && { person }), ...(before && { before }) } },
        }),
      ),
    getNextPageParam: (last) => (last.length === FULL ? last.at(-1)?.id : undefined),
  });
  if (entries.isError) return <LoadError problem={entries.error} again={() => entries.refetch()} />;
  const names = (people.data?.people ?? []).map((entry) => [entry.username, entry.name] as const);
  const found = entries.data?.pages.flat();
  return (
    <main className="max-w-5xl space-y-4 p-6">
      <h1 className="text-3xl font-bold">
        <Trans>Audit</Trans>
      </h1>
      <p className="text-soft">
        <Trans>
          Every change, every refusal and every export, with who, when and from where; kept for 400 days.
        </Trans>
      </p>
      <SelectField
        label={t`of whom`}
        value={person}
        onChange={(next) => setQuery(next ? { person: next } : {})}
        options={[["", t`everybody`], ...names]}
      />
      {!found && <Loading what={t`Reading the audit`} />}
      {found?.length === 0 && (
        <p>
          <Trans>Nothing was entered yet.</Trans>
        </p>
      )}
      {found && found.length > 0 && (
        <table className="w-full text-left">
          <thead className="text-soft">
            <tr>
              {["when", "who", "what", "job", "from"].map((head) => (
                <th key={head} className="pr-4 font-normal">
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {found.map((entry) => (
              <tr key={entry.id} className="border-t border-rule align-top">
                <td className="whitespace-nowrap py-1 pr-4">{moment(entry.at)}</td>
                <td className="py-1 pr-4">{entry.name || t`somebody not signed in`}</td>
                <td className="py-1 pr-4">
                  {didWhat(entry)}
                  {REFUSED[entry.status] && <strong className="block">{REFUSED[entry.status]}</strong>}
                </td>
                <td className="py-1 pr-4">
                  {entry.job && (
                    <Link className="underline" to={`/jobs/${entry.job}`}>
                      {jobLabel(entry.job)}
                    </Link>
                  )}
                </td>
                <td className="py-1 font-mono text-soft">{entry.address}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {entries.hasNextPage && (
        <button
          type="button"
          className="button"
          disabled={entries.isFetchingNextPage}
          onClick={() => void entries.fetchNextPage()}
        >
          <Trans>Show earlier ones</Trans>
        </button>
      )}
    </main>
  );
}
