import { Select } from "@headlessui/react";
import { plural, t } from "@lingui/core/macro";
import { Plural, Trans } from "@lingui/react/macro";
import { type FormEvent, type KeyboardEvent, useEffect, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import type { AtTheBench, JobDetail } from "../api/client";
import type { Step } from "../job/StepLine";
import { KEEPS_FOCUS } from "../shared/focus";
import { useKeys } from "../shared/keys";
import { numberOf } from "../shared/numbers";
import { count, listed } from "../shared/words";
import { Discard } from "./Discard";
import { INSTRUMENTS, type Instrument, OF_STEP } from "./instrumentList";
import { type Ended, usePractice } from "./usePractice";

const ENDS: readonly (readonly [Ended, string])[] = [
  ["repaired", t`returned repaired`],
  ["no-fix", t`returned as it came`],
  ["donor", t`kept as a donor`],
];

/** The bench of a virtual card, on every step: its instruments, what they answered, what it has cost so far. */
export function Instruments({ job, step }: { job: JobDetail; step: Step | null }) {
  const practice = usePractice(job.number);
  const bench = practice.bench.data;
  if (!bench) return null;
  return (
    <section
      aria-label={t`Practice: the bench`}
      className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-rule bg-tray px-5 py-1.5"
      data-testid="instruments"
      {...KEEPS_FOCUS}
    >
      {bench.ended ? (
        <p>
          <Trans>This card is finished.</Trans>{" "}
          <Link className="underline" to={`/jobs/${job.number}/debrief`}>
            <Trans>Open the debrief</Trans>
          </Link>
        </p>
      ) : (
        <>
          {bench.mine && <Using key={step} step={step} bench={bench} practice={practice} job={job} />}
          <span className="ml-auto whitespace-nowrap text-soft" data-testid="cost">
            {cost(bench)}
          </span>
          {bench.mine && <Ending job={job} practice={practice} bench={bench} />}
        </>
      )}
      <p className="w-full text-[15px]" role="status" data-testid="answer">
        {practice.said && <span className="text-suspect">{practice.said} </span>}
        {!practice.said && practice.answer && (
          <>
            <strong>{practice.answer.words.join("; ")}</strong>
            {practice.answer.harm.length > 0 && (
              <strong className="text-suspect">
                {" "}
                <Trans>Damage: {listed(practice.answer.harm)}.</Trans>
              </strong>
            )}
          </>
        )}
        {!practice.said && !practice.answer && (
          <Trans>A virtual card: nothing here is counted in the shop’s figures, stock or known-good.</Trans>
        )}
      </p>
    </section>
  );
}

function cost(bench: AtTheBench): string {
  const said = [t`${count(Math.round(bench.minutes))} min`];
  if (bench.parts > 0) said.push(plural(bench.parts, { one: "# part", other: "# parts" }));
  if (bench.heats > 0) said.push(plural(bench.heats, { one: "heated once", other: "heated # times" }));
  if (bench.harm.length > 0)
    said.push(plural(bench.harm.length, { one: "damage once", other: "damage # times" }));
  return said.join(", ");
}

interface UsingProps {
  step: Step | null;
  job: JobDetail;
  bench: AtTheBench;
  practice: ReturnType<typeof usePractice>;
}

/** Choose an instrument, hold it to a place, read what it shows. */
function Using({ step, job, bench, practice }: UsingProps) {
  const offered = OF_STEP[step ?? ""] ?? [];
  const [chosen, setChosen] = useState<Instrument | undefined>(offered[0]);
  const [target, setTarget] = useState("");
  const [volts, setVolts] = useState("0.5");
  const [amps, setAmps] = useState("2");
  const [sight, setSight] = useState<{ place: string; at: number } | null>(null);
  const first = useRef<HTMLSelectElement>(null);
  useKeys({ i: () => first.current?.focus() });
  if (!chosen) return null;
  const instrument = INSTRUMENTS[chosen];
  const places = instrument.places(bench);
  const place = places.some((entry) => entry.id === target) ? target : (places[0]?.id ?? "");
  const use = async (event: FormEvent) => {
    event.preventDefault();
    if (instrument.sees) return setSight({ place, at: Date.now() });
    await practice.ask(instrument.asks(place, numberOf(volts) ?? 0, numberOf(amps) ?? 0));
  };
  return (
    <form onSubmit={use} className="flex flex-wrap items-center gap-2">
      <Select
        ref={first}
        className="field w-48"
        aria-label={t`Instrument`}
        title={t`Instrument (i)`}
        value={chosen}
        onChange={(event) => setChosen(event.target.value as Instrument)}
      >
        {offered.map((name) => (
          <option key={name} value={name}>
            {INSTRUMENTS[name].name}
          </option>
        ))}
      </Select>
      {places.length > 0 && (
        <Select
          className="field w-56"
          aria-label={t`Where`}
          value={place}
          onChange={(event) => setTarget(event.target.value)}
        >
          {places.map((entry) => (
            <option key={entry.id} value={entry.id}>
              {entry.name}
            </option>
          ))}
        </Select>
      )}
      {instrument.feeds && (
        <>
          <Figure label={t`volts`} value={volts} onChange={setVolts} />
          <Figure label={t`amperes at most`} value={amps} onChange={setAmps} />
        </>
      )}
      <button
        type="submit"
        className="button"
        disabled={practice.busy}
        onKeyDown={chosen === "power" ? notByEnter : undefined}
      >
        {instrument.does}
      </button>
      {practice.problem && ["locked", "above-advice"].includes(practice.problem.code) && (
        <button
          type="button"
          className="button"
          onKeyDown={notByEnter}
          onClick={() =>
            void practice.ask({
              ...instrument.asks(place, numberOf(volts) ?? 0, numberOf(amps) ?? 0),
              despite: true,
            })
          }
        >
          <Trans>Go ahead anyway</Trans>
        </button>
      )}
      {sight && (
        <Sight
          number={job.number}
          {...sight}
          name={nameOf(places, sight.place)}
          close={() => setSight(null)}
        />
      )}
    </form>
  );
}

/** Power is never switched by Enter or the pedal: the space bar presses the button. */
function notByEnter(event: KeyboardEvent) {
  if (event.key === "Enter") event.preventDefault();
}

function nameOf(places: readonly { id: string; name: string }[], id: string): string {
  return places.find((entry) => entry.id === id)?.name ?? id;
}

function Figure({
  label,
  value,
  onChange,
}: {
  label: string;
  value: string;
  onChange: (value: string) => void;
}) {
  return (
    <input
      className="field w-20 font-mono"
      inputMode="decimal"
      aria-label={label}
      title={label}
      value={value}
      onChange={(event) => onChange(event.target.value)}
    />
  );
}

/** What the eye sees at a place, under the microscope. */
function Sight({
  number,
  place,
  at,
  name,
  close,
}: {
  number: number;
  place: string;
  /** when it was looked at: the card is seen as it was then */
  at: number;
  name: string;
  close: () => void;
}) {
  const leave = useRef<HTMLButtonElement>(null);
  useKeys({ Escape: close });
  // biome-ignore lint/correctness/useExhaustiveDependencies: each place that is looked at takes the focus anew
  useEffect(() => leave.current?.focus(), [place]);
  return (
    <figure
      className="fixed bottom-4 left-28 z-20 w-[min(41rem,50vw)] rounded-md border border-edge bg-sheet p-3 shadow-lg"
      data-testid="sight"
    >
      <img
        className="max-h-[60vh] w-full object-contain"
        src={`/api/v1/jobs/${number}/practice/sight/${encodeURIComponent(place)}?at=${at}`}
        alt={t`${name}, close up`}
      />
      <figcaption className="mt-2 flex items-center gap-3">
        <strong>{name}</strong>
        <span className="text-soft">
          <Trans>Enter what you see on Look.</Trans>
        </span>
        <button ref={leave} type="button" className="button ml-auto" onClick={close}>
          <Trans>
            Close <kbd className="key">Esc</kbd>
          </Trans>
        </button>
      </figcaption>
    </figure>
  );
}

/** Asking for the advice, and giving the card back. */
function Ending({
  job,
  practice,
  bench,
}: {
  job: JobDetail;
  practice: ReturnType<typeof usePractice>;
  bench: AtTheBench;
}) {
  const navigate = useNavigate();
  const [asked, setAsked] = useState(false);
  const [way, setWay] = useState<Ended>("repaired");
  const end = async () => {
    if (await practice.end(way)) navigate(`/jobs/${job.number}/debrief`);
  };
  return (
    <>
      {bench.help === "on-request" && !bench.shown && (
        <button type="button" className="button" onClick={() => void practice.help()}>
          <Trans>Ask for advice</Trans>
          {bench.asked > 0 && (
            <span className="text-soft">
              {" "}
              <Plural value={bench.asked} one="(once so far)" other="(# times so far)" />
            </span>
          )}
        </button>
      )}
      {asked ? (
        <>
          <Select
            className="field"
            aria-label={t`Outcome`}
            value={way}
            onChange={(event) => setWay(event.target.value as Ended)}
          >
            {ENDS.map(([end, words]) => (
              <option key={end} value={end}>
                {words}
              </option>
            ))}
          </Select>
          <button type="button" className="button" disabled={practice.busy} onClick={() => void end()}>
            {practice.busy ? t`Comparing with the advice …` : t`Finish`}
          </button>
          <Discard number={job.number} />
          <button type="button" className="button-plain" onClick={() => setAsked(false)}>
            <Trans>Cancel</Trans>
          </button>
        </>
      ) : (
        <button type="button" className="button" onClick={() => setAsked(true)}>
          <Trans>Finish …</Trans>
        </button>
      )}
    </>
  );
}
