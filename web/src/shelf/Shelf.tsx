import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, data, type ShelfGroup, type ShelfJob } from "../api/client";
import { Thumb } from "../board/Thumb";
import { Loading, Trouble } from "../shared/states";
import { age, day } from "../shared/words";

/** What must happen next, grouped by whose move it is. */
export function Shelf() {
  const shelf = useQuery({ queryKey: ["shelf"], queryFn: async () => data(await api.GET("/api/v1/shelf")) });
  const jobs = shelf.data?.flatMap((group) => group.jobs) ?? [];
  return (
    <main className="p-6">
      <header className="mb-4 flex items-center gap-4">
        <h1 className="text-3xl font-bold">Shelf</h1>
        {shelf.data && (
          <p className="text-soft">
            {jobs.length} {jobs.length === 1 ? "card" : "cards"}
          </p>
        )}
        <Link to="/jobs/new" className="button ml-auto grid place-items-center">
          New job
        </Link>
      </header>
      {shelf.isPending && <Loading what="Reading the shelf" />}
      {shelf.isError && <Trouble problem={shelf.error} again={() => shelf.refetch()} />}
      {shelf.data && jobs.length === 0 && (
        <p className="rounded-md border border-rule bg-sheet p-6">
          The shelf is empty.{" "}
          <Link to="/jobs/new" className="button-plain">
            Open the first job
          </Link>{" "}
          when a parcel is here.
        </p>
      )}
      {shelf.data
        ?.filter((group) => group.jobs.length > 0)
        .map((group) => (
          <Group key={group.move} group={group} first={jobs.find((job) => job.move === "hands")} />
        ))}
    </main>
  );
}

function Group({ group, first }: { group: ShelfGroup; first: ShelfJob | undefined }) {
  return (
    <section className="mb-6" aria-labelledby={`group-${group.move}`}>
      <h2 id={`group-${group.move}`} className="mb-2 text-xl font-bold">
        {group.title}{" "}
        <span className="font-normal text-base text-soft">
          {group.jobs.length} {group.jobs.length === 1 ? "card" : "cards"}
        </span>
      </h2>
      <ul className="border-t border-rule">
        {group.jobs.map((job) => (
          <Row key={job.number} job={job} next={job === first} />
        ))}
      </ul>
    </section>
  );
}

/** A job; the amber stands at the one to take up next, nowhere else. */
function Row({ job, next }: { job: ShelfJob; next: boolean }) {
  const late = !!job.due && job.due < new Date().toISOString().slice(0, 10);
  return (
    <li className="border-b border-rule bg-sheet">
      <Link
        to={`/jobs/${job.number}/memory`}
        className="grid grid-cols-[3.5rem_9rem_1fr] lg:grid-cols-[3.5rem_9rem_12rem_1fr_1.3fr_6rem] items-center gap-4 px-4 py-2 hover:bg-tray focus-visible:-outline-offset-4"
      >
        <span className="font-mono text-2xl font-bold">{job.place || "–"}</span>
        {job.thumb ? (
          <Thumb {...job.thumb} className="h-14 w-36" />
        ) : (
          <span className="grid h-14 w-36 place-items-center border-2 border-dashed border-rule text-soft">
            not drawn yet
          </span>
        )}
        <span>
          <strong className="font-mono text-lg">{job.label}</strong>
          {job.express && (
            <span className="ml-2 rounded border-2 border-ink px-1.5 font-semibold">express</span>
          )}
          <br />
          {job.model}
        </span>
        <span className="text-soft">{job.next.left}</span>
        <strong className={next ? "border-l-8 border-next pl-3" : "pl-5"}>{job.next.do}</strong>
        <span className="text-right">
          {job.due && (
            <span className={late ? "font-bold text-suspect" : ""}>
              {late ? "late, " : "due "}
              {day(job.due).slice(0, -5)}
            </span>
          )}
          <br />
          <span className="text-soft">{age(job.opened_at)} here</span>
        </span>
      </Link>
    </li>
  );
}
