import type { ReactNode } from "react";
import type { JobDetail } from "../api/client";
import { useMayWork, useSession } from "../signin/session";
import { Hypotheses } from "./Hypotheses";
import { Mind } from "./Mind";
import { Owed } from "./Owed";
import type { Step } from "./StepLine";

interface WorkPanelProps {
  job: JobDetail;
  step: Step;
  children: ReactNode;
  /** what stays in sight below the scrolling part */
  foot?: ReactNode;
}

/** The work beside the board: the step's own part, then what is carried through all steps. */
export function WorkPanel({ job, step, children, foot }: WorkPanelProps) {
  const session = useSession();
  const mayWork = useMayWork(job);
  return (
    <div className="flex min-h-0 min-w-0 flex-col border-rule border-t lg:border-t-0 lg:border-l bg-sheet">
      <div className="names relative min-h-0 flex-1 space-y-6 overflow-y-auto p-5" data-testid="panel">
        <Mind job={job} />
        {children}
        <Hypotheses job={job} step={step} mayWork={mayWork} />
        {!job.left && <Owed job={job} mayWork={mayWork} lead={session.data?.person?.role === "lead"} />}
      </div>
      {foot}
    </div>
  );
}
