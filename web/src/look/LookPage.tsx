import { useState } from "react";
import type { BoardDetail, JobDetail, JobPhotograph, Look, Owed } from "../api/client";
import { PhotoBoard } from "../board/PhotoBoard";
import type { Point } from "../board/view";
import { useOwed } from "../job/Owed";
import { StepPage } from "../job/StepPage";
import { useLie } from "../job/useLie";
import { Loading, Trouble } from "../shared/states";
import { mayWorkAtBench, useSession } from "../signin/session";
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
  const session = useSession();
  const mayWork = mayWorkAtBench(session.data?.person);
  const looking = useLook(job.number);
  const owed = useOwed(job.number);
  const { lie, lay } = useLie(job, mayWork);
  const [current, setCurrent] = useState<string | null>(null);
  const [spot, setSpot] = useState<Spot | null>(null);
  const [laid, setLaid] = useState<JobPhotograph | null>(null);
  const [skew, setSkew] = useState<JobPhotograph | null>(null);
  const look = looking.look.data;
  if (looking.look.isError)
    return <Trouble problem={looking.look.error} again={() => looking.look.refetch()} />;
  if (!look) return <Loading what="Reading what was seen" />;
  const region =
    look.regions.find((one) => one.id === current) ?? look.regions.find((one) => one.state === "open");
  const pick = mayWork
    ? ([x, y]: Point) => setSpot({ side: lie.side, x_mm: rounded(x), y_mm: rounded(y) })
    : undefined;
  const turnTo = (id: string | null) => {
    setCurrent(id);
    const side = look.regions.find((one) => one.id === id)?.side;
    if (side && side !== lie.side) lay({ ...lie, side });
  };
  return (
    <div className="grid min-h-0 flex-1 grid-rows-[32rem_auto] lg:grid-cols-[58%_1fr] lg:grid-rows-1">
      {skew ? (
        <Straighten key={skew.id} photograph={skew} looking={looking} close={() => setSkew(null)} />
      ) : laid ? (
        <Overlaid
          key={laid.id}
          photograph={laid}
          reference={look.references.find((one) => one.side === laid.side)}
          looking={looking}
          close={() => setLaid(null)}
          mayWork={mayWork}
        />
      ) : model.drawing ? (
        <LookBoard
          drawing={model.drawing}
          lie={lie}
          setLie={lay}
          title={`Board of ${job.label}`}
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
        layOver={(one) => {
          setSkew(null);
          setLaid(one);
        }}
        straighten={setSkew}
        laid={laid}
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
  spot: Spot | null;
  setSpot: ((spot: Spot) => void) | undefined;
}

/** Where nobody has drawn the board: findings are placed on its photograph, and move over once it is drawn. */
function OnPhotograph({ owed, look, model, spot, setSpot }: OnPhotographProps) {
  const picture = model.photographs.find((one) => one.side === "front") ?? model.photographs[0];
  if (!picture)
    return (
      <p className="grid place-items-center bg-tray p-8 text-center">
        This board is not drawn yet and has no photograph. Take one at Memory: it serves as the board.
      </p>
    );
  const own = look.findings.filter((one) => one.picture === picture.sha256);
  const size = picture.width_px / 60;
  return (
    <PhotoBoard
      picture={picture}
      title={`Photograph of the ${picture.side} of ${model.name}`}
      {...(setSpot
        ? {
            pick: ([x, y]: Point) =>
              setSpot({
                side: picture.side,
                picture: picture.sha256,
                x_px: Math.round(x),
                y_px: Math.round(y),
              }),
          }
        : {})}
    >
      {own.map((one, number) => (
        <g key={one.id} transform={`translate(${one.x_px} ${one.y_px})`}>
          <circle r={size} className="fill-none stroke-lit" strokeWidth={size / 4} />
          <text
            y={-size * 1.3}
            fontSize={size * 1.6}
            textAnchor="middle"
            className="fill-lit font-mono font-bold"
          >
            {number + 1}
          </text>
        </g>
      ))}
      {owed.map((one) =>
        one.place?.picture === picture.sha256 ? (
          <text
            key={one.key}
            x={one.place.x_px ?? 0}
            y={one.place.y_px ?? 0}
            fontSize={size}
            className="fill-silk stroke-chip"
            strokeWidth={size / 12}
            paintOrder="stroke"
          >
            {one.words}
          </text>
        ) : null,
      )}
      {spot?.x_px !== undefined && spot.y_px !== undefined && (
        <circle
          cx={spot.x_px}
          cy={spot.y_px}
          r={size}
          className="fill-none stroke-silk"
          strokeWidth={size / 3}
        />
      )}
    </PhotoBoard>
  );
}
