import { type FormEvent, useEffect, useRef, useState } from "react";
import { Link, useParams } from "react-router";
import type { BoardDetail, JobDetail, Volts } from "../api/client";
import { Board, NO_NOTES } from "../board/Board";
import { placed } from "../board/view";
import { StepPage } from "../job/StepPage";
import { useLie } from "../job/useLie";
import { WorkPanel } from "../job/WorkPanel";
import { Mark } from "../ohms/Mark";
import { RoomLinks } from "../shared/RoomLinks";
import { Loading, Trouble } from "../shared/states";
import { mayWorkAtBench, useSession } from "../signin/session";
import { StartupMap } from "../startup/StartupMap";
import { Ladder } from "./Ladder";
import { Phases } from "./Phases";
import { Power } from "./Power";
import { SensePaths } from "./SensePaths";
import { type Node, type Powering, useVolts } from "./useVolts";

/** A job at Volts: the start-up map over the board, the next probe ringed on both. */
export function VoltsPage() {
  return <StepPage step="Volts">{(job, model) => <AtVolts job={job} model={model} />}</StepPage>;
}

function AtVolts({ job, model }: { job: JobDetail; model: BoardDetail }) {
  const { room = "map" } = useParams();
  const session = useSession();
  const mayWork = mayWorkAtBench(session.data?.person);
  const powering = useVolts(job.number);
  const { lie, lay } = useLie(job, mayWork);
  const [chosen, setChosen] = useState<string | null>(null);
  const volts = powering.volts.data;
  if (powering.volts.isError)
    return <Trouble problem={powering.volts.error} again={() => powering.volts.refetch()} />;
  if (!volts) return <Loading what="Reading the start-up map" />;
  const turn = chosen ?? volts.next.find((one) => one.point)?.node ?? volts.next[0]?.node ?? null;
  const node = volts.nodes.find((one) => one.id === turn);
  const choose = (next: string | null) => {
    setChosen(next);
    const side = volts.nodes.find((one) => one.id === next)?.side;
    if (model.drawing && (side === "front" || side === "back") && side !== lie.side) lay({ ...lie, side });
  };
  const at = `/jobs/${job.number}/volts`;
  return (
    <div className="grid min-h-0 flex-1 grid-rows-[36rem_auto] lg:grid-cols-[58%_1fr] lg:grid-rows-1">
      <div className="grid min-h-0 grid-rows-[55%_45%]">
        <section aria-label="Start-up map" className="min-h-0 overflow-auto border-rule border-b bg-tray p-2">
          {volts.nodes.length > 0 ? (
            <StartupMap map={volts} suspects={volts.suspects} turn={turn} choose={choose} />
          ) : (
            <p className="p-8 text-center text-soft">
              This model has neither a start-up map nor rails yet; the editor adds rails, a relative lends a
              map.
            </p>
          )}
        </section>
        {model.drawing && (
          <Board
            drawing={model.drawing}
            lie={lie}
            setLie={lay}
            notes={NO_NOTES}
            fit="board"
            title={`Board of ${job.label}`}
            over={(view) => {
              const spot = model.drawing?.points.find((one) => one.id === node?.point);
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
                    {behind && " behind"}
                  </text>
                </g>
              );
            }}
          />
        )}
      </div>
      <WorkPanel job={job} step="Volts">
        <RoomLinks
          of="Volts"
          rooms={[
            [at, "Map"],
            [`${at}/power`, "Power"],
            [`${at}/supervisor`, "Supervisor"],
            [`${at}/phases`, "Phases"],
            [`${at}/ladder`, "Ladder"],
          ]}
        />
        {powering.problem && (
          <p role="alert" className="border-suspect border-l-4 pl-3">
            {powering.problem} What you entered is kept here.
          </p>
        )}
        {room === "map" && (
          <MapPanel
            slug={job.board_model}
            volts={volts}
            node={node}
            powering={powering}
            choose={choose}
            mayWork={mayWork}
          />
        )}
        {room === "power" && <Power volts={volts} powering={powering} mayWork={mayWork} />}
        {room === "supervisor" && <SensePaths volts={volts} powering={powering} mayWork={mayWork} />}
        {room === "phases" && <Phases volts={volts} powering={powering} mayWork={mayWork} />}
        {room === "ladder" && <Ladder volts={volts} powering={powering} mayWork={mayWork} />}
      </WorkPanel>
    </div>
  );
}

interface MapPanelProps {
  slug: string;
  volts: Volts;
  node: Node | undefined;
  powering: Powering;
  choose: (node: string | null) => void;
  mayWork: boolean;
}

function MapPanel({ slug, volts, node, powering, choose, mayWork }: MapPanelProps) {
  const on = volts.power && volts.power.state !== "off";
  const probe = volts.next.find((one) => one.node === node?.id);
  const { said } = powering;
  return (
    <>
      {!on && <Power volts={volts} powering={powering} mayWork={mayWork} />}
      {volts.warnings.map((one) => (
        <p
          key={one}
          className={`border-l-4 pl-3 ${one.includes("switch off") ? "border-suspect font-bold" : "border-edge"}`}
        >
          {one}
        </p>
      ))}
      {node && on && mayWork && (
        <VoltField
          key={`${node.id} ${volts.read}`}
          node={node}
          why={probe?.why ?? ""}
          read={powering.read}
          done={() => choose(null)}
        />
      )}
      {said && (
        <section aria-live="polite" data-testid="volt-said">
          <p className="flex items-center gap-3 font-bold text-2xl">
            <Mark verdict={said.verdict} size={28} />
            <span className="font-mono">
              {said.point} {said.shown}
            </span>
          </p>
          <p>{said.why}</p>
        </section>
      )}
      <Suspects volts={volts} choose={choose} />
      <p>
        <Link className="button-plain -ml-2" to={`/library/${slug}/startup`}>
          {volts.map_source === "own" ? "The model’s map" : "Draw the model’s own map"}
        </Link>
      </p>
    </>
  );
}

