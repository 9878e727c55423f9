import { t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import type { BoardDetail, JobDetail, Ohms } from "../api/client";
import { type Photograph, UndrawnBoard } from "../board/UndrawnBoard";
import type { Point } from "../board/view";
import { StepPage } from "../job/StepPage";
import { useOrientation } from "../job/useOrientation";
import { WorkPanel } from "../job/WorkPanel";
import { useOhms } from "../ohms/useOhms";
import { beforeQuery } from "../queries/job";
import { LoadError, Loading } from "../shared/states";
import { TabLinks } from "../shared/TabLinks";
import { useMayWork } from "../signin/session";
import { Traffic } from "../stock/Traffic";
import { Curves } from "./Curves";
import { Images } from "./Images";
import { ImagesCompared } from "./ImagesCompared";
import { PadMap } from "./PadMap";
import { Pads, usePads } from "./Pads";
import { ReworkBoard } from "./ReworkBoard";
import { ReworkForm } from "./ReworkForm";
import { ReworkHistory } from "./ReworkHistory";
import { Timers } from "./Timers";
import { type Do, useRework } from "./useRework";

/** A job at Rework: what was heated and what stands near it on the board, the step in hand beside it. */
export function ReworkPage() {
  return <StepPage step="Rework">{(job, model) => <AtRework job={job} model={model} />}</StepPage>;
}

function AtRework({ job, model }: { job: JobDetail; model: BoardDetail }) {
  const { tab = "board", designator } = useParams();
  const [query, setQuery] = useSearchParams();
  const mayWork = useMayWork(job);
  const reworking = useRework(job.number);
  const { orientation, setOrientation } = useOrientation(job, mayWork);
  const named = useOhms(job.number).ohms;
  const go = useNavigate();
  const site = query.get("site") ?? "";
  const [plan, setPlan] = useState<{ do: Do; alloy_off: string; alloy_on: string; chip_in: string }>({
    do: "remove",
    alloy_off: "",
    alloy_on: "",
    chip_in: "",
  });
  const empty = reworking.rework.data?.sites.find((entry) => entry.designator === site)?.chip === null;
  // nothing is taken off an empty place, and nothing is put on one that is not
  useEffect(() => {
    const [odd, usual]: [Do, Do] = empty ? ["remove", "place"] : ["place", "remove"];
    setPlan((old) => (old.do === odd ? { ...old, do: usual } : old));
  }, [empty]);
  const before = useQuery(beforeQuery(job.number, site && tab === "board" ? { site, ...plan } : null));
  const of = designator ?? (tab === "pads" ? (job.mark?.designator ?? "core") : "");
  const surveying = usePads(job.number, of);
  const at = `/jobs/${job.number}/rework`;
  if (reworking.rework.isError)
    return <LoadError problem={reworking.rework.error} again={() => reworking.rework.refetch()} />;
  if (!reworking.rework.data) return <Loading what={t`Loading the work done`} />;
  const data = reworking.rework.data;
  const choose = (next: string) => {
    query.set("site", next);
    setQuery(query, { replace: true });
  };
  const pads = tab === "pads" || !!designator;
  const images = tab === "images" ? [query.get("old"), query.get("against")] : [];
  return (
    <div className="grid min-h-0 flex-1 grid-rows-[36rem_auto] lg:grid-cols-[58%_1fr] lg:grid-rows-1">
      {images[0] && images[1] ? (
        <ImagesCompared old={images[0]} other={images[1]} />
      ) : pads ? (
        <PadMap
          surveying={surveying}
          drawing={model.drawing}
          orientation={orientation}
          setOrientation={setOrientation}
          mayWork={mayWork}
        />
      ) : model.drawing ? (
        <ReworkBoard
          drawing={model.drawing}
          orientation={orientation}
          setOrientation={setOrientation}
          title={t`Board of ${job.label}`}
          rework={data}
          site={site}
          before={before.data}
          choose={choose}
        />
      ) : (
        <UndrawnBoard
          model={model}
          orientation={orientation}
          setOrientation={setOrientation}
          points={named.data?.points ?? []}
          chosen={site}
          pick={(on, at) => {
            const near = nearest(named.data?.points ?? [], on, at);
            if (near) choose(near);
          }}
        />
      )}
      <WorkPanel job={job} step="Rework">
        <TabLinks
          of={t`Rework`}
          tabs={[
            [`${at}${site ? `?site=${encodeURIComponent(site)}` : ""}`, t`Board`],
            [`${at}/pads/${encodeURIComponent(of || site || job.mark?.designator || "core")}`, t`Pads`],
            [`${at}/images`, t`Firmware`],
            [`${at}/curve`, t`Curve`],
            [`${at}/timers`, t`Timers`],
          ]}
        />
        {tab === "board" && !designator && (
          <>
            {!job.left && (
              <ReworkForm
                number={job.number}
                rework={data}
                site={site}
                choose={choose}
                plan={plan}
                setPlan={setPlan}
                before={before.data}
                reworking={reworking}
                mayWork={mayWork}
              />
            )}
            <Traffic serial={job.serial} stamp={data.events.length} />
            <ReworkHistory rework={data} mayWork={mayWork} />
          </>
        )}
        {pads && (
          <Pads
            of={of}
            surveying={surveying}
            choose={(next) => void go(`${at}/pads/${encodeURIComponent(next)}`)}
            mayWork={mayWork}
          />
        )}
        {tab === "images" && <Images job={job} mayWork={mayWork} />}
        {tab === "curve" && <Curves job={job} rework={data} keep={reworking.keepCurve} mayWork={mayWork} />}
        {tab === "timers" && <Timers job={job} mayWork={mayWork} />}
      </WorkPanel>
    </div>
  );
}

/** What was named nearest to a click on a photograph; none where nothing lies near. */
function nearest(points: Ohms["points"], on: Photograph, [x, y]: Point): string | null {
  const away = (entry: Ohms["points"][number]) => Math.hypot((entry.x_px ?? 0) - x, (entry.y_px ?? 0) - y);
  const [first] = points.filter((point) => point.picture === on.sha256).sort((a, b) => away(a) - away(b));
  return first && away(first) < on.width_px / 20 ? first.name : null;
}
