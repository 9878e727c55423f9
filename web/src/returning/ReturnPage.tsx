import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { Link, useParams } from "react-router";
import type { BoardDetail, JobDetail } from "../api/client";
import { StepPage } from "../job/StepPage";
import { useOrientation } from "../job/useOrientation";
import { WorkPanel } from "../job/WorkPanel";
import { ReworkBoard } from "../rework/ReworkBoard";
import { useRework } from "../rework/useRework";
import { LoadError, Loading } from "../shared/states";
import { TabLinks } from "../shared/TabLinks";
import { mayWorkAtBench, useSession } from "../signin/session";
import { Asked } from "./Asked";
import { ReportSheet } from "./ReportSheet";
import { ReturnCheck } from "./ReturnCheck";
import { Written } from "./Written";

/** A job at Return: what blocks the parcel, what the customer was asked and told, the report. */
export function ReturnPage() {
  return <StepPage step="Return">{(job, model) => <AtReturn job={job} model={model} />}</StepPage>;
}

function AtReturn({ job, model }: { job: JobDetail; model: BoardDetail }) {
  const { tab = "check" } = useParams();
  const session = useSession();
  const person = session.data?.person;
  const { rework } = useRework(job.number);
  const { orientation, setOrientation } = useOrientation(job, mayWorkAtBench(person));
  const at = `/jobs/${job.number}/return`;
  if (rework.isError) return <LoadError problem={rework.error} again={() => rework.refetch()} />;
  if (!rework.data) return <Loading what={t`Loading the work done`} />;
  return (
    <div className="grid min-h-0 flex-1 grid-rows-[36rem_auto] lg:grid-cols-[58%_1fr] lg:grid-rows-1">
      {tab === "report" || !model.drawing ? (
        <ReportSheet number={job.number} />
      ) : (
        <ReworkBoard
          drawing={model.drawing}
          orientation={orientation}
          setOrientation={setOrientation}
          title={t`Board of ${job.label}`}
          rework={rework.data}
          site=""
          before={undefined}
          choose={() => undefined}
        />
      )}
      <WorkPanel job={job} step="Return">
        <TabLinks
          of={t`Return`}
          tabs={[
            [at, t`Check`],
            [`${at}/customer`, t`Customer`],
            [`${at}/report`, t`Report`],
          ]}
        />
        {tab === "customer" ? (
          <>
            <Asked job={job} />
            <Written job={job} />
          </>
        ) : (
          <>
            <ReturnCheck job={job} lead={person?.role === "lead"} />
            {!model.drawing && mayWorkAtBench(person) && (
              <p className="border-edge border-l-4 pl-3" data-testid="make-model">
                <Trans>
                  Nobody has drawn {model.name} yet. What was named on this card’s photographs and how it
                  starts can become its model, and its readings serve the next card by your consent.{" "}
                  <Link className="button-plain" to={`/library/${model.slug}/edit`}>
                    Make it a model
                  </Link>{" "}
                  <Link className="button-plain" to="/figures/learning">
                    Let its readings serve
                  </Link>
                </Trans>
              </p>
            )}
          </>
        )}
      </WorkPanel>
    </div>
  );
}