interface VoltFieldProps {
  node: Node;
  why: string;
  read: Powering["read"];
  done: () => void;
}

/** The node to probe at arm's length; a rail that pulses is kept with its peak. */
function VoltField({ node, why, read, done }: VoltFieldProps) {
  const [value, setValue] = useState("");
  const [pulses, setPulses] = useState(false);
  const [every, setEvery] = useState("");
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => field.current?.focus(), []);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const typed = value.trim();
    if (!typed) return;
    const span = pulses && !typed.includes("..") ? `0..${typed}` : typed;
    const note = pulses ? `pulses${every.trim() ? `, ${every.trim()}` : ""}` : "";
    if (await read(node, span, note)) done();
  };
  return (
    <form onSubmit={submit} data-testid="volt-field">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h2 className="font-bold font-mono text-[40px] leading-tight">{node.point || node.id}</h2>
        <p className="text-soft">
          {[
            node.name,
            `${node.low} to ${node.high} ${node.unit}`,
            node.side,
            node.reach,
            node.parts.join(" "),
          ]
            .filter(Boolean)
            .join(", ")}
        </p>
      </div>
      <div className="mt-1 flex items-end gap-3">
        <label className="min-w-0 flex-1">
          <span className="block text-soft">
            {node.unit === "MHz" ? "value, as 27M" : `value, ${node.unit}`}
          </span>
          <input
            ref={field}
            className="field w-full font-mono text-[40px]"
            autoComplete="off"
            maxLength={40}
            value={value}
            onChange={(event) => setValue(event.target.value.replace(",", "."))}
          />
        </label>
        <button type="submit" className="button border-next" disabled={!value.trim()}>
          Store <kbd className="key">Enter</kbd>
        </button>
      </div>
      {why && <p className="mt-1">{why}</p>}
      <div className="mt-1 flex flex-wrap items-center gap-3">
        <label className="flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            className="size-6"
            checked={pulses}
            onChange={(event) => setPulses(event.target.checked)}
          />
          pulses; the value is its peak
        </label>
        {pulses && (
          <label>
            <span className="sr-only">how long, how often</span>
            <input
              className="field w-48"
              maxLength={80}
              placeholder="4 ms every 300 ms"
              value={every}
              onChange={(event) => setEvery(event.target.value)}
            />
          </label>
        )}
      </div>
    </form>
  );
}

const MOST = 6;

function Suspects({ volts, choose }: { volts: Volts; choose: (node: string) => void }) {
  const likely = volts.suspects.filter((one) => one.chance >= 0.01).slice(0, MOST);
  return (
    <>
      {volts.read > 0 && likely.length > 0 && (
        <section aria-labelledby="suspects-title">
          <h3 id="suspects-title" className="font-bold text-lg">
            Where it may break
          </h3>
          <ol aria-label="Suspects">
            {likely.map((one, number) => (
              <li key={one.node} className="grid grid-cols-[2rem_4rem_1fr] gap-2 border-rule border-t py-1">
                <strong className="font-mono text-suspect">{number + 1}</strong>
                <span className="font-mono">{Math.round(100 * one.chance)} %</span>
                <span>
                  <button
                    type="button"
                    className="button-plain -ml-2 font-bold"
                    onClick={() => choose(one.node)}
                  >
                    {one.name}
                  </button>{" "}
                  <span className="font-mono text-soft">{one.parts.join(" ")}</span> {one.why}
                </span>
              </li>
            ))}
          </ol>
        </section>
      )}
      {volts.next.length > 0 && (
        <section aria-labelledby="next-title">
          <h3 id="next-title" className="font-bold text-lg">
            Probe next, by what it tells for its minutes
          </h3>
          <ol aria-label="Probes">
            {volts.next.slice(0, MOST).map((one) => (
              <li
                key={one.node}
                className="grid grid-cols-[8rem_8rem_1fr] items-baseline gap-2 border-rule border-t"
              >
                <button
                  type="button"
                  className="button-plain -ml-2 text-left font-mono"
                  onClick={() => choose(one.node)}
                >
                  {one.point || "no point yet"}
                </button>
                <span className="text-soft">
                  {one.gain_bits.toFixed(2)} bits, {one.minutes} min
                </span>
                <span>{one.name}</span>
              </li>
            ))}
          </ol>
        </section>
      )}
      {volts.read > 0 && volts.ruled_out.length > 0 && (
        <details>
          <summary className="cursor-pointer py-1 text-soft underline underline-offset-3">
            {volts.ruled_out.length} ruled out
          </summary>
          <ul aria-label="Ruled out">
            {volts.ruled_out.map((one) => (
              <li key={one.node} className="border-rule border-t py-1">
                <strong>{one.name}</strong>: {one.why}.
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}
