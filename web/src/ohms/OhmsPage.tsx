import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import type { BoardDetail, JobDetail, Ohms } from "../api/client";
import { BesideTab } from "../beside/BesideTab";
import { Board, NO_NOTES } from "../board/Board";
import { type Photograph, UndrawnBoard } from "../board/UndrawnBoard";
import type { Point } from "../board/view";
import { ChipsTab } from "../chips/ChipsTab";
import { StepPage } from "../job/StepPage";
import { useOrientation } from "../job/useOrientation";
import { WorkPanel } from "../job/WorkPanel";
import { LoadError, Loading } from "../shared/states";
import { TabLinks } from "../shared/TabLinks";
import { useFromAddress } from "../shared/useFromAddress";
import { OnBoard } from "../shorts/OnBoard";
import { ShortsPanel } from "../shorts/ShortsPanel";
import { ThermalOverlay } from "../shorts/ThermalOverlay";
import { type Hunting, useShorts } from "../shorts/useShorts";
import { useMayWork } from "../signin/session";
import { SlotTab } from "../slot/SlotTab";
import { Gate } from "./Gate";
import { Lock } from "./Lock";
import { NameSpot } from "./NameSpot";
import { Passes } from "./Passes";
import { Planned } from "./Planned";
import { Points } from "./Points";
import { Probe, pointOf } from "./Probe";
import { useOhms } from "./useOhms";

export type ProbePoint = Ohms["points"][number];

/** A job at Ohms: the point to probe ringed on the board, its name large, the value typed as the shop writes it. */
export function OhmsPage() {
  return <StepPage step="Ohms">{(job, model) => <AtOhms job={job} model={model} />}</StepPage>;
}

