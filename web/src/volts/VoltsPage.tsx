import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import type { BoardDetail, JobDetail } from "../api/client";
import { Board, NO_NOTES } from "../board/Board";
import { type Photograph, UndrawnBoard } from "../board/UndrawnBoard";
import { type Point, placed } from "../board/view";
import { StepPage } from "../job/StepPage";
import { useOrientation } from "../job/useOrientation";
import { WorkPanel } from "../job/WorkPanel";
import { useOhms } from "../ohms/useOhms";
import { LoadError, Loading } from "../shared/states";
import { TabLinks } from "../shared/TabLinks";
import { useFromAddress } from "../shared/useFromAddress";
import { useMayWork } from "../signin/session";
import { StartupMap } from "../startup/StartupMap";
import { BothSides } from "./BothSides";
import { ConverterTab, useConverter } from "./ConverterTab";
import { Ladder } from "./Ladder";
import { MapPanel } from "./MapPanel";
import { Phases } from "./Phases";
import { Power } from "./Power";
import { SensePaths } from "./SensePaths";
import { type Node, useVolts } from "./useVolts";

/** A job at Volts: the start-up map over the board, the next probe ringed on both. */
export function VoltsPage() {
  return <StepPage step="Volts">{(job, model) => <AtVolts job={job} model={model} />}</StepPage>;
}

