import { useQuery } from "@tanstack/react-query";
import { Fragment, type ReactNode } from "react";
import { useParams } from "react-router";
import { api, type BoardDetail, data, type JobDetail } from "../api/client";
import { Loading, Trouble } from "../shared/states";
import { JobStrip } from "./JobStrip";
import { type Step, StepLine } from "./StepLine";

interface StepPageProps {
  step: Step;
  children: (job: JobDetail, model: BoardDetail) => ReactNode;
}

/** A job at one of its steps: the strip, the line of steps, and below them the step's own board and panel. */
export function StepPage({ step, children }: StepPageProps) {
  const { number = "" } = useParams();
  const job = useQuery({
    queryKey: ["job", number],
    queryFn: async () =>
      data(await api.GET("/api/v1/jobs/{number}", { params: { path: { number: Number(number) } } })),
  });
  const slug = job.data?.board_model ?? "";
  const model = useQuery({
    queryKey: ["board-model", slug],
    enabled: slug !== "",
    queryFn: async () => data(await api.GET("/api/v1/board-models/{slug}", { params: { path: { slug } } })),
  });
  if (job.isError) return <Trouble problem={job.error} again={() => job.refetch()} />;
  if (model.isError) return <Trouble problem={model.error} again={() => model.refetch()} />;
  if (job.isPending || model.isPending) return <Loading what="Opening the job" />;
  return (
    <main className="flex min-w-0 flex-col lg:h-dvh">
      <JobStrip job={job.data} />
      <StepLine job={job.data} current={step} />
      <Fragment key={job.data.number}>{children(job.data, model.data)}</Fragment>
    </main>
  );
}
