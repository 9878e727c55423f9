import { Field, Label, Switch } from "@headlessui/react";
import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { ShelfGroup, ShelfJob, Shelf as Shelved } from "../api/client";
import { Thumb } from "../board/Thumb";
import { shelfQuery } from "../queries/shop";
import { LoadError, Loading } from "../shared/states";
import { age, dayOfYear } from "../shared/words";
import { useSession } from "../signin/session";
import { Filters, type Wanted } from "./Filters";
import { useParcels } from "./Parcels";
import { Tasks } from "./Tasks";
import { useReminders } from "./useReminders";

/** What must happen next, grouped by whose move it is. */
export function Shelf() {
  const [params, setParams] = useSearchParams();
  const wanted: Wanted = {
    text: params.get("text") ?? "",
    board_model: params.get("board_model") ?? "",
    move: params.get("move") ?? "",
    express: params.get("express") === "true",
  };
  const want = (next: Wanted) => {
    const asked = Object.entries(next).filter(([, value]) => value);
    setParams(Object.fromEntries(asked.map(([name, value]) => [name, String(value)])), { replace: true });
  };
  const [chosen, setChosen] = useState<number[]>([]);
  const [dense, setDense] = useDense();
  const session = useSession();
  const shelf = useQuery(shelfQuery(params.toString(), wanted));
  const choose = (number: number) =>
    setChosen(chosen.includes(number) ? chosen.filter((value) => value !== number) : [...chosen, number]);
  const jobs = shelf.data?.groups.flatMap((group) => group.jobs) ?? [];
  return (
    <main className="p-6">
      <header className="mb-4 flex flex-wrap items-center gap-x-4 gap-y-2">
        <h1 className="text-3xl font-bold">
          <Trans>Shelf</Trans>
        </h1>
        {shelf.data && (
          <p className="text-soft">{plural(jobs.length, { one: "# card", other: "# cards" })}</p>
        )}
        <Field className="flex min-h-11 items-center gap-2 text-[15px] text-soft">
          <Switch
            checked={dense}
            onChange={setDense}
            className="h-6 w-11 shrink-0 rounded-full border-2 border-edge bg-tray p-0.5 data-checked:bg-ink"
          >
            <span className={`block size-4 rounded-full ${dense ? "ml-auto bg-sheet" : "bg-edge"}`} />
          </Switch>
          <Label>
            <Trans>one line a card</Trans>
          </Label>
        </Field>
        <Link to="/wall" className="button-plain text-[15px]">
          <Trans>Wall view</Trans>
        </Link>
        <MessagesLink />
        <ParcelsLink />
        <Link to="/jobs/new" className="button grid place-items-center">
          <Trans>New job</Trans>
        </Link>
      </header>
      <Filters wanted={wanted} want={want} />
      {chosen.length > 0 && (
        <p className="mb-4 flex items-center gap-3 border-l-4 border-ink bg-sheet px-4 py-2">
          <Trans>{chosen.length} chosen.</Trans>
          <a
            className="button grid place-items-center"
            href={`/api/v1/labels?jobs=${chosen.join(",")}`}
            target="_blank"
            rel="noreferrer"
          >
            <Trans>Print their labels</Trans>
          </a>
          <button type="button" className="button" onClick={() => setChosen([])}>
            <Trans>Clear the selection</Trans>
          </button>
        </p>
      )}
      <Tasks />
      {shelf.isPending && <Loading what={t`Reading the shelf`} />}
      {shelf.isError && <LoadError problem={shelf.error} again={() => shelf.refetch()} />}
      {shelf.data && jobs.length === 0 && params.size > 0 && (
        <p className="rounded-md border border-rule bg-sheet p-6">
          <Trans>No open card fits that.</Trans>
        </p>
      )}
      {shelf.data && jobs.length === 0 && params.size === 0 && (
        <p className="rounded-md border border-rule bg-sheet p-6">
          <Trans>
            The shelf is empty.{" "}
            <Link to="/jobs/new" className="button-plain">
              Open the first job
            </Link>{" "}
            when a parcel is here.
          </Trans>
          {session.data?.person?.role === "lead" && (
            <Trans>
              {" "}
              A new shop?{" "}
              <Link to="/setup" className="button-plain">
                Set it up
              </Link>{" "}
              in under ten minutes.
            </Trans>
          )}
        </p>
      )}
      {shelf.data?.groups
        .filter((group) => group.jobs.length > 0)
        .map((group) => (
          <Group
            key={group.move}
            group={group}
            dense={dense}
            drawings={shelf.data.drawings}
            first={jobs.find((job) => job.move === "hands")}
            chosen={chosen}
            choose={choose}
          />
        ))}
    </main>
  );
}

/** Whom to write to. */
function MessagesLink() {
  const due = useReminders().data?.length ?? 0;
  return (
    <Link to="/messages" className="button ml-auto grid place-items-center">
      <Trans>Messages{due > 0 ? t`: ${due} due` : ""}</Trans>
    </Link>
  );
}

