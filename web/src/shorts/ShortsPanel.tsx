import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import type { JobDetail, Orientation, Shorts } from "../api/client";
import { PhotographFirst } from "../memory/PhotographFirst";
import { Loading } from "../shared/states";
import { moment } from "../shared/words";
import { Alike } from "./Alike";
import { Inject } from "./Inject";
import { InjectionLog } from "./InjectionLog";
import { type Hunting, stillOff } from "./useShorts";

interface ShortsPanelProps {
  job: JobDetail;
  hunting: Hunting;
  /** to the meter, at this point or pair */
  choose: (name: string) => void;
  orientation: Orientation;
  /** how many readings there are: with another one, other past cards may be like this one */
  readings: number;
  mayWork: boolean;
}

const MOST_SUSPECTS = 6;

/** The hunt for a short: the next step, who may be it, what was fed, where it glowed, what is off. */
export function ShortsPanel({ job, hunting, choose, orientation, readings, mayWork }: ShortsPanelProps) {
  const shorts = hunting.shorts.data;
  if (!shorts) return <Loading what={t`Reading the hunt`} />;
  const nothing = shorts.shorted.length === 0 && shorts.off.length === 0 && shorts.injections.length === 0;
  if (nothing)
    return (
      <div className="space-y-6">
        <p className="text-soft" data-testid="no-shorts">
          <Trans>
            No rail reads short or partly short so far. Once one does, the parts that may do it are ranked
            here.
          </Trans>
        </p>
        <Alike number={job.number} readings={readings} />
      </div>
    );
  return (
    <div className="space-y-6" data-testid="shorts">
      {shorts.step && (
        <Next step={shorts.step} job={job} hunting={hunting} choose={choose} mayWork={mayWork} />
      )}
      {shorts.bridges.map((bridge) => (
        <p key={bridge.says} className="border-l-4 border-ink pl-3">
          {bridge.says}
        </p>
      ))}
      {shorts.killed.map((entry) => (
        <p key={entry.says} className="border-l-4 border-suspect pl-3">
          {entry.says}
        </p>
      ))}
      {shorts.near.length > 0 && <Near shorts={shorts} hunting={hunting} mayWork={mayWork} />}
      <Suspects shorts={shorts} choose={choose} />
      {shorts.sides.map((side) => (
        <p key={side.coil} className="border-l-4 border-ink pl-3">
          {side.why}
        </p>
      ))}
      {mayWork && shorts.feeds.length > 0 && (
        <Inject key={shorts.shorted.join()} shorts={shorts} hunting={hunting} />
      )}
      <InjectionLog shorts={shorts} hunting={hunting} side={orientation.side} mayWork={mayWork} />
      <Off shorts={shorts} hunting={hunting} mayWork={mayWork} />
      <Alike number={job.number} readings={readings} />
    </div>
  );
}

interface NextProps {
  step: NonNullable<Shorts["step"]>;
  job: JobDetail;
  hunting: Hunting;
  choose: (name: string) => void;
  mayWork: boolean;
}

/** The plan's next step of the hunt, with the button that does it. */
function Next({ step, job, hunting, choose, mayWork }: NextProps) {
  // the hunt goes first only where the one list says so
  const first = job.mind.next[0]?.do === step.do && job.mind.next[0]?.target === step.target;
  return (
    <section
      className={`border-l-8 px-4 py-3 ${first ? "border-next bg-next-wash" : "border-edge"}`}
      data-testid="hunt-step"
    >
      <p className="text-lg font-bold">{step.says}</p>
      {mayWork && step.do === "read" && (
        <button type="button" className="button mt-2" onClick={() => choose(step.target)}>
          <Trans>Read {step.target}</Trans>
        </button>
      )}
      {mayWork && step.do === "remove" && (
        <>
          <PhotographFirst number={job.number} what={[step.target]} />
          <button type="button" className="button mt-2" onClick={() => void hunting.takeOff(step.target)}>
            <Trans>{step.target} is off</Trans>
          </button>
        </>
      )}
    </section>
  );
}

interface SuspectsProps {
  shorts: Shorts;
  choose: (name: string) => void;
}

/** Which part shorts the rails, likeliest first, each with the pins that prove it. */
function Suspects({ shorts, choose }: SuspectsProps) {
  if (shorts.suspects.length === 0) return null;
  return (
    <section aria-labelledby="suspects-title" data-testid="suspects">
      <h3 id="suspects-title" className="text-lg font-bold">
        <Trans>What may short them</Trans>
      </h3>
      <ol aria-label={t`Suspects`}>
        {shorts.suspects.slice(0, MOST_SUSPECTS).map((suspect, number) => {
          const proof = shorts.proofs.find((other) => other.designator === suspect.designator);
          return (
            <li key={suspect.designator} className="border-t border-rule py-1">
              <div className="grid grid-cols-[1.5rem_4rem_1fr_auto] items-baseline gap-3">
                <span className="font-mono text-xl font-bold text-suspect">{number + 1}</span>
                <strong className="font-mono text-lg">{suspect.designator}</strong>
                <span>{suspect.why}</span>
                <span className="text-soft">{suspect.chance.toFixed(2)}</span>
              </div>
              {proof && (
                <button
                  type="button"
                  className="button-plain ml-9"
                  title={proof.why}
                  onClick={() => choose(proof.pair)}
                >
                  <Trans>Prove it: read {proof.pair}</Trans>
                </button>
              )}
            </li>
          );
        })}
      </ol>
    </section>
  );
}

