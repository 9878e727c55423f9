import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, data, type JobDetail, type Located, newId, type Run } from "../api/client";
import { sendPicture } from "../api/upload";
import { PhotoBoard } from "../board/PhotoBoard";
import { afterPhotograph } from "../job/afterAct";
import { WorkPanel } from "../job/WorkPanel";
import { ChooseFile, PHOTOGRAPHS } from "../shared/ChooseFile";
import { count, listed, percent } from "../shared/words";
import { DropReport } from "./DropReport";
import { NextActions } from "./NextActions";
import { Recipes, refusalOf } from "./Recipes";
import { TypeTable } from "./TypeTable";

interface PlacelessProps {
  job: JobDetail;
  photographs: { side: "front" | "back"; sha256: string; width_px: number; height_px: number }[];
  runs: Run[];
  located: Located | undefined;
  mayWork: boolean;
}

/** The work at Memory where the board is not drawn yet: a photograph in its place, totals by channel. */
export function Placeless({ job, photographs, runs, located, mayWork }: PlacelessProps) {
  const [side, setSide] = useState<"front" | "back">("front");
  const picture = photographs.find((photograph) => photograph.side === side);
  const other = side === "front" ? "back" : "front";
  return (
    <div className="grid min-h-0 flex-1 grid-rows-[32rem_auto] lg:grid-cols-[58%_1fr] lg:grid-rows-1">
      <section aria-label={t`Photograph`} className="flex h-full min-h-0 flex-col">
        <div className="min-h-0 flex-1">
          {picture ? (
            <PhotoBoard
              key={picture.sha256}
              picture={picture}
              title={t`Photograph of the ${side} of ${job.model}`}
            />
          ) : (
            <TakePhotograph job={job} side={side} />
          )}
        </div>
        <div className="flex flex-wrap items-center gap-3 border-t border-rule bg-sheet px-4 py-2">
          <p className="font-semibold">
            <Trans>
              {side === "front" ? t`Front` : t`Back`} side,{" "}
              {picture ? t`a photograph; not drawn yet` : t`not drawn yet`}
            </Trans>
          </p>
          <button type="button" className="button ml-auto" onClick={() => setSide(other)}>
            <Trans>The {other}</Trans>
          </button>
        </div>
      </section>
      <WorkPanel job={job} step="Memory">
        {mayWork && (
          <p className="border-l-8 border-next bg-next-wash px-4 py-3">
            <Trans>
              <strong>This board is not drawn yet.</strong> Draw it from a photograph in about five minutes,
              and the report shows the chip.{" "}
            </Trans>
            <Link
              className="button mt-2 inline-grid place-items-center"
              to={`/library/${job.board_model}/edit`}
            >
              <Trans>Draw the model</Trans>
            </Link>
          </p>
        )}
        {located && <Totals located={located} />}
        {located && <NextActions job={job} mayWork={mayWork} />}
        {runs.length > 0 && (
          <p className="text-soft">
            {runs.map((run) => `${run.number} ${run.condition.join(", ") || t`no condition`}`).join("; ")}
          </p>
        )}
        {mayWork && (
          <>
            <DropReport job={job} first={runs.length === 0} />
            <TypeTable job={job} />
          </>
        )}
        <Recipes job={job} refusal={located ? refusalOf(located) : null} mayWork={mayWork} />
      </WorkPanel>
    </div>
  );
}

/** Errors by channel, most first, and what they look like. */
function Totals({ located }: { located: Located }) {
  const { finding } = located;
  const failing = located.sites
    .filter((site) => site.errors > 0)
    .sort((site, other) => other.errors - site.errors);
  return (
    <section aria-labelledby="totals" data-testid="finding">
      <h2 id="totals" className="text-xl font-bold">
        {finding.designators.length > 0 && t`Channel ${listed(finding.designators)}: `}
        {finding.title}
      </h2>
      <p className="text-soft">
        <Trans>
          {finding.designators.length > 0 ? t`chance ${percent(finding.chance)}; ` : ""}which chip it is, the
          board’s model tells
        </Trans>
      </p>
      <p className="mt-1">{finding.why.join(" ")}</p>
      <table className="mt-2 w-full">
        <caption className="text-left text-soft">
          <Trans>Errors by channel</Trans>
        </caption>
        <tbody>
          {failing.map((site) => (
            <tr key={site.designator} className="border-t border-rule">
              <th scope="row" className="w-16 py-1 text-left font-mono text-lg">
                {site.channel}
              </th>
              <td className="w-28 text-right font-mono">{count(site.errors)}</td>
              <td className="pl-3">
                <span
                  className="block h-3 bg-suspect"
                  style={{ width: `${Math.max(1, 100 * site.share)}%` }}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** The photograph is the job's like one taken at Look, and serves as the board until the model is drawn. */
function TakePhotograph({ job, side }: { job: JobDetail; side: "front" | "back" }) {
  const [said, setSaid] = useState("");
  const queries = useQueryClient();
  const take = async (file: File | undefined) => {
    if (!file) return;
    setSaid(t`Sending …`);
    try {
      const picture = await sendPicture(file, (sent) => setSaid(t`Sending, ${Math.round(sent * 100)} %`));
      const body = { id: newId(), sha256: picture.sha256, side, before: "" };
      const path = { number: job.number };
      data(await api.POST("/api/v1/jobs/{number}/photographs", { params: { path }, body }));
      setSaid("");
      await afterPhotograph(queries, job.number);
    } catch (error) {
      setSaid((error as Error).message);
    }
  };
  return (
    <div className="grid h-full place-items-center bg-tray p-8">
      <span className="rounded-lg border-2 border-dashed border-edge bg-sheet p-8 text-center">
        <strong className="block text-xl">
          <Trans>A photograph of the {side} serves as the board</Trans>
        </strong>
        <span className="block">
          <Trans>
            Straight from above, bracket to the {side === "front" ? t`left` : t`right`}, contacts down.
          </Trans>
        </span>
        <ChooseFile
          take={(files) => void take(files[0])}
          accept={PHOTOGRAPHS}
          testid="board-photograph"
          className="mt-4"
        >
          <Trans>Choose a photograph</Trans>
        </ChooseFile>
        <span role="status" className="block">
          {said}
        </span>
      </span>
    </div>
  );
}
