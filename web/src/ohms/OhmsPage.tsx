import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import type { BoardDetail, JobDetail, Ohms } from "../api/client";
import { BesideRoom } from "../beside/BesideRoom";
import { Board, NO_NOTES } from "../board/Board";
import { PhotoBoard } from "../board/PhotoBoard";
import type { Point } from "../board/view";
import { ChipsRoom } from "../chips/ChipsRoom";
import { StepPage } from "../job/StepPage";
import { useLie } from "../job/useLie";
import { WorkPanel } from "../job/WorkPanel";
import { RoomLinks } from "../shared/RoomLinks";
import { Loading, Trouble } from "../shared/states";
import { LayThermal } from "../shorts/LayThermal";
import { OnBoard } from "../shorts/OnBoard";
import { ShortsPanel } from "../shorts/ShortsPanel";
import { type Hunting, useShorts } from "../shorts/useShorts";
import { mayWorkAtBench, useSession } from "../signin/session";
import { SlotRoom } from "../slot/SlotRoom";
import { Gate } from "./Gate";
import { Lock } from "./Lock";
import { OnPhotograph } from "./OnPhotograph";
import { Passes } from "./Passes";
import { Points } from "./Points";
import { Probe } from "./Probe";
import { useOhms } from "./useOhms";

export type ProbePoint = Ohms["points"][number];

/** A job at Ohms: the point to probe ringed on the board, its name large, the value typed as the shop writes it. */
export function OhmsPage() {
  return <StepPage step="Ohms">{(job, model) => <AtOhms job={job} model={model} />}</StepPage>;
}