function AtVolts({ job, model }: { job: JobDetail; model: BoardDetail }) {
  const { tab = "map" } = useParams();
  const mayWork = useMayWork(job);
  const powering = useVolts(job.number);
  const { orientation, setOrientation } = useOrientation(job, mayWork);
  const measuring = useOhms(job.number);
  const named = measuring.ohms;
  const [query] = useSearchParams();
  const [chosen, setChosen] = useFromAddress("probe");
  // a point off the map at which somebody is entering a value
  const [offMap, setOffMap] = useState("");
  const go = useNavigate();
  const volts = powering.volts.data;
  // without one named, the converter of the first rail that is missing
  const missing = volts?.nodes.find(
    (entry) => entry.state === "missing" && volts.converters.includes(entry.id),
  )?.id;
  const converter = tab === "converter" ? (query.get("node") ?? missing ?? null) : null;
  const page = useConverter(job.number, converter);
  if (powering.volts.isError)
    return <LoadError problem={powering.volts.error} again={() => powering.volts.refetch()} />;
  if (!volts) return <Loading what={t`Reading the start-up map`} />;
  // the one list says which probe comes first; then what tells most
  const [first] = job.mind.next;
  const planned =
    first?.do === "read" && first.step === "volts"
      ? volts.nodes.find((entry) => entry.point === first.target || entry.id === first.target)?.id
      : undefined;
  const turn =
    (chosen || planned) ?? volts.next.find((entry) => entry.point)?.node ?? volts.next[0]?.node ?? null;
  const asked = first?.do === "read" && first.step === "volts" && !planned ? first.target : "";
  const onMap = (name: string) => volts.nodes.find((entry) => entry.id === name);
  const beside = chosen ? "" : offMap || asked;
  const node = beside ? besideMap(beside) : onMap(turn ?? "");
  const stay = (name: string) => (onMap(name) ? setChosen(name) : setOffMap(name));
  const choose = (next: string | null) => {
    setChosen(next ?? "");
    setOffMap("");
    const side = volts.nodes.find((entry) => entry.id === next)?.side;
    if (model.drawing && (side === "front" || side === "back") && side !== orientation.side)
      setOrientation({ ...orientation, side });
  };
  const at = `/jobs/${job.number}/volts`;
  return (
    <div className="grid min-h-0 flex-1 grid-rows-[36rem_auto] lg:grid-cols-[58%_1fr] lg:grid-rows-1">
      <div className={`grid min-h-0 ${page.data ? "" : "grid-rows-[55%_45%]"}`}>
        {!page.data && (
          <section
            aria-label={t`Start-up map`}
            className="min-h-0 overflow-auto border-rule border-b bg-tray p-2"
          >
            {volts.nodes.length > 0 ? (
              <StartupMap map={volts} suspects={volts.suspects} turn={turn} choose={choose} />
            ) : (
              <p className="p-8 text-center text-soft">
                <Trans>
                  This model has neither a start-up map nor rails yet; the editor adds rails, a relative lends
                  a map.
                </Trans>
              </p>
            )}
          </section>
        )}
        {model.drawing && page.data && (
          <BothSides drawing={model.drawing} turns={orientation.turns} page={page.data} label={job.label} />
        )}
        {!model.drawing && !page.data && (
          <UndrawnBoard
            model={model}
            orientation={orientation}
            setOrientation={setOrientation}
            points={named.data?.points ?? []}
            chosen={node?.id ?? null}
            {...(mayWork && node
              ? {
                  pick: (on: Photograph, at: Point) =>
                    void measuring.click({ name: node.id, node: node.id }, on.side, on.sha256, at),
                }
              : {})}
          />
        )}
        {model.drawing && !page.data && (
          <Board
            drawing={model.drawing}
            orientation={orientation}
            setOrientation={setOrientation}
            notes={NO_NOTES}
            fit="board"
            title={t`Board of ${job.label}`}
            over={(view) => {
              const spot = model.drawing?.points.find((point) => point.id === node?.point);
              if (!spot) return null;
              const [x, y] = placed(view, spot.at);
              const behind = spot.side !== view.side;
              return (
                <g transform={`translate(${x} ${y})`} data-testid="probe-here">
                  <circle r={3} className="fill-chip/60 stroke-silk" strokeWidth={0.4} />
                  <circle
                    r={6}
                    className="fill-none stroke-lit-next"
                    strokeWidth={1.6}
                    strokeDasharray={behind ? "2.4 1.6" : undefined}
                  />
                  <text y={-8} fontSize={5} textAnchor="middle" className="fill-silk font-bold font-mono">
                    {spot.id}
                    {behind && t` behind`}
                  </text>
                </g>
              );
            }}
          />
        )}
      </div>
      <WorkPanel job={job} step="Volts">
        <TabLinks
          of={t`Volts`}
          tabs={[
            [at, t`Map`],
            [`${at}/power`, t`Power`],
            [
              `${at}/converter${node && volts.converters.includes(node.id) ? `?node=${node.id}` : ""}`,
              t`Converter`,
            ],
            [`${at}/supervisor`, t`Supervisor`],
            [`${at}/phases`, t`Phases`],
            [`${at}/ladder`, t`Ladder`],
          ]}
        />
        {powering.problem && (
          <p role="alert" className="border-suspect border-l-4 pl-3">
            <Trans>{powering.problem} What you entered is kept here.</Trans>
          </p>
        )}
        {tab === "map" && (
          <MapPanel
            job={job}
            volts={volts}
            node={node}
            powering={powering}
            choose={choose}
            stay={stay}
            mayWork={mayWork}
          />
        )}
        {tab === "power" && <Power volts={volts} powering={powering} here={!job.left} mayWork={mayWork} />}
        {tab === "converter" && (
          <ConverterTab
            job={job}
            volts={volts}
            node={converter}
            page={page}
            probe={(name) => {
              choose(name);
              void go(`${at}?probe=${encodeURIComponent(name)}`);
            }}
            choose={(name) => void go(`${at}/converter?node=${encodeURIComponent(name)}`, { replace: true })}
          />
        )}
        {tab === "supervisor" && <SensePaths volts={volts} powering={powering} mayWork={mayWork} />}
        {tab === "phases" && <Phases volts={volts} powering={powering} mayWork={mayWork} />}
        {tab === "ladder" && <Ladder volts={volts} powering={powering} mayWork={mayWork} />}
      </WorkPanel>
    </div>
  );
}

/** A point that the map does not have, such as the enable of a converter: it is read in volts, against no band. */
function besideMap(name: string): Node {
  return {
    id: name,
    name: "",
    kind: "signal",
    needs: [],
    low: 0,
    high: 0,
    unit: "V",
    quantity: "voltage",
    point: name,
    parts: [],
  } as unknown as Node;
}
