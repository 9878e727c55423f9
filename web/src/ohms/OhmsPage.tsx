import { useState } from "react";
import type { BoardDetail, JobDetail, Ohms } from "../api/client";
import { Board } from "../board/Board";
import { PhotoBoard } from "../board/PhotoBoard";
import type { Point } from "../board/view";
import { StepPage } from "../job/StepPage";
import { useLie } from "../job/useLie";
import { WorkPanel } from "../job/WorkPanel";
import { Loading, Trouble } from "../shared/states";
import { moment } from "../shared/words";
import { mayWorkAtBench, useSession } from "../signin/session";
import { Gate } from "./Gate";
import { Lock } from "./Lock";
import { Mark, VERDICTS } from "./Mark";
import { Points } from "./Points";
import { ReadingField, type Usual } from "./ReadingField";
import { Strip } from "./Strip";
import { useOhms } from "./useOhms";

const MOST_SUSPECTS = 6;

export type ProbePoint = Ohms["points"][number];

/** A job at Ohms: the point to probe ringed on the board, its name large, the value typed as the shop writes it. */
export function OhmsPage() {
  return <StepPage step="Ohms">{(job, model) => <AtOhms job={job} model={model} />}</StepPage>;
}

function AtOhms({ job, model }: { job: JobDetail; model: BoardDetail }) {
  const session = useSession();
  const mayWork = mayWorkAtBench(session.data?.person);
  const measuring = useOhms(job.number);
  const { lie, lay } = useLie(job, mayWork);
  const [chosen, setChosen] = useState<string | null>(null);
  const [usual, setUsual] = useState<Usual>({ mode: "resistance", conditions: [] });
  const ohms = measuring.ohms.data;
  if (measuring.ohms.isError)
    return <Trouble problem={measuring.ohms.error} again={() => measuring.ohms.refetch()} />;
  if (!ohms) return <Loading what="Reading what was measured" />;
  const read = new Set(ohms.readings.map((one) => one.point));
  const open = ohms.route.find((name) => !read.has(name)) ?? null;
  const turn = chosen ?? (model.drawing ? open : null);
  const point = ohms.points.find((one) => one.name === turn);
  const newest = ohms.readings.at(-1);
  const choose = (name: string | null) => {
    setChosen(name);
    const side = ohms.points.find((one) => one.name === name)?.side;
    if (side && side !== lie.side && model.drawing) lay({ ...lie, side });
  };
  const next = (from: string, by = 1) => {
    const at = ohms.route.indexOf(from);
    const rest =
      by > 0 ? ohms.route.slice(at + 1).filter((name) => !read.has(name)) : [ohms.route[at - 1] ?? from];
    choose(model.drawing ? (rest[0] ?? null) : null);
  };
  const photograph = model.photographs.find((one) => one.side === "front") ?? model.photographs[0];
  const click = async ([x, y]: Point) => {
    if (!photograph) return;
    const name = freeName(ohms.points);
    if (await measuring.click(name, photograph.side, photograph.sha256, Math.round(x), Math.round(y)))
      setChosen(name);
  };
  return (
    <div className="grid min-h-0 flex-1 grid-rows-[32rem_auto] lg:grid-cols-[58%_1fr] lg:grid-rows-1">
      {model.drawing ? (
        <Board
          drawing={model.drawing}
          lie={lie}
          setLie={lay}
          notes={{}}
          fit="board"
          title={`Board of ${job.label}`}
          over={(view) => <Points ohms={ohms} view={view} chosen={turn} choose={choose} />}
        />
      ) : photograph ? (
        <PhotoBoard
          picture={photograph}
          title={`Photograph of the ${photograph.side} of ${model.name}`}
          {...(mayWork ? { pick: (at: Point) => void click(at) } : {})}
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
        {measuring.problem && (
          <p role="alert" className="border-l-4 border-suspect pl-3">
            {measuring.problem} What you entered is kept here.
          </p>
        )}
        <Gate power={ohms.power} say={measuring.power} mayWork={mayWork} />
        {measuring.slip && (
          <div role="alert" className="border-l-8 border-next bg-next-wash px-4 py-3" data-testid="slip">
            <p className="text-lg font-bold">{measuring.slip.said}</p>
            <p className="mt-2 flex gap-3">
              <button
                type="button"
                className="button"
                onClick={async () => {
                  const { entry } = measuring.slip ?? {};
                  if (entry && (await measuring.read({ ...entry, sure: true }))) next(entry.point);
                }}
              >
                Yes, store it
              </button>
              <button type="button" className="button" onClick={measuring.forget}>
                No, type it again
              </button>
            </p>
          </div>
        )}
        {newest && <Said reading={newest} />}
        {mayWork && ohms.power?.state === "off" && point && (
          <ReadingField
            key={`${point.name} ${ohms.readings.length}`}
            point={point}
            usual={usual}
            setUsual={setUsual}
            read={measuring.read}
            done={() => next(point.name)}
            back={() => next(point.name, -1)}
          />
        )}
        {!point && (
          <p className="text-soft">
            {model.drawing
              ? ohms.points.length > 0
                ? "The route is walked. Choose a point on the board to read it again."
                : "The model has no probe points yet; the editor adds them."
              : "Click on the photograph where you hold the probe."}
          </p>
        )}
        <Suspects ohms={ohms} />
        <Lock ohms={ohms} tick={measuring.tick} power={measuring.power} mayWork={mayWork} />
        <Readings ohms={ohms} choose={choose} />
      </WorkPanel>
    </div>
  );
}

/** P1, P2 … the first that is free. */
function freeName(points: ProbePoint[]): string {
  const known = new Set(points.map((one) => one.name));
  let number = 1;
  while (known.has(`P${number}`)) number += 1;
  return `P${number}`;
}

/** The newest reading: its value at arm's length, its verdict in a word and a sentence, and the strip. */
function Said({ reading }: { reading: Ohms["readings"][number] }) {
  return (
    <section aria-live="polite" data-testid="said">
      <p className="flex items-center gap-3 text-2xl font-bold">
        <Mark verdict={reading.verdict} size={28} />
        <span className="font-mono">{reading.point}</span> <span className="font-mono">{reading.shown}</span>{" "}
        {VERDICTS[reading.verdict]}
      </p>
      <p>{reading.why}</p>
      <Strip reading={reading} />
    </section>
  );
}

/** Which part shorts the rails, likeliest first. */
function Suspects({ ohms }: { ohms: Ohms }) {
  if (ohms.suspects.length === 0) return null;
  return (
    <section aria-labelledby="suspects-title" data-testid="suspects">
      <h3 id="suspects-title" className="text-lg font-bold">
        What may short them
      </h3>
      <ol aria-label="Suspects">
        {ohms.suspects.slice(0, MOST_SUSPECTS).map((one, number) => (
          <li
            key={one.designator}
            className="grid grid-cols-[1.5rem_4rem_1fr_auto] gap-3 border-t border-rule py-1"
          >
            <span className="font-mono text-xl font-bold text-suspect">{number + 1}</span>
            <strong className="font-mono text-lg">{one.designator}</strong>
            <span>{one.why}</span>
            <span className="text-soft">{one.chance.toFixed(2)}</span>
          </li>
        ))}
      </ol>
    </section>
  );
}

function Readings({ ohms, choose }: { ohms: Ohms; choose: (name: string) => void }) {
  if (ohms.readings.length === 0) return null;
  return (
    <section aria-labelledby="readings-title">
      <h3 id="readings-title" className="text-lg font-bold">
        Read so far
      </h3>
      <ul aria-label="Readings">
        {[...ohms.readings].reverse().map((one) => (
          <li key={one.id} className="border-t border-rule py-1">
            <button
              type="button"
              className={`grid w-full grid-cols-[1.5rem_7rem_8rem_1fr] items-baseline gap-3 text-left ${one.standing ? "" : "line-through"}`}
              onClick={() => choose(one.point)}
            >
              <Mark verdict={one.verdict} />
              <strong className="font-mono text-lg">{one.point}</strong>
              <span className="font-mono text-lg">{one.shown}</span>
              <span className="text-soft">
                {[VERDICTS[one.verdict], one.to === "across" ? "across" : "", ...one.condition, one.note]
                  .filter(Boolean)
                  .join(", ")}{" "}
                {one.by}, {moment(one.at)}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

interface OnPhotographProps {
  ohms: Ohms;
  sha256: string;
  chosen: string | null;
  size: number;
}

function OnPhotograph({ ohms, sha256, chosen, size }: OnPhotographProps) {
  return ohms.points
    .filter((one) => one.picture === sha256)
    .map((one) => (
      <g key={one.name} transform={`translate(${one.x_px} ${one.y_px})`} pointerEvents="none">
        <circle
          r={size}
          className={`fill-none ${one.name === chosen ? "stroke-lit-next" : "stroke-silk"}`}
          strokeWidth={size / 4}
        />
        <text
          y={-size * 1.3}
          fontSize={size * 1.5}
          textAnchor="middle"
          className="fill-silk stroke-chip font-mono font-bold"
          strokeWidth={size / 10}
          paintOrder="stroke"
        >
          {one.name}
        </text>
      </g>
    ));
}
