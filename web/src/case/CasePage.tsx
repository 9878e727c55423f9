import { useQuery } from "@tanstack/react-query";
import { Link, useSearchParams } from "react-router";
import { api, type Case, data, type JobDetail } from "../api/client";
import { StepPage } from "../job/StepPage";
import { Loading, Trouble } from "../shared/states";
import { TakeBack } from "../shared/TakeBack";
import { moment, percent } from "../shared/words";
import { mayWorkAtBench, useSession } from "../signin/session";

/** The card's whole thread: what to do next, what may be wrong, and every entry with what voids it. */
export function CasePage() {
  return <StepPage step={null}>{(job) => <AtCase job={job} />}</StepPage>;
}

function AtCase({ job }: { job: JobDetail }) {
  const params = { path: { number: job.number } };
  const found = useQuery({
    queryKey: ["case", job.number],
    queryFn: async () => data(await api.GET("/api/v1/jobs/{number}/case", { params })),
  });
  if (found.isError) return <Trouble problem={found.error} again={() => found.refetch()} />;
  if (found.isPending) return <Loading what="Reading the thread" />;
  return (
    <div className="grid min-h-0 flex-1 lg:grid-cols-[1fr_1fr]">
      <div className="min-h-0 space-y-5 overflow-y-auto p-5" data-testid="case-says">
        <Next job={job} found={found.data} />
        <MayBe found={found.data} />
        <Locked found={found.data} />
        <Lacking found={found.data} />
        {found.data.warnings.map((one) => (
          <p key={one} className="border-l-8 border-edge px-4">
            {one}
          </p>
        ))}
      </div>
      <Entries job={job} found={found.data} />
    </div>
  );
}

function Next({ job, found }: { job: JobDetail; found: Case }) {
  const [first, ...rest] = found.next;
  if (!first) return null;
  return (
    <section aria-labelledby="case-next">
      <h2 id="case-next" className="text-lg font-bold">
        What next
      </h2>
      <p className="border-l-8 border-next bg-next-wash px-4 py-2 text-lg">
        <strong>{first.says}.</strong> {first.why}{" "}
        <Link className="whitespace-nowrap underline" to={`/jobs/${job.number}/${first.step}`}>
          Go there
        </Link>
      </p>
      <ol>
        {rest.map((one) => (
          <li key={`${one.do} ${one.target}`} className="border-t border-rule py-1">
            <Link className="font-bold underline" to={`/jobs/${job.number}/${one.step}`}>
              {one.says}
            </Link>{" "}
            <span className="text-soft">{minutes(one.minutes)}.</span> {one.why}
          </li>
        ))}
      </ol>
    </section>
  );
}

function minutes(many: number): string {
  return many < 1 ? "half a minute" : `${Math.round(many)} min`;
}

const MOST = 5;

function MayBe({ found }: { found: Case }) {
  return (
    <section aria-labelledby="case-causes">
      <h2 id="case-causes" className="text-lg font-bold">
        What may be wrong
      </h2>
      {found.causes.slice(0, MOST).map((one) => (
        <details key={one.says} className="border-t border-rule py-1" data-testid="cause">
          <summary className="cursor-pointer">
            <span className="inline-block w-16 text-right font-mono">{percent(one.chance)}</span>{" "}
            <strong>{one.says}</strong>
          </summary>
          <ul className="ml-20 list-disc">
            {one.why.map((why) => (
              <li key={why}>{why}</li>
            ))}
          </ul>
          {one.entries.length > 0 && (
            <p className="ml-20 text-soft">
              By{" "}
              {one.entries.map((number, at) => (
                <span key={number}>
                  {at > 0 && ", "}
                  <Link className="underline" to={{ search: `?entry=${number}` }}>
                    {found.entries[number]?.words ?? number}
                  </Link>
                </span>
              ))}
            </p>
          )}
        </details>
      ))}
    </section>
  );
}

function Locked({ found }: { found: Case }) {
  if (found.blocks.length === 0) return <p>Inputs and fuses read right: power is allowed.</p>;
  return (
    <section aria-labelledby="case-locked">
      <h2 id="case-locked" className="text-lg font-bold">
        Power is locked
      </h2>
      <ul className="list-disc pl-5">
        {found.blocks.map((one) => (
          <li key={`${one.about} ${one.why}`}>{one.why}</li>
        ))}
      </ul>
    </section>
  );
}

const OWED: Record<string, string> = {
  fit: "Fit",
  read: "Read again:",
  unsolder: "Unsolder the lead at",
  "refit-coil": "Fit the coil again:",
  cooler: "Put back the",
  tell: "Tell the customer about",
  photograph: "Photograph",
};

function Lacking({ found }: { found: Case }) {
  const open = found.checks.filter((one) => one.state !== "passed");
  return (
    <section aria-labelledby="case-lacking">
      <h2 id="case-lacking" className="text-lg font-bold">
        Before it leaves
      </h2>
      <ul className="list-disc pl-5">
        {found.owed.map((one) => (
          <li key={`${one.what} ${one.target}`}>
            {OWED[one.what]} {one.target}
          </li>
        ))}
        <li>
          {open.length === 0
            ? "Every check of the proof passed."
            : `${found.checks.length - open.length} of ${found.checks.length} checks of the proof passed.`}
        </li>
      </ul>
    </section>
  );
}

function Entries({ job, found }: { job: JobDetail; found: Case }) {
  const [params] = useSearchParams();
  const pointed = params.get("entry");
  const mayWork = mayWorkAtBench(useSession().data?.person);
  return (
    <section
      aria-labelledby="case-entries"
      className="min-h-0 overflow-y-auto border-rule border-t bg-sheet p-5 lg:border-t-0 lg:border-l"
      data-testid="case-entries"
    >
      <h2 id="case-entries" className="text-lg font-bold">
        The case, entry by entry
      </h2>
      <p className="text-soft">
        An act makes void what was measured before it on everything that it touches.{" "}
        <a className="underline" href={`/api/v1/jobs/${job.number}/case/file`} download>
          Take it along as a file
        </a>
      </p>
      {found.entries.length === 0 && <p className="mt-3">Nothing was entered yet.</p>}
      <ol className="mt-2">
        {found.entries.map((one) => (
          <li
            key={one.number}
            ref={(element) => {
              if (pointed === String(one.number)) element?.scrollIntoView({ block: "center" });
            }}
            className={`grid grid-cols-[2.5rem_1fr] border-t border-rule py-1 ${pointed === String(one.number) ? "bg-next-wash" : ""}`}
            data-void={one.void_by !== null}
          >
            <span className="font-mono text-soft">{one.number}</span>
            <span>
              <span
                className={one.void_by === null ? (one.act ? "font-bold" : "") : "text-soft line-through"}
              >
                {one.words}
              </span>{" "}
              {one.void_by !== null && (
                <strong>
                  {one.void_why}, entry {one.void_by}
                </strong>
              )}
              <span className="flex flex-wrap items-center gap-2 text-[15px] text-soft">
                {one.by}, {moment(one.at)}
                {mayWork && one.act_id && <TakeBack act={one.act_id} />}
              </span>
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}
