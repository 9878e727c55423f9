import { t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import type { BoardDetail, Drawing, JobDetail } from "../api/client";
import { Board } from "../board/Board";
import { notesOf } from "../board/notes";
import { MemoryPanel } from "../memory/MemoryPanel";
import { Placeless } from "../memory/Placeless";
import { runsQuery } from "../queries/job";
import { useMayWork } from "../signin/session";
import { StepPage } from "./StepPage";
import { useOrientation } from "./useOrientation";

/** A job at Memory: the board at the left, the work at the right. */
export function JobPage() {
  return (
    <StepPage step="Memory">
      {(job, model) =>
        model.drawing ? (
          <AtMemory job={job} drawing={model.drawing} />
        ) : (
          <NotDrawn job={job} photographs={model.photographs} />
        )
      }
    </StepPage>
  );
}

function useRuns(number: number) {
  return useQuery(runsQuery(number));
}

/** A job whose board nobody has drawn yet. */
function NotDrawn({ job, photographs }: { job: JobDetail; photographs: BoardDetail["photographs"] }) {
  const runs = useRuns(job.number);
  return (
    <Placeless
      job={job}
      photographs={photographs}
      runs={runs.data ?? []}
      located={job.located ?? undefined}
      mayWork={useMayWork(job)}
    />
  );
}

function AtMemory({ job, drawing }: { job: JobDetail; drawing: Drawing }) {
  const { run: runId } = useParams();
  const mayWork = useMayWork(job);
  const { orientation, setOrientation } = useOrientation(job, mayWork);
  const [chosen, setChosen] = useState<string | null>(null);
  const [shown, setShown] = useState<string | null>(null);
  const runs = useRuns(job.number);

  const run = runs.data?.find((entry) => entry.id === runId);
  const located = run ? run.located : (job.located ?? undefined);
  const suspects = located?.finding.designators ?? [];
  const site = chosen ?? suspects[0] ?? job.mark?.designator ?? null;
  return (
    <div className="grid min-h-0 flex-1 grid-rows-[32rem_auto] lg:grid-cols-[58%_1fr] lg:grid-rows-1">
      <Board
        drawing={drawing}
        orientation={orientation}
        setOrientation={setOrientation}
        notes={notesOf(located, job.mark?.designator, shown)}
        choose={setChosen}
        fit="chips"
        title={t`Board of ${job.label}`}
      />
      <MemoryPanel
        job={job}
        drawing={drawing}
        orientation={orientation}
        setOrientation={setOrientation}
        runs={runs.data ?? []}
        runsPending={runs.isPending}
        run={run}
        unknownRun={runId !== undefined && runs.isSuccess && !run}
        located={located}
        site={site}
        ask={chosen !== null || suspects.length === 1}
        choose={setChosen}
        show={setShown}
        mayWork={mayWork}
      />
    </div>
  );
}
