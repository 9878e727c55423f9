import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { Link } from "react-router";
import type { Drawing, JobDetail, JobTeardown } from "../api/client";
import { Board, NO_NOTES } from "../board/Board";
import { useCamera } from "../job/camera";
import { StepPage } from "../job/StepPage";
import { useOrientation } from "../job/useOrientation";
import { WorkPanel } from "../job/WorkPanel";
import { LookTabs } from "../look/LookTabs";
import { useKeys } from "../shared/keys";
import { LoadError, Loading } from "../shared/states";
import { moment } from "../shared/words";
import { useMayWork } from "../signin/session";
import { PasteAndPads } from "./PasteAndPads";
import { Places } from "./Places";
import { useTeardown } from "./useTeardown";

type StepState = JobTeardown["steps"][number];

/** A card taken apart by its model's recipe and put together again, every group counted out and in. */
export function TeardownPage() {
  return (
    <StepPage step="Look">
      {(job, model) => <AtTeardown job={job} drawing={model.drawing ?? null} />}
    </StepPage>
  );
}

function AtTeardown({ job, drawing }: { job: JobDetail; drawing: Drawing | null }) {
  const mayWork = useMayWork(job);
  const { teardown, problem, done } = useTeardown(job.number);
  const { orientation, setOrientation } = useOrientation(job, mayWork);
  const [way, setWay] = useState<"off" | "on">("off");
  const [chosen, setChosen] = useState<string | null>(null);
  if (teardown.isError) return <LoadError problem={teardown.error} again={() => teardown.refetch()} />;
  if (!teardown.data) return <Loading what={t`Reading what is off the card`} />;
  const { steps, borrowed_from } = teardown.data;
  // apart in the order of the recipe, together again backwards
  const left = way === "off" ? steps.filter((step) => !step.off || step.back) : steps.filter(owed).reverse();
  const turn = steps.find((step) => step.step.id === chosen) ?? left[0];
  // the card is turned over for it, so the drawing is too
  const see = ({ step }: StepState) => {
    if (step.side && (step.places_mm ?? []).length > 0 && step.side !== orientation.side)
      setOrientation({ ...orientation, side: step.side });
  };
  const turnTo = (entry: StepState) => {
    setChosen(entry.step.id);
    see(entry);
  };
  return (
    <div className="grid min-h-0 flex-1 grid-rows-[32rem_auto] lg:grid-cols-[58%_1fr] lg:grid-rows-1">
      {drawing ? (
        <Board
          drawing={drawing}
          orientation={orientation}
          setOrientation={setOrientation}
          notes={NO_NOTES}
          fit="board"
          title={t`Board of ${job.label}`}
          over={(view) =>
            steps.map((step) => (
              <Places
                key={step.step.id}
                view={view}
                places={step.step.places_mm ?? []}
                order={step.order}
                crosswise={step.step.crosswise ?? false}
                lit={step.step.id === turn?.step.id}
                seen={step.step.side === orientation.side}
              />
            ))
          }
        />
      ) : (
        <p className="grid place-items-center bg-tray p-8 text-center">
          <Trans>This board is not drawn yet.</Trans>
        </p>
      )}
      <WorkPanel job={job} step="Look">
        <LookTabs number={job.number} />
        {problem && (
          <p role="alert" className="border-l-4 border-suspect pl-3">
            {problem}
          </p>
        )}
        {mayWork && (
          <fieldset className="flex gap-2" aria-label={t`Which way`}>
            {(["off", "on"] as const).map((name) => (
              <button
                key={name}
                type="button"
                aria-pressed={way === name}
                className="button aria-pressed:border-ink aria-pressed:bg-tray"
                onClick={() => {
                  setWay(name);
                  setChosen(null);
                }}
              >
                {name === "off" ? t`Take apart` : t`Put together`}
              </button>
            ))}
          </fieldset>
        )}
        {steps.length === 0 ? (
          <p>
            <Trans>{job.model} has no teardown recipe yet. </Trans>
            {mayWork && (
              <Link className="button-plain" to={`/library/${job.board_model}/teardown`}>
                <Trans>Write down what comes off, in which order</Trans>
              </Link>
            )}
          </p>
        ) : (
          <>
            {mayWork &&
              (turn ? (
                <InTurn
                  key={`${turn.step.id} ${way}`}
                  turn={turn}
                  way={way}
                  done={async (count) => {
                    if (!(await done(turn.step.id, way, count))) return;
                    setChosen(null);
                    const after = left[left.indexOf(turn) + 1];
                    if (after) see(after);
                  }}
                />
              ) : (
                <h2 className="text-2xl font-bold">
                  {way === "off" ? t`Everything of the recipe is off` : t`All that came off is back`}
                </h2>
              ))}
            <ol aria-label={t`Steps of the recipe`}>
              {steps.map((step) => (
                <li key={step.step.id} className="border-t border-rule">
                  <button
                    type="button"
                    aria-pressed={step === turn}
                    className="grid min-h-11 w-full grid-cols-[1.5rem_1fr_auto] items-baseline gap-2 py-1.5 text-left aria-pressed:bg-tray"
                    onClick={() => turnTo(step)}
                  >
                    <Sign state={step.state} />
                    <span>
                      <strong>{step.step.what}</strong>
                      {step.step.kind === "screws" && ` × ${step.step.count ?? 1}`}
                      {step.step.hidden && ", hidden"}
                      {step.says && (
                        <span className="block">{step.says.replace(`${step.step.what}: `, "")}</span>
                      )}
                    </span>
                    <span className="text-soft">
                      {(step.back ?? step.off)
                        ? `${(step.back ?? step.off)?.by}, ${moment((step.back ?? step.off)?.at ?? "")}`
                        : ""}
                    </span>
                  </button>
                </li>
              ))}
            </ol>
            <p className="text-soft">
              {borrowed_from && t`The recipe is borrowed from ${borrowed_from}. `}
              <Link className="button-plain -ml-2" to={`/library/${job.board_model}/teardown`}>
                <Trans>The recipe</Trans>
              </Link>
            </p>
          </>
        )}
        <PasteAndPads job={job} way={way} mayWork={mayWork} />
      </WorkPanel>
    </div>
  );
}

