import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import { api, type Drawing, type JobDetail, type Run } from "../api/client";
import { Thumb } from "../board/Thumb";
import { viewOf } from "../board/view";
import { keyOf } from "../queries/keys";
import { count, moment, size } from "../shared/words";

interface RunsProps {
  job: JobDetail;
  runs: Run[];
  drawing: Drawing;
  shown: Run | undefined;
  mayWork: boolean;
}

/** The runs as small boards side by side, captioned by condition; one chosen is shown alone. */
export function Runs({ job, runs, drawing, shown, mayWork }: RunsProps) {
  return (
    <section aria-labelledby="runs-title">
      <h3 id="runs-title" className="text-lg font-bold">
        <Trans>Runs</Trans>
      </h3>
      <ul className="grid grid-cols-3 gap-3">
        {runs.map((run) => (
          <li key={run.id}>
            <Link
              to={
                shown?.id === run.id
                  ? `/jobs/${job.number}/memory`
                  : `/jobs/${job.number}/memory/runs/${run.id}`
              }
              aria-current={shown?.id === run.id}
              className={`block rounded-md border-2 p-1 ${shown?.id === run.id ? "border-ink" : "border-transparent"} ${run.withdrawn ? "opacity-60" : ""}`}
            >
              <RunThumb run={run} drawing={drawing} />
              <strong className="block truncate">
                {run.number} {run.condition.join(", ") || t`no condition`}
              </strong>
              <span className="block text-soft">{run.withdrawn ? t`taken out` : outcome(run)}</span>
            </Link>
          </li>
        ))}
      </ul>
      {shown && <RunFacts run={shown} job={job} mayWork={mayWork} />}
    </section>
  );
}

function RunThumb({ run, drawing }: { run: Run; drawing: Drawing }) {
  const hit = run.located.sites.filter((site) => site.errors > 0);
  const back =
    hit.length > 0 && hit.reduce((sum, site) => sum + (site.side === "back" ? site.share : 0), 0) > 0.5;
  const view = viewOf(drawing, { side: back ? "back" : "front", turns: 0 });
  return (
    <Thumb
      width_mm={view.width_mm}
      height_mm={view.height_mm}
      matrix={view.matrix}
      outline={drawing.outline}
      core={drawing.core.corners}
      sites={drawing.sites}
      suspects={run.located.finding.designators}
      shares={Object.fromEntries(hit.map((site) => [site.designator, site.share]))}
      side={view.side}
      className="w-full"
    />
  );
}

function outcome(run: Run): string {
  const report = run.located.reports[0];
  if (!report) return "";
  if (report.result === "refused") return "refused";
  if (report.errors === 0 && report.unread > 0) return t`${count(report.unread)} unread`;
  return report.errors === 0 ? t`no errors` : t`${count(report.errors)} errors`;
}

/** Where a run's figures come from: file, reader, who and when; the rows that could not be read. */
function RunFacts({ run, job, mayWork }: { run: Run; job: JobDetail; mayWork: boolean }) {
  const [asking, setAsking] = useState(false);
  const [reason, setReason] = useState("");
  const queries = useQueryClient();
  const report = run.located.reports[0];
  const withdraw = async (event: FormEvent) => {
    event.preventDefault();
    await api.POST("/api/v1/runs/{run}/withdrawal", { params: { path: { run: run.id } }, body: { reason } });
    setAsking(false);
    await queries.invalidateQueries({ queryKey: keyOf("runs", job.number) });
    await queries.invalidateQueries({ queryKey: keyOf("job", String(job.number)) });
  };
  return (
    <div className="mt-3 border-l-4 border-rule pl-3">
      <p>
        <Trans>
          {run.file_name}, {size(run.size)}, read as {report?.format}: {count(report?.rows ?? 0)} rows,{" "}
          {run.located.reports[0]?.unread ?? 0} unread. Added by {run.added_by}, {moment(run.added_at)}.
        </Trans>
      </p>
      {run.unread.length > 0 && (
        <details>
          <summary className="cursor-pointer py-1 font-semibold">
            <Trans>Rows that could not be read</Trans>
          </summary>
          {run.unread.map((row) => (
            <p key={row.line} className="font-mono text-[15px]">
              {row.line}: {row.text}
            </p>
          ))}
        </details>
      )}
      <div className="mt-2 flex gap-2">
        <a className="button grid place-items-center" href={`/api/v1/runs/${run.id}/file`} download>
          <Trans>The report as it came</Trans>
        </a>
        {mayWork && !run.withdrawn && !asking && (
          <button type="button" className="button" onClick={() => setAsking(true)}>
            <Trans>Take out of the finding</Trans>
          </button>
        )}
      </div>
      {asking && (
        <form onSubmit={withdraw} className="mt-2 flex gap-2">
          <input
            className="field min-w-0 flex-1"
            aria-label={t`Why this run does not count`}
            placeholder={t`Why (another card, a slip)`}
            maxLength={200}
            value={reason}
            onChange={(event) => setReason(event.target.value)}
          />
          <button type="submit" className="button">
            <Trans>Take out</Trans>
          </button>
          <button type="button" className="button-plain" onClick={() => setAsking(false)}>
            <Trans>Leave it</Trans>
          </button>
        </form>
      )}
    </div>
  );
}
