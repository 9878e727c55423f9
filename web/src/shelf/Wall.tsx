import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import type { ShelfJob } from "../api/client";
import { useLive } from "../live/live";
import { shelfQuery } from "../queries/shop";
import { LoadError, Loading } from "../shared/states";
import { clockTime, dayOfYear } from "../shared/words";
import { AwaySign } from "../sidebar/AwaySign";

const MINUTE_MS = 60_000;

/** The shelf for a screen over the bench: large, without anything to press, and it refreshes itself. */
export function Wall() {
  useLive(null);
  const now = useNow();
  const shelf = useQuery({ ...shelfQuery(), refetchInterval: MINUTE_MS });
  if (shelf.isPending) return <Loading what={t`Reading the shelf`} />;
  if (shelf.isError) return <LoadError problem={shelf.error} again={() => shelf.refetch()} />;
  const [hands, ...waiting] = shelf.data.groups;
  const late = shelf.data.groups.flatMap((group) => group.jobs).filter((job) => isLate(job, now));
  return (
    <main className="flex h-dvh flex-col overflow-hidden p-6">
      <header className="mb-3 flex items-baseline gap-6">
        <h1 className="text-3xl font-bold">
          <Trans>At the bench</Trans>
        </h1>
        <p className="text-2xl">{plural(hands?.jobs.length ?? 0, { one: "# card", other: "# cards" })}</p>
        {late.length > 0 && (
          <p className="text-2xl font-bold text-suspect">
            <Trans>{late.length} late</Trans>
          </p>
        )}
        <AwaySign className="text-2xl text-suspect" />
        <Link
          to="/shelf"
          className="ml-auto font-mono text-3xl font-bold no-underline"
          title={t`To the shelf`}
        >
          {clockTime(now)}
        </Link>
      </header>
      <ul className="min-h-0 flex-1 overflow-hidden border-t-2 border-rule">
        {hands?.jobs.map((job, place) => (
          <li
            key={job.number}
            className={`grid grid-cols-[4rem_1fr_7rem] lg:grid-cols-[5rem_1fr_22rem_6rem] items-baseline gap-4 border-b border-rule py-2 text-2xl ${place === 0 ? "border-l-8 border-l-next bg-sheet pl-3" : "pl-5"}`}
          >
            <span className="font-mono font-bold">{job.place || "–"}</span>
            <strong className="truncate">{job.next.do}</strong>
            <span className="truncate">
              <span className="font-mono font-bold">{job.label}</span>{" "}
              <span className="hidden lg:inline">{job.model}</span>
            </span>
            <span
              className={`hidden text-right text-xl lg:block ${isLate(job, now) ? "font-bold text-suspect" : "text-soft"}`}
            >
              {job.due ? (
                dayOfYear(job.due)
              ) : (
                <strong className="text-ink">{job.express && t`express`}</strong>
              )}
            </span>
          </li>
        ))}
        {hands?.jobs.length === 0 && (
          <li className="p-5 text-2xl">
            <Trans>Nothing waits for a pair of hands.</Trans>
          </li>
        )}
      </ul>
      <footer className="mt-3 grid grid-cols-3 gap-6 border-t-2 border-rule pt-3">
        {waiting.map((group) => (
          <section key={group.move}>
            <h2 className="text-xl font-bold">
              {group.title} <span className="font-normal text-soft">{group.jobs.length}</span>
            </h2>
            <p className="line-clamp-2 text-lg text-soft">
              {group.jobs.map((job) => job.waits_for || job.label).join(" · ") || t`none`}
            </p>
          </section>
        ))}
      </footer>
    </main>
  );
}

function isLate(job: ShelfJob, now: Date): boolean {
  return !!job.due && job.due < now.toISOString().slice(0, 10);
}

/** The time, again with each minute. */
function useNow(): Date {
  const [now, setNow] = useState(() => new Date());
  useEffect(() => {
    const again = window.setInterval(() => setNow(new Date()), MINUTE_MS / 6);
    return () => window.clearInterval(again);
  }, []);
  return now;
}
