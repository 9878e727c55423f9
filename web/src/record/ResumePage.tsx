import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { BoardDetail, JobDetail, Resume } from "../api/client";
import { Board } from "../board/Board";
import { notesOf } from "../board/notes";
import { TimeAndWorth } from "../clock/TimeAndWorth";
import { StepPage } from "../job/StepPage";
import { useOrientation } from "../job/useOrientation";
import { resumeQuery } from "../queries/job";
import { LoadError, Loading } from "../shared/states";
import { moment } from "../shared/words";
import { mayWorkAtBench, useSession } from "../signin/session";
import { Timeline } from "./Timeline";
import { WhoseMove } from "./WhoseMove";

/** Opening a job: the card that says where it was left, then its time, whose move it is, and all that happened. */
export function ResumePage() {
  return <StepPage step={null}>{(job, model) => <AtResume job={job} model={model} />}</StepPage>;
}

function AtResume({ job, model }: { job: JobDetail; model: BoardDetail }) {
  const session = useSession();
  const mayWork = mayWorkAtBench(session.data?.person);
  const { orientation, setOrientation } = useOrientation(job, mayWork);
  const resume = useQuery(resumeQuery(job.number));
  const step = job.next.step;
  return (
    <div className="grid min-h-0 flex-1 grid-rows-[32rem_auto] lg:grid-cols-[50%_1fr] lg:grid-rows-1">
      {model.drawing ? (
        <Board
          drawing={model.drawing}
          orientation={orientation}
          setOrientation={setOrientation}
          notes={notesOf(job.located ?? undefined, job.mark?.designator, null)}
          fit="board"
          title={t`Board of ${job.label}`}
        />
      ) : (
        <p className="grid place-items-center bg-tray p-8 text-center">
          <Trans>This board is not drawn yet.</Trans>
        </p>
      )}
      <div
        className="min-h-0 min-w-0 space-y-6 overflow-y-auto border-rule border-t bg-sheet p-5 lg:border-t-0 lg:border-l"
        data-testid="panel"
      >
        {resume.isError && <LoadError problem={resume.error} again={() => resume.refetch()} />}
        {!resume.data && !resume.isError && <Loading what={t`Loading the job`} />}
        {resume.data && (
          <section aria-labelledby="resume-title" data-testid="resume">
            <h2 id="resume-title" className="text-2xl font-bold leading-tight">
              {job.next.left}
            </h2>
            <p className="mt-2 border-l-8 border-next bg-next-wash px-4 py-2 text-lg">
              <strong>{job.next.do}.</strong> {job.next.why}{" "}
              {step && (
                <Link
                  className="button mt-1 inline-grid place-items-center"
                  to={`/jobs/${job.number}/${step}`}
                >
                  <Trans>Go on there</Trans>
                </Link>
              )}
            </p>
            <Thoughts resume={resume.data} />
            <Things
              title={t`Off the board, or on it for now`}
              things={resume.data.off}
              none={t`Nothing is off.`}
            />
            <Things title={t`Owed`} things={resume.data.owed} none="" />
            <h3 className="mt-4 text-lg font-bold">
              <Trans>Last</Trans>
            </h3>
            <ol>
              {resume.data.last.map((entry) => (
                <li key={entry.id} className="border-t border-rule py-1">
                  {entry.words}{" "}
                  <span className="text-soft">
                    {entry.by}, {moment(entry.at)}
                  </span>
                </li>
              ))}
            </ol>
          </section>
        )}
        <TimeAndWorth job={job} mayWork={mayWork} />
        <WhoseMove key={`${job.move} ${job.due} ${job.place}`} job={job} />
        <Timeline number={job.number} />
      </div>
    </div>
  );
}

/** What is confirmed, what is ruled out and by what, what is still open. */
function Thoughts({ resume }: { resume: Resume }) {
  const { confirmed, ruled_out, open } = resume;
  return (
    <>
      {confirmed.map((entry) => (
        <p key={entry.key} className="mt-2">
          <Trans>
            <strong>Confirmed: {entry.cause}</strong>, by {entry.by_what}.
          </Trans>
        </p>
      ))}
      <h3 className="mt-4 text-lg font-bold">
        <Trans>Ruled out</Trans>
      </h3>
      {ruled_out.length === 0 && (
        <p className="text-soft">
          <Trans>Nothing yet.</Trans>
        </p>
      )}
      <ul>
        {ruled_out.map((entry) => (
          <li key={entry.key} className="border-t border-rule py-1">
            <span className="line-through">{entry.cause}</span>: {entry.by_what}.{" "}
            <span className="text-soft">{entry.by}</span>
          </li>
        ))}
      </ul>
      {open.length > 0 && (
        <p className="mt-1">
          <Trans>Still open: {open.map((entry) => entry.cause.toLowerCase()).join("; ")}.</Trans>
        </p>
      )}
    </>
  );
}

interface ThingsProps {
  title: string;
  things: Resume["off"];
  none: string;
}

function Things({ title, things, none }: ThingsProps) {
  if (things.length === 0 && !none) return null;
  const apart = things.filter((thing) => thing.kind === "together");
  return (
    <>
      <h3 className="mt-4 text-lg font-bold">{title}</h3>
      {things.length === 0 && <p className="text-soft">{none}</p>}
      {apart.length > 0 && (
        <p className="border-t border-rule py-1">
          <strong>
            <Trans>Taken apart: {apart.length} steps.</Trans>
          </strong>{" "}
          {apart.map((entry) => entry.words).join(" ")}{" "}
          <span className="text-soft">
            {apart.at(-1)?.by}, {moment(apart.at(-1)?.at ?? "")}
          </span>
        </p>
      )}
      <ul>
        {things
          .filter((thing) => thing.kind !== "together")
          .map((thing) => (
            <li key={thing.key} className="border-t border-rule py-1">
              <strong>{thing.words}</strong>{" "}
              <span className="text-soft">
                {thing.kind_words}; {thing.by}, {moment(thing.at)}
              </span>
            </li>
          ))}
      </ul>
    </>
  );
}