function AtOhms({ job, model }: { job: JobDetail; model: BoardDetail }) {
  const { room = "probe" } = useParams();
  const go = useNavigate();
  const session = useSession();
  const mayWork = mayWorkAtBench(session.data?.person);
  const measuring = useOhms(job.number);
  const hunting = useShorts(job.number);
  const { lie, lay } = useLie(job, mayWork);
  const [chosen, setChosen] = useState<string | null>(null);
  const ohms = measuring.ohms.data;
  if (measuring.ohms.isError)
    return <Trouble problem={measuring.ohms.error} again={() => measuring.ohms.refetch()} />;
  if (!ohms) return <Loading what="Reading what was measured" />;
  const at = `/jobs/${job.number}/ohms`;
  const head = (
    <>
      <RoomLinks
        of="Ohms"
        rooms={[
          [at, "Probe"],
          [`${at}/shorts`, shortsName(hunting)],
          [`${at}/power`, ohms.blocks.length > 0 ? "Power: locked" : "Power"],
          [`${at}/passes`, "Passes"],
          [`${at}/chips`, "Chips"],
          [`${at}/slot`, "Slot"],
          [`${at}/beside`, "Two cards"],
        ]}
      />
      {(measuring.problem || hunting.problem) && (
        <p role="alert" className="border-l-4 border-suspect pl-3">
          {measuring.problem || hunting.problem} What you entered is kept here.
        </p>
      )}
      <Gate power={ohms.power} off={measuring.powerOff} mayWork={mayWork} />
    </>
  );
  const shared = { job, model, ohms, lie, lay, measuring, mayWork, head };
  if (room === "chips") return <ChipsRoom {...shared} />;
  if (room === "slot") return <SlotRoom {...shared} />;
  if (room === "beside") return <BesideRoom {...shared} />;
  const begun = ohms.sweeps.at(-1)?.at ?? "";
  const skipped = ohms.ticks.filter((one) => one.skipped);
  const read = new Set(
    [...ohms.readings.filter((one) => !one.void), ...skipped]
      .filter((one) => one.at >= begun)
      .map((one) => one.point),
  );
  // the one list says which point comes first; then what an act has made untrue, then the route
  const [planned] = job.mind.next;
  const asked = planned?.do === "read" && planned.step === "ohms" ? planned.target : null;
  const open =
    ohms.route.find((name) => name === asked) ??
    ohms.again[0] ??
    ohms.route.find((name) => !read.has(name)) ??
    null;
  const turn = chosen ?? (model.drawing ? open : null);
  const choose = (name: string | null) => {
    setChosen(name);
    if (room !== "probe" && name) void go(at);
    const side = ohms.points.find((one) => one.name === name?.split("/")[0])?.side;
    if (side && side !== lie.side && model.drawing) lay({ ...lie, side });
  };
  const next = (from: string, by = 1) => {
    const here = ohms.route.indexOf(from);
    const rest =
      by > 0 ? ohms.route.slice(here + 1).filter((name) => !read.has(name)) : [ohms.route[here - 1] ?? from];
    const again = by > 0 ? ohms.again.find((name) => name !== from) : undefined;
    choose(model.drawing ? (again ?? rest[0] ?? null) : null);
  };
  const photograph = model.photographs.find((one) => one.side === "front") ?? model.photographs[0];
  const click = async ([x, y]: Point) => {
    if (!photograph) return;
    const name = freeName(ohms.points);
    if (await measuring.click(name, photograph.side, photograph.sha256, Math.round(x), Math.round(y)))
      setChosen(name);
  };
  const atShorts = room === "shorts";
  const suspects = hunting.shorts.data?.suspects ?? ohms.suspects;
  // one set of pennants at a time: those by the warm spot once there is one
  const pennants = room === "probe" || (atShorts && !hunting.shorts.data?.near.length);
  return (
    <div className="grid min-h-0 flex-1 grid-rows-[32rem_auto] lg:grid-cols-[58%_1fr] lg:grid-rows-1">
      {hunting.laying ? (
        <LayThermal hunting={hunting} />
      ) : model.drawing ? (
        <Board
          drawing={model.drawing}
          lie={lie}
          setLie={lay}
          notes={NO_NOTES}
          fit="board"
          title={`Board of ${job.label}`}
          over={(view) => (
            <>
              {atShorts && hunting.shorts.data && model.drawing && (
                <OnBoard shorts={hunting.shorts.data} drawing={model.drawing} view={view} hunting={hunting} />
              )}
              <Points
                ohms={{ ...ohms, suspects: pennants ? suspects : [] }}
                view={view}
                chosen={room === "probe" ? turn : null}
                choose={choose}
                {...(room === "power" && {
                  numbered: [...ohms.inputs, ...ohms.fuses].map((one) => one.point),
                })}
              />
            </>
          )}
          {...(atShorts && hunting.glowOf && mayWork
            ? { pick: (point: Point) => void hunting.glow(lie.side, point) }
            : {})}
        />
      ) : photograph ? (
        <PhotoBoard
          picture={photograph}
          title={`Photograph of the ${photograph.side} of ${model.name}`}
          {...(mayWork ? { pick: (point: Point) => void click(point) } : {})}
        >
          <OnPhotograph
            ohms={ohms}
            sha256={photograph.sha256}
            chosen={chosen}
            size={photograph.width_px / 60}
          />
        </PhotoBoard>
      ) : (
        <p className="grid place-items-center bg-tray p-8 text-center">
          This board is not drawn yet and has no photograph. Take one at Memory: it serves as the board.
        </p>
      )}
      <WorkPanel job={job} step="Ohms">
        {head}
        {room === "probe" && (
          <Probe
            job={job}
            ohms={ohms}
            drawn={!!model.drawing}
            turn={turn}
            choose={choose}
            next={next}
            measuring={measuring}
            hunting={hunting}
            mayWork={mayWork}
          />
        )}
        {atShorts && (
          <ShortsPanel
            job={job}
            hunting={hunting}
            choose={choose}
            lie={lie}
            readings={ohms.readings.length + ohms.earlier}
            mayWork={mayWork}
          />
        )}
        {room === "power" && <Lock ohms={ohms} measuring={measuring} choose={choose} mayWork={mayWork} />}
        {room === "passes" && (
          <Passes ohms={ohms} begin={measuring.sweep} choose={choose} mayWork={mayWork} />
        )}
      </WorkPanel>
    </div>
  );
}

function shortsName(hunting: Hunting): string {
  const many = hunting.shorts.data?.shorted.length ?? 0;
  return many > 0 ? `Shorts: ${many}` : "Shorts";
}

/** P1, P2 … the first that is free. */
function freeName(points: ProbePoint[]): string {
  const known = new Set(points.map((one) => one.name));
  let number = 1;
  while (known.has(`P${number}`)) number += 1;
  return `P${number}`;
}