/** The parts by the warm spot, nearest and likeliest first. */
function Near({ shorts, hunting, mayWork }: { shorts: Shorts; hunting: Hunting; mayWork: boolean }) {
  return (
    <section aria-labelledby="near-title">
      <h3 id="near-title" className="text-lg font-bold">
        <Trans>By the warm spot</Trans>
      </h3>
      <ol aria-label={t`By the warm spot`}>
        {shorts.near.map((entry, number) => (
          <li
            key={entry.designator}
            className="grid grid-cols-[1.5rem_4rem_1fr_auto_auto] items-baseline gap-3 border-t border-rule py-1"
          >
            <span className="font-mono text-xl font-bold text-suspect">{number + 1}</span>
            <strong className="font-mono text-lg">{entry.designator}</strong>
            <span>{entry.why}</span>
            <span className="text-soft">{entry.chance.toFixed(2)}</span>
            {mayWork && (
              <button
                type="button"
                className="button-plain"
                aria-label={t`${entry.designator} is off`}
                onClick={() => void hunting.takeOff(entry.designator)}
              >
                <Trans>Is off</Trans>
              </button>
            )}
          </li>
        ))}
      </ol>
    </section>
  );
}

/** What was taken off, what was cut out, and what stays empty for good. */
function Off({ shorts, hunting, mayWork }: { shorts: Shorts; hunting: Hunting; mayWork: boolean }) {
  const [cutting, setCutting] = useState(false);
  const [places, setPlaces] = useState<string[]>([]);
  const where = [...new Set([...shorts.phases, ...stillOff(shorts).map((entry) => entry.part)])];
  const rail = shorts.shorted[0] ?? shorts.off.at(-1)?.rails[0] ?? "";
  return (
    <section aria-labelledby="off-title" data-testid="taken-off">
      <h3 id="off-title" className="text-lg font-bold">
        <Trans>Off the board</Trans>
      </h3>
      {shorts.off.length === 0 && shorts.cut.length === 0 && (
        <p className="text-soft">
          <Trans>Nothing taken off so far.</Trans>
        </p>
      )}
      <ul>
        {shorts.off.map((entry) => (
          <li key={entry.id} className="border-t border-rule py-1">
            <Trans>
              <strong className="font-mono">{entry.part}</strong>
              {shorts.on_again.includes(entry.id) ? t`, on again` : ""}, while{" "}
              {entry.rails.join(", ") || t`nothing`} read short;{" "}
              <span className="text-soft">
                {entry.by}, {moment(entry.at)}
              </span>
            </Trans>
          </li>
        ))}
        {shorts.cut.map((entry) => (
          <li key={entry.id} className="border-t border-rule py-1">
            <Trans>
              <strong className="font-mono">{entry.place}</strong>: burnt layers of {entry.rails.join(", ")}{" "}
              cut out, the place stays empty for good;{" "}
              <span className="text-soft">
                {entry.by}, {moment(entry.at)}
              </span>
            </Trans>
          </li>
        ))}
      </ul>
      {shorts.empty.map((entry) => (
        <p key={entry.says} className="border-l-4 border-ink pl-3">
          {entry.says}
        </p>
      ))}
      {mayWork && rail && shorts.off.length > 0 && !cutting && (
        <button type="button" className="button-plain" onClick={() => setCutting(true)}>
          <Trans>Burnt layers were cut out</Trans>
        </button>
      )}
      {cutting && (
        <fieldset className="mt-2 border-l-4 border-edge pl-3">
          <legend>
            <Trans>Which places stay empty for good? Grinding dust is harmful: extraction and a mask.</Trans>
          </legend>
          <div className="flex flex-wrap gap-4">
            {where.map((word) => (
              <label key={word} className="flex min-h-11 items-center gap-2">
                <input
                  type="checkbox"
                  className="size-6"
                  checked={places.includes(word)}
                  onChange={(event) =>
                    setPlaces(
                      event.target.checked ? [...places, word] : places.filter((name) => name !== word),
                    )
                  }
                />
                {word}
              </label>
            ))}
          </div>
          <button
            type="button"
            className="button"
            disabled={places.length === 0}
            onClick={async () => {
              if (await hunting.cutOut(rail, places, "")) setCutting(false);
            }}
          >
            <Trans>Cut out of {rail}</Trans>
          </button>
        </fieldset>
      )}
    </section>
  );
}