/** How many parcels are announced, and how many of them late. */
function ParcelsLink() {
  const parcels = useParcels();
  const late = parcels.data?.filter((parcel) => parcel.days_late > 0).length ?? 0;
  return (
    <Link to="/parcels" className="button grid place-items-center">
      <span>
        <Trans>Parcels to come{parcels.data ? `: ${parcels.data.length}` : ""}</Trans>
        {late > 0 && (
          <span className="text-suspect">
            <Trans>, {late} late</Trans>
          </span>
        )}
      </span>
    </Link>
  );
}

const DENSE = "uvrix.shelf.dense";

/** Whether each card has one line, kept in the browser. */
function useDense(): [boolean, (next: boolean) => void] {
  const [dense, setDense] = useState(() => localStorage.getItem(DENSE) === "yes");
  return [
    dense,
    (next) => {
      localStorage.setItem(DENSE, next ? "yes" : "no");
      setDense(next);
    },
  ];
}

interface GroupProps {
  group: ShelfGroup;
  dense: boolean;
  drawings: Shelved["drawings"];
  first: ShelfJob | undefined;
  chosen: number[];
  choose: (number: number) => void;
}

function Group({ group, dense, drawings, first, chosen, choose }: GroupProps) {
  return (
    <section className="mb-4" aria-labelledby={`group-${group.move}`}>
      <h2 id={`group-${group.move}`} className="mb-1 text-lg font-bold">
        {group.title}{" "}
        <span className="font-normal text-base text-soft">
          {group.jobs.length} {plural(group.jobs.length, { one: "card", other: "cards" })}
        </span>
      </h2>
      <ul className="border-t border-rule">
        {group.jobs.map((job) => (
          <Row
            key={job.number}
            job={job}
            dense={dense}
            drawing={drawings[job.drawing]}
            next={job === first}
            chosen={chosen.includes(job.number)}
            choose={() => choose(job.number)}
          />
        ))}
      </ul>
    </section>
  );
}

/** A job; the amber stands at the one to take up next, nowhere else. */
interface RowProps {
  job: ShelfJob;
  dense: boolean;
  drawing: Shelved["drawings"][string] | undefined;
  next: boolean;
  chosen: boolean;
  choose: () => void;
}

function Row({ job, dense, drawing, next, chosen, choose }: RowProps) {
  const late = !!job.due && job.due < new Date().toISOString().slice(0, 10);
  const due = job.due && (
    <span className={late ? "font-bold text-suspect" : ""}>
      {late ? t`late, ` : t`due `}
      {dayOfYear(job.due)}
    </span>
  );
  const left = job.move !== "hands" && job.waits_for ? job.waits_for : job.next.left;
  const express = job.express && (
    <span className="ml-2 rounded border-2 border-ink px-1 text-[14px] font-semibold">
      <Trans>express</Trans>
    </span>
  );
  const mark = next ? "border-l-8 border-next pl-3" : "pl-5";
  return (
    <li className="flex items-center border-b border-rule bg-sheet">
      <label className={`grid place-items-center pl-3 ${dense ? "min-h-8" : "min-h-11"}`}>
        <input
          type="checkbox"
          className={dense ? "size-5" : "size-6"}
          aria-label={t`Choose ${job.label}`}
          checked={chosen}
          onChange={choose}
        />
      </label>
      <Link
        to={`/jobs/${job.number}`}
        className={`grid min-w-0 flex-1 items-center gap-4 px-4 hover:bg-tray focus-visible:-outline-offset-4 ${dense ? "min-h-8 grid-cols-[3rem_1fr_9rem] text-[15px] lg:grid-cols-[3rem_1.3fr_1fr_14rem_9rem]" : "grid-cols-[3rem_6rem_1fr] py-1 lg:grid-cols-[3rem_6rem_1.5fr_1fr_7rem]"}`}
      >
        <span className={`font-mono font-bold ${dense ? "" : "text-xl"}`}>{job.place || "–"}</span>
        {dense ? (
          <>
            <strong className={`truncate ${mark}`}>{job.next.do}</strong>
            <span className="hidden truncate text-soft lg:block">{left}</span>
            <span className="truncate">
              <strong className="font-mono">{job.label}</strong>
              {express} {job.model}
            </span>
            <span className="hidden text-right lg:block">{due || t`${age(job.opened_at)} here`}</span>
          </>
        ) : (
          <>
            {drawing ? (
              <Thumb
                {...drawing}
                suspects={job.suspects}
                marked={job.marked}
                seen={job.seen}
                className="h-11 w-24"
              />
            ) : (
              <span className="grid h-11 w-24 place-items-center border-2 border-dashed border-rule text-[13px] text-soft">
                <Trans>not drawn yet</Trans>
              </span>
            )}
            <span className={`min-w-0 ${mark}`}>
              <strong className="block truncate">{job.next.do}</strong>
              <span className="block truncate text-[15px] text-soft">{left}</span>
            </span>
            <span className="min-w-0">
              <span className="block truncate">
                <strong className="font-mono">{job.label}</strong>
                {express}
              </span>
              <span className="block truncate text-[15px]">{job.model}</span>
            </span>
            <span className="text-right text-[15px]">
              {due}
              <span className="block text-soft">
                <Trans>{age(job.opened_at)} here</Trans>
              </span>
            </span>
          </>
        )}
      </Link>
    </li>
  );
}
