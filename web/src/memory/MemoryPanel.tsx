import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { Link } from "react-router";
import type { Drawing, JobDetail, Located, Orientation, Run } from "../api/client";
import { WorkPanel } from "../job/WorkPanel";
import { PrintBoard } from "../library/PrintBoard";
import { Loading } from "../shared/states";
import { ConfirmMark } from "./ConfirmMark";
import { DropReport } from "./DropReport";
import { Finding } from "./Finding";
import { Lines } from "./Lines";
import { NextActions } from "./NextActions";
import { OpenPlaces } from "./OpenPlaces";
import { Recipes, refusalOf } from "./Recipes";
import { Ribbon } from "./Ribbon";
import { Runs } from "./Runs";
import { TypeTable } from "./TypeTable";

interface PanelProps {
  job: JobDetail;
  drawing: Drawing;
  orientation: Orientation;
  setOrientation: (orientation: Orientation) => void;
  runs: Run[];
  runsPending: boolean;
  run: Run | undefined;
  unknownRun: boolean;
  located: Located | undefined;
  site: string | null;
  /** whether a chip stands out, or was chosen, so that its mark is asked for */
  ask: boolean;
  choose: (designator: string) => void;
  show: (designator: string | null) => void;
  mayWork: boolean;
}

/** The work at Memory: what the runs say, how the orders differ, the lines, the runs, the mark. */
export function MemoryPanel(props: PanelProps) {
  const { job, drawing, runs, run, located, site, choose, mayWork } = props;
  const shape = drawing.sites.find((entry) => entry.designator === site);
  const counted = located?.sites.find((entry) => entry.designator === site);
  const standing = runs.filter((entry) => !entry.withdrawn);
  const refusal = located ? refusalOf(located) : null;
  const recipes = <Recipes key={refusal} job={job} refusal={refusal} mayWork={mayWork} />;
  return (
    <WorkPanel
      job={job}
      step="Memory"
      foot={
        ((located && props.ask) || job.mark) &&
        shape?.fitted && (
          <ConfirmMark job={job} drawing={drawing} site={shape} show={props.show} mayWork={mayWork} />
        )
      }
    >
      {props.unknownRun && (
        <p role="alert" className="border-l-4 border-suspect pl-3">
          <Trans>
            This job has no such run.{" "}
            <Link className="button-plain" to={`/jobs/${job.number}/memory`}>
              All runs together
            </Link>
          </Trans>
        </p>
      )}
      {run && (
        <p className="border-l-4 border-ink bg-tray px-3 py-2">
          <Trans>
            Run {run.number} alone{run.withdrawn ? t`, taken out of the finding` : ""}.{" "}
            <Link className="button-plain" to={`/jobs/${job.number}/memory`}>
              All runs together
            </Link>
          </Trans>
        </p>
      )}
      {props.runsPending && <Loading what={t`Reading the runs`} />}
      {located && (
        <Finding
          located={located}
          drawing={drawing}
          orientation={props.orientation}
          setOrientation={props.setOrientation}
        />
      )}
      {located && !run && <NextActions job={job} mayWork={mayWork} />}
      {refusal && recipes}
      {located && <OpenPlaces job={job} drawing={drawing} located={located} mayWork={mayWork} />}
      {located && shape && (
        <Ribbon drawing={drawing} runs={run ? [run] : standing} site={shape} choose={choose} />
      )}
      {counted && shape?.fitted && counted.errors > 0 && <Lines site={counted} />}
      {runs.length > 0 && <Runs job={job} runs={runs} drawing={drawing} shown={run} mayWork={mayWork} />}
      {mayWork ? (
        <>
          <DropReport job={job} first={runs.length === 0 && !props.runsPending} />
          <TypeTable job={job} />
        </>
      ) : (
        runs.length === 0 &&
        !props.runsPending && (
          <p>
            {job.left
              ? t`No memory run.`
              : t`No memory run yet. A technician drops the tester’s report here.`}
          </p>
        )
      )}
      {!refusal && recipes}
      <PrintBoard
        slug={job.board_model}
        orientation={props.orientation}
        title={job.label}
        {...(job.mark ? { mark: job.mark.designator } : {})}
      />
    </WorkPanel>
  );
}
