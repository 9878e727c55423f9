import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { Link, useSearchParams } from "react-router";
import type { Case, JobDetail } from "../api/client";
import { MayBeWrong, WhatNext } from "../job/Mind";
import { StepPage } from "../job/StepPage";
import { caseQuery } from "../queries/job";
import { LoadError, Loading } from "../shared/states";
import { TakeBack } from "../shared/TakeBack";
import { moment } from "../shared/words";
import { mayWorkAtBench, useSession } from "../signin/session";

const MOST = 5;

/** The card's whole thread: what to do next, what may be wrong, and every entry with what voids it. */
export function CasePage() {
  return <StepPage step={null}>{(job) => <AtCase job={job} />}</StepPage>;
}

function AtCase({ job }: { job: JobDetail }) {
  const found = useQuery(caseQuery(job.number));
  if (found.isError) return <LoadError problem={found.error} again={() => found.refetch()} />;
  if (found.isPending) return <Loading what={t`Reading the thread`} />;
  return (
    <div className="grid min-h-0 flex-1 lg:grid-cols-[1fr_1fr]">
      <div className="min-h-0 space-y-5 overflow-y-auto p-5" data-testid="case-says">
        {job.next.what === "practice" ? (
          <p>
            <strong>{job.next.do}.</strong> {job.next.why}
          </p>
        ) : (
          <>
            <WhatNext job={job} steps={found.data.next} />
            <MayBeWrong job={job} causes={found.data.causes.slice(0, MOST)} open />
          </>
        )}
        <Locked found={found.data} />
        <Lacking found={found.data} />
        {found.data.warnings.map((warning) => (
          <p key={warning} className="border-l-8 border-edge px-4">
            {warning}
          </p>
        ))}
      </div>
      <Entries job={job} found={found.data} />
    </div>
  );
}

function Locked({ found }: { found: Case }) {
  if (found.blocks.length === 0)
    return (
      <p>
        <Trans>Inputs and fuses read right: power is allowed.</Trans>
      </p>
    );
  return (
    <section aria-labelledby="case-locked">
      <h2 id="case-locked" className="text-lg font-bold">
        <Trans>Power is locked</Trans>
      </h2>
      <ul className="list-disc pl-5">
        {found.blocks.map((block) => (
          <li key={`${block.about} ${block.why}`}>{block.why}</li>
        ))}
      </ul>
    </section>
  );
}

const OWED: Record<string, string> = {
  fit: t`Fit`,
  read: t`Read again:`,
  unsolder: t`Unsolder the lead at`,
  "refit-coil": t`Fit the coil again:`,
  cooler: t`Put back the`,
  tell: t`Tell the customer about`,
  photograph: t`Photograph`,
};

function Lacking({ found }: { found: Case }) {
  const open = found.checks.filter((check) => check.state !== "passed");
  return (
    <section aria-labelledby="case-lacking">
      <h2 id="case-lacking" className="text-lg font-bold">
        <Trans>Before it leaves</Trans>
      </h2>
      <ul className="list-disc pl-5">
        {found.owed.map((debt) => (
          <li key={`${debt.what} ${debt.target}`}>
            {OWED[debt.what]} {debt.target}
          </li>
        ))}
        <li>
          {open.length === 0
            ? t`Every check of the proof passed.`
            : t`${found.checks.length - open.length} of ${found.checks.length} checks of the proof passed.`}
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
        <Trans>The case, entry by entry</Trans>
      </h2>
      <p className="text-soft">
        <Trans>
          An act makes void what was measured before it on everything that it touches.{" "}
          <a className="underline" href={`/api/v1/jobs/${job.number}/case/file`} download>
            Export it as a file
          </a>
        </Trans>
      </p>
      {found.moved && (
        <p className="mt-2 border-next border-l-4 pl-3">
          <Trans>
            Since {moment(found.moved.at)} the card has lived on the board{" "}
            <span className="font-mono">{found.moved.board}</span>. What was entered before of its former
            board ({found.moved.earlier}) is in the{" "}
            <Link className="underline" to={`/jobs/${job.number}`}>
              timeline
            </Link>
            .
          </Trans>
        </p>
      )}
      {found.entries.length === 0 && (
        <p className="mt-3">
          <Trans>Nothing was entered yet.</Trans>
        </p>
      )}
      <ol className="mt-2">
        {found.entries.map((entry) => (
          <li
            key={entry.number}
            ref={(element) => {
              if (pointed === String(entry.number)) element?.scrollIntoView({ block: "center" });
            }}
            className={`grid grid-cols-[2.5rem_1fr] border-t border-rule py-1 ${pointed === String(entry.number) ? "bg-next-wash" : ""}`}
            data-void={entry.void_by !== null}
          >
            <span className="font-mono text-soft">{entry.number}</span>
            <span>
              <span
                className={entry.void_by === null ? (entry.act ? "font-bold" : "") : "text-soft line-through"}
              >
                {entry.words}
              </span>{" "}
              {entry.void_by !== null && (
                <strong>
                  <Trans>
                    {entry.void_why}, entry {entry.void_by}
                  </Trans>
                </strong>
              )}
              {entry.voids.length > 0 && (
                <span className="block">
                  <Trans>makes void </Trans>
                  {entry.voids.map((number, at) => (
                    <span key={number}>
                      {at > 0 && ", "}
                      <Link
                        className="underline"
                        to={{ search: `?entry=${number}` }}
                        title={found.entries[number]?.words}
                      >
                        {number}
                      </Link>
                    </span>
                  ))}
                </span>
              )}
              <span className="flex flex-wrap items-center gap-2 text-[15px] text-soft">
                {entry.by}, {moment(entry.at)}
                {mayWork && entry.act_id && <TakeBack act={entry.act_id} />}
              </span>
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}