function owed(one: StepState): boolean {
  return one.state !== "on";
}

interface InTurnProps {
  turn: StepState;
  way: "off" | "on";
  done: (count: number) => Promise<void>;
}

/** The step in turn, large: Enter counts it as expected; a count that differs is typed before. */
function InTurn({ turn, way, done }: InTurnProps) {
  const { step } = turn;
  const expected = way === "off" ? (step.count ?? 1) : (turn.off?.count ?? 1);
  const [count, setCount] = useState(String(expected));
  const camera = useCamera();
  const typed = Number(count);
  const fits = /^\d{1,2}$/.test(count.trim());
  const counted = step.kind === "screws" || expected !== 1;
  const go = () => {
    if (fits) void done(counted ? typed : 1);
  };
  useKeys({ Enter: go });
  const bulky = ["cooler", "backplate", "soldered-wire"].includes(step.kind);
  return (
    <section aria-labelledby="turn-title" data-testid="in-turn">
      <h2 id="turn-title" className="text-3xl font-bold leading-tight">
        {step.what}
      </h2>
      <p className="mt-1">
        {way === "off" ? t`Comes off` : t`Goes on`}{" "}
        {step.side === "back" ? t`from the back` : t`from the front`}
        {counted && `: ${expected}`}
        {step.hidden && t`. Hidden: it holds what you lift`}
        {step.crosswise && way === "on" && t`. Crosswise as numbered, a little at a time`}. {step.note}
      </p>
      {way === "off" && bulky && !turn.photographed && (
        <p className="mt-2 flex items-center gap-3 border-l-4 border-ink bg-tray px-3 py-2">
          <span className="flex-1">
            <Trans>Photograph it before it comes off: how it lay tells something.</Trans>
          </span>
          <button type="button" className="button" onClick={() => camera(step.id)}>
            <Trans>Photograph</Trans>
          </button>
        </p>
      )}
      <p className="mt-3 flex items-end gap-3">
        {counted && (
          <label className="w-24">
            <span className="block text-soft">
              <Trans>counted</Trans>
            </span>
            <input
              className="field w-full font-mono text-2xl"
              inputMode="numeric"
              value={count}
              onChange={(event) => setCount(event.target.value)}
              onKeyDown={(event) => {
                if (event.key === "Enter") go();
              }}
            />
          </label>
        )}
        <button type="button" className="button border-next" disabled={!fits} onClick={go}>
          {way === "off" ? t`It is off` : t`It is on`}{" "}
          <kbd className="key">
            <Trans>Enter</Trans>
          </kbd>
        </button>
      </p>
    </section>
  );
}

/** On is a filled dot, off an open ring, a count that differs a pennant. */
function Sign({ state }: { state: StepState["state"] }) {
  const label = { on: t`on`, off: t`off`, differs: t`counts differ` }[state];
  return (
    <svg viewBox="0 0 16 16" className="size-4 self-center" role="img" aria-label={label}>
      {state === "on" && <circle cx={8} cy={8} r={6} className="fill-good" />}
      {state === "off" && <circle cx={8} cy={8} r={6} className="fill-none stroke-ink" strokeWidth={2} />}
      {state === "differs" && <path d="M3 15V1H14L11 4.5L14 8H4.5V15Z" className="fill-suspect" />}
    </svg>
  );
}