function AtOhms({ job, model }: { job: JobDetail; model: BoardDetail }) {
  const { tab = "probe" } = useParams();
  const go = useNavigate();
  const mayWork = useMayWork(job);
  const measuring = useOhms(job.number);
  const hunting = useShorts(job.number);
  const { orientation, setOrientation } = useOrientation(job, mayWork);
  const [chosen, setChosen] = useFromAddress("point");
  const [spot, setSpot] = useState<{ on: Photograph; at: Point } | null>(null);
  const [naming, setNaming] = useState(false);
  const ohms = measuring.ohms.data;
  if (measuring.ohms.isError)
    return <LoadError problem={measuring.ohms.error} again={() => measuring.ohms.refetch()} />;
  if (!ohms) return <Loading what={t`Loading the readings`} />;
  const at = `/jobs/${job.number}/ohms`;
  const head = (
    <>
      <TabLinks
        of={t`Ohms`}
        tabs={[
          [at, t`Probe`],
          [`${at}/shorts`, shortsName(hunting)],
          [`${at}/power`, ohms.blocks.length > 0 && !job.left ? t`Power: locked` : t`Power`],
          [`${at}/passes`, t`Passes`],
          [`${at}/chips`, t`Chips`],
          [`${at}/slot`, t`Slot`],
          [`${at}/beside`, t`Two cards`],
        ]}
      />
      {(measuring.problem || hunting.problem) && (
        <p role="alert" className="border-l-4 border-suspect pl-3">
          <Trans>{measuring.problem || hunting.problem} What you entered is kept here.</Trans>
        </p>
      )}
      {!job.left && <Gate power={ohms.power} off={measuring.powerOff} mayWork={mayWork} />}
    </>
  );
  const shared = { job, model, ohms, orientation, setOrientation, measuring, mayWork, head };
  if (tab === "chips") return <ChipsTab {...shared} />;
  if (tab === "slot") return <SlotTab {...shared} />;
  if (tab === "beside") return <BesideTab {...shared} />;
  const begun = ohms.sweeps.at(-1)?.at ?? "";
  const skipped = ohms.ticks.filter((tick) => tick.skipped);
  const read = new Set(
    [...ohms.readings.filter((reading) => !reading.void), ...skipped]
      .filter((reading) => reading.at >= begun)
      .map((reading) => reading.point),
  );
  // the one list says which point comes first; then what an act has made untrue, then the route
  const [planned] = job.mind.next;
  const asked = planned?.do === "read" && planned.step === "ohms" ? planned.target : null;
  const open =
    (asked && pointOf(ohms, asked) ? asked : null) ??
    ohms.again[0] ??
    ohms.route.find((name) => !read.has(name)) ??
    null;
  const turn = chosen || open;
  const choose = (name: string | null) => {
    setChosen(name ?? "");
    if (tab !== "probe" && name) void go(at);
    const side = ohms.points.find((point) => point.name === name?.split("/")[0])?.side;
    if (side && side !== orientation.side && model.drawing) setOrientation({ ...orientation, side });
  };
  const next = (from: string, by = 1) => {
    const here = ohms.route.indexOf(from);
    // a side of a fuse, a pair: what comes after it is the one list's
    if (here < 0 && by > 0) return choose(null);
    const rest =
      by > 0 ? ohms.route.slice(here + 1).filter((name) => !read.has(name)) : [ohms.route[here - 1] ?? from];
    const again = by > 0 ? ohms.again.find((name) => name !== from) : undefined;
    choose(again ?? rest[0] ?? null);
  };
  const atShorts = tab === "shorts";
  // nobody has drawn it: a click says where the supply in turn is found, else what was clicked is asked for
  const unmarked = ohms.points.find((point) => point.name === turn && point.picture === null);
  const plannedNode = ohms.plan.find((entry) => entry.id === turn);
  const click = async (on: Photograph, at: Point) => {
    const { photo_mm } = hunting.shorts.data ?? {};
    if (atShorts && hunting.glowOf && photo_mm) {
      const scale = photo_mm / on.width_px;
      await hunting.glow(on.side, [at[0] * scale, at[1] * scale]);
      setSpot({ on, at });
    } else if (tab === "probe" && unmarked && plannedNode && !naming) {
      await measuring.click({ name: plannedNode.id, node: plannedNode.id }, on.side, on.sha256, at);
    } else setSpot({ on, at });
  };
  const suspects = hunting.shorts.data?.suspects ?? ohms.suspects;
  // one set of pennants at a time: those by the warm spot once there is one
  const pennants = tab === "probe" || (atShorts && !hunting.shorts.data?.near.length);
  return (
    <div className="grid min-h-0 flex-1 grid-rows-[32rem_auto] lg:grid-cols-[58%_1fr] lg:grid-rows-1">
      {hunting.laying ? (
        <ThermalOverlay hunting={hunting} />
      ) : model.drawing ? (
        <Board
          drawing={model.drawing}
          orientation={orientation}
          setOrientation={setOrientation}
          notes={NO_NOTES}
          fit="board"
          title={t`Board of ${job.label}`}
          over={(view) => (
            <>
              {atShorts && hunting.shorts.data && model.drawing && (
                <OnBoard shorts={hunting.shorts.data} drawing={model.drawing} view={view} hunting={hunting} />
              )}
              <Points
                ohms={{ ...ohms, suspects: pennants ? suspects : [] }}
                view={view}
                chosen={tab === "probe" ? turn : null}
                choose={choose}
                {...(tab === "power" && {
                  numbered: [...ohms.inputs, ...ohms.fuses].map((input) => input.point),
                })}
              />
            </>
          )}
          {...(atShorts && hunting.glowOf && mayWork
            ? { pick: (point: Point) => void hunting.glow(orientation.side, point) }
            : {})}
        />
      ) : (
        <UndrawnBoard
          model={model}
          orientation={orientation}
          setOrientation={setOrientation}
          points={ohms.points}
          chosen={tab === "probe" ? turn : null}
          {...(mayWork ? { pick: (on: Photograph, at: Point) => void click(on, at) } : {})}
          over={(on) => (
            <>
              {atShorts && <Warm hunting={hunting} on={on} />}
              {spot?.on.sha256 === on.sha256 && (
                <circle
                  cx={spot.at[0]}
                  cy={spot.at[1]}
                  r={on.width_px / 50}
                  className="fill-none stroke-lit-next"
                  strokeWidth={on.width_px / 300}
                />
              )}
            </>
          )}
        />
      )}
      <WorkPanel job={job} step="Ohms">
        {head}
        {spot && (
          <NameSpot
            ohms={ohms}
            kind={atShorts ? "part" : "pad"}
            keep={async (named) => {
              if (!(await measuring.click(named, spot.on.side, spot.on.sha256, spot.at))) return false;
              setSpot(null);
              setNaming(false);
              if (named.kind === "pad" || named.kind === "plug") choose(named.name);
              return true;
            }}
            forget={() => {
              setSpot(null);
              setNaming(false);
            }}
          />
        )}
        {tab === "probe" && plannedNode && <Planned node={plannedNode} />}
        {tab === "probe" && !model.drawing && mayWork && model.photographs.length > 0 && !spot && (
          <p className="text-soft" data-testid="naming">
            {unmarked && plannedNode && !naming
              ? t`Click on the photograph where ${plannedNode.name} is found: the next card of this model knows.`
              : t`Click on the photograph at a fuse, coil, part or point to name it.`}{" "}
            {unmarked && plannedNode && (
              <button type="button" className="button-plain" onClick={() => setNaming(!naming)}>
                {naming ? t`Say where ${plannedNode.name} is` : t`Name something else`}
              </button>
            )}
          </p>
        )}
        {tab === "probe" && (
          <Probe
            job={job}
            ohms={ohms}
            drawn={!!model.drawing}
            turn={turn}
            choose={choose}
            stay={setChosen}
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
            orientation={orientation}
            readings={ohms.readings.length + ohms.earlier}
            mayWork={mayWork}
          />
        )}
        {tab === "power" && (
          <Lock ohms={ohms} measuring={measuring} choose={choose} here={!job.left} mayWork={mayWork} />
        )}
        {tab === "passes" && <Passes ohms={ohms} begin={measuring.sweep} choose={choose} mayWork={mayWork} />}
      </WorkPanel>
    </div>
  );
}

function shortsName(hunting: Hunting): string {
  const many = hunting.shorts.data?.shorted.length ?? 0;
  return many > 0 ? t`Shorts: ${many}` : t`Shorts`;
}

/** Where it warmed last, on the photograph. */
function Warm({ hunting, on }: { hunting: Hunting; on: Photograph }) {
  const shorts = hunting.shorts.data;
  const glow = shorts?.injections.at(-1)?.glows.at(-1);
  if (!shorts?.photo_mm || !glow || glow.side !== on.side) return null;
  const scale = on.width_px / shorts.photo_mm;
  return (
    <circle
      cx={glow.x_mm * scale}
      cy={glow.y_mm * scale}
      r={on.width_px / 40}
      className="fill-lit/40 stroke-lit"
      strokeWidth={on.width_px / 400}
      data-testid="warm"
    />
  );
}
