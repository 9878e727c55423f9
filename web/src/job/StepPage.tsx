import { t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { Fragment, type ReactNode, useState } from "react";
import { useParams } from "react-router";
import type { BoardDetail, JobDetail } from "../api/client";
import { Instruments } from "../practice/Instruments";
import { jobQuery } from "../queries/job";
import { boardModelQuery } from "../queries/library";
import { cautionsQuery } from "../queries/shop";
import { QuickNote } from "../record/QuickNote";
import { useKeys } from "../shared/keys";
import { LoadError, Loading } from "../shared/states";
import { Camera } from "./Camera";
import { CameraContext } from "./camera";
import { JobStrip } from "./JobStrip";
import { Left } from "./Left";
import { type Step, StepLine } from "./StepLine";

interface StepPageProps {
  /** none where the job as a whole is shown */
  step: Step | null;
  children: (job: JobDetail, model: BoardDetail) => ReactNode;
}

/** A job at one of its steps: the strip, the line of steps, and below them the step's own board and panel. */
export function StepPage({ step, children }: StepPageProps) {
  const { number = "" } = useParams();
  const job = useQuery(jobQuery(number));
  const slug = job.data?.board_model ?? "";
  const model = useQuery({ ...boardModelQuery(slug), enabled: slug !== "" });
  // known before anything is pressed: a caution that came late would move what stands below it
  const cautions = useQuery(cautionsQuery());
  const [camera, setCamera] = useState<{ before: string | undefined } | null>(null);
  const [noting, setNoting] = useState(false);
  useKeys({ n: () => setNoting(true) }, !noting);
  useKeys({ c: () => setCamera({ before: undefined }) }, camera === null);
  if (job.isError) return <LoadError problem={job.error} again={() => job.refetch()} />;
  if (model.isError) return <LoadError problem={model.error} again={() => model.refetch()} />;
  if (job.isPending || model.isPending || cautions.isPending) return <Loading what={t`Opening the job`} />;
  return (
    <main className="flex min-w-0 flex-col lg:h-dvh">
      <JobStrip job={job.data} step={step} />
      <StepLine job={job.data} current={step} />
      {job.data.left && !job.data.practice && <Left serial={job.data.serial} left={job.data.left} />}
      {job.data.practice && <Instruments job={job.data} step={step} />}
      <CameraContext value={(before) => setCamera({ before })}>
        <Fragment key={job.data.number}>{children(job.data, model.data)}</Fragment>
        {noting && (
          <div className="fixed right-4 bottom-4 z-20 w-[min(36rem,90vw)] shadow-lg">
            <QuickNote number={job.data.number} step={step} close={() => setNoting(false)} />
          </div>
        )}
        {camera && (
          <div className="fixed right-4 bottom-4 z-20 w-[min(36rem,90vw)] shadow-lg">
            <Camera
              key={camera.before ?? ""}
              number={job.data.number}
              before={camera.before}
              close={() => setCamera(null)}
            />
          </div>
        )}
      </CameraContext>
    </main>
  );
}
