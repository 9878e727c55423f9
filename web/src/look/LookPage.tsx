import { t } from "@lingui/core/macro";
import { useState } from "react";
import type {
  BoardDetail,
  JobDetail,
  JobPhotograph,
  Look,
  LookRegion,
  Orientation,
  Owed,
} from "../api/client";
import { type Photograph, UndrawnBoard } from "../board/UndrawnBoard";
import type { Point } from "../board/view";
import { useOwed } from "../job/Owed";
import { StepPage } from "../job/StepPage";
import { useOrientation } from "../job/useOrientation";
import { LoadError, Loading } from "../shared/states";
import { useMayWork } from "../signin/session";
import { LookBoard } from "./LookBoard";
import { LookPanel } from "./LookPanel";
import { Overlaid } from "./Overlaid";
import { Straighten } from "./Straighten";
import { type Spot, useLook } from "./useLook";

/** A job at Look: the board lit region by region, what was seen on it, photographs laid over the model's own. */
export function LookPage() {
  return <StepPage step="Look">{(job, model) => <AtLook job={job} model={model} />}</StepPage>;
}

function AtLook({ job, model }: { job: JobDetail; model: BoardDetail }) {
  const mayWork = useMayWork(job);
  const looking = useLook(job.number);
  const owed = useOwed(job.number);
  const { orientation, setOrientation } = useOrientation(job, mayWork);
  const [current, setCurrent] = useState<string | null>(null);
  const [spot, setSpot] = useState<Spot | null>(null);
  const [overlaid, setOverlaid] = useState<JobPhotograph | null>(null);
  const [skew, setSkew] = useState<JobPhotograph | null>(null);
  const look = looking.look.data;
  if (looking.look.isError)
    return <LoadError problem={looking.look.error} again={() => looking.look.refetch()} />;
  if (!look) return <Loading what={t`Loading what was seen`} />;
  const region =
    look.regions.find((entry) => entry.id === current) ??
    look.regions.find((entry) => entry.state === "open");
  const pick = mayWork
    ? ([x, y]: Point) => setSpot({ side: orientation.side, x_mm: rounded(x), y_mm: rounded(y) })
    : undefined;
  const turnTo = (id: string | null) => {
    setCurrent(id);
    const side = look.regions.find((entry) => entry.id === id)?.side;
    if (side && side !== orientation.side) setOrientation({ ...orientation, side });
  };
  return (
    <div className="grid min-h-0 flex-1 grid-rows-[32rem_auto] lg:grid-cols-[58%_1fr] lg:grid-rows-1">
      {skew ? (
        <Straighten key={skew.id} photograph={skew} looking={looking} close={() => setSkew(null)} />
      ) : overlaid ? (
        <Overlaid
          key={overlaid.id}
          photograph={overlaid}
          reference={look.references.find((reference) => reference.side === overlaid.side)}
          looking={looking}
          close={() => setOverlaid(null)}
          mayWork={mayWork}
        />
      ) : model.drawing ? (
        <LookBoard
          drawing={model.drawing}
          orientation={orientation}
          setOrientation={setOrientation}
          title={t`Board of ${job.label}`}
          look={look}
          owed={owed.data ?? []}
          region={region}
          spot={spot}
          pick={pick}
        />
      ) : (
        <OnPhotograph
          owed={owed.data ?? []}
          look={look}
          model={model}
          orientation={orientation}
          setOrientation={setOrientation}
          region={region}
          spot={spot}
          setSpot={mayWork ? setSpot : undefined}
        />
      )}
      <LookPanel
        job={job}
        look={look}
        looking={looking}
        region={region}
        turnTo={turnTo}
        spot={spot}
        setSpot={setSpot}
        overlay={(entry) => {
          setSkew(null);
          setOverlaid(entry);
        }}
        straighten={setSkew}
        overlaid={overlaid}
        mayWork={mayWork}
      />
    </div>
  );
}

function rounded(value: number): number {
  return Math.round(value * 100) / 100;
}

interface OnPhotographProps {
  owed: Owed[];
  look: Look;
  model: BoardDetail;
  orientation: Orientation;
  setOrientation: (orientation: Orientation) => void;
  region: LookRegion | undefined;
  spot: Spot | null;
  setSpot: ((spot: Spot) => void) | undefined;
}

/** Where nobody has drawn the board: a grid over its photographs; findings move over once it is drawn. */
function OnPhotograph({
  owed,
  look,
  model,
  orientation,
  setOrientation,
  region,
  spot,
  setSpot,
}: OnPhotographProps) {
  const over = (picture: Photograph) => {
    const size = picture.width_px / 60;
    return (
      <>
        {region && region.side === picture.side && <LitPart look={look} region={region} picture={picture} />}
        {look.findings
          .filter((finding) => finding.picture === picture.sha256)
          .map((finding, number) => (
            <g key={finding.id} transform={`translate(${finding.x_px} ${finding.y_px})`}>
              <circle r={size} className="fill-none stroke-lit" strokeWidth={size / 4} />
              <text
                y={-size * 1.3}
                fontSize={size * 1.6}
                textAnchor="middle"
                className="fill-lit font-bold font-mono"
              >
                {number + 1}
              </text>
            </g>
          ))}
        {owed.map((debt) =>
          debt.place?.picture === picture.sha256 ? (
            <text
              key={debt.key}
              x={debt.place.x_px ?? 0}
              y={debt.place.y_px ?? 0}
              fontSize={size}
              className="fill-silk stroke-chip"
              strokeWidth={size / 12}
              paintOrder="stroke"
            >
              {debt.words}
            </text>
          ) : null,
        )}
        {spot?.picture === picture.sha256 && spot.x_px !== undefined && spot.y_px !== undefined && (
          <circle
            cx={spot.x_px}
            cy={spot.y_px}
            r={size}
            className="fill-none stroke-silk"
            strokeWidth={size / 3}
          />
        )}
      </>
    );
  };
  const pick = (picture: Photograph, [x, y]: Point) =>
    setSpot?.({ side: picture.side, picture: picture.sha256, x_px: Math.round(x), y_px: Math.round(y) });
  return (
    <UndrawnBoard
      model={model}
      orientation={orientation}
      setOrientation={setOrientation}
      points={[]}
      chosen={null}
      over={over}
      {...(setSpot ? { pick } : {})}
    />
  );
}

/** The part of a photograph in turn stays light, the rest of it steps back. */
function LitPart({ look, region, picture }: { look: Look; region: LookRegion; picture: Photograph }) {
  const own = look.regions.filter((entry) => entry.side === region.side);
  const scale = picture.width_px / Math.max(...own.map((entry) => entry.x_mm + entry.width_mm));
  const [x, y, width, height] = [region.x_mm, region.y_mm, region.width_mm, region.height_mm].map(
    (each) => each * scale,
  ) as [number, number, number, number];
  const whole = `M0 0H${picture.width_px}V${picture.height_px}H0Z`;
  return (
    <g pointerEvents="none" data-region={region.id}>
      <path
        d={`${whole}M${x} ${y}h${width}v${height}h${-width}Z`}
        fillRule="evenodd"
        className="fill-chip/50"
      />
      <rect
        x={x}
        y={y}
        width={width}
        height={height}
        className="fill-none stroke-lit-next"
        strokeWidth={picture.width_px / 300}
      />
    </g>
  );
}
