import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useInfiniteQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, data, type JobDetail, type Ohms } from "../api/client";
import { keyOf } from "../queries/keys";
import { moment } from "../shared/words";
import { type Hunting, stillOff } from "../shorts/useShorts";
import { Mark, VERDICTS } from "./Mark";
import { Meters } from "./Meters";
import type { ProbePoint } from "./OhmsPage";
import { ReadingField } from "./ReadingField";
import { Skip } from "./Skip";
import { Slip } from "./Slip";
import { Strip } from "./Strip";
import type { Measuring } from "./useOhms";
import { useUsual } from "./useUsual";

interface ProbeProps {
  job: JobDetail;
  ohms: Ohms;
  /** whether the board is drawn, so that there is a route */
  drawn: boolean;
  turn: string | null;
  choose: (name: string | null) => void;
  /** keeps a point in turn whatever comes */
  stay: (name: string) => void;
  next: (from: string, by?: number) => void;
  measuring: Measuring;
  hunting: Hunting;
  mayWork: boolean;
}

/** The meter in the hand: the point in turn, what was read last and what it means, and all that was read. */
export function Probe({
  job,
  ohms,
  drawn,

  turn,
  choose,
  stay,
  next,
  measuring,
  hunting,
  mayWork,
}: ProbeProps) {
  const { usual, setUsual } = useUsual(job.number);
  // what the meter showed when the last reading was stored: until the probe moves, it is not a new one
  const [held, setHeld] = useState<number | null>(null);
  // a point that was read before shows what it read; else what was read last
  const said =
    ohms.readings.findLast((reading) => reading.standing && reading.point === turn) ?? ohms.readings.at(-1);
  const point = pointOf(ohms, turn);
  const probing = mayWork && ohms.power?.state === "off" && !!point;
  const off = hunting.shorts.data ? stillOff(hunting.shorts.data).map((entry) => entry.part) : [];
  return (
    <>
      {measuring.slip && (
        <Slip
          said={measuring.slip.said}
          sure={async () => {
            const { entry } = measuring.slip ?? {};
            if (entry && (await measuring.read({ ...entry, sure: true }))) next(entry.point);
          }}
          forget={measuring.forget}
        />
      )}
      <Again points={ohms.again} turn={turn} choose={choose} />
      {probing && point && (
        <>
          <ReadingField
            key={`${point.name} ${measuring.stored}`}
            point={point}
            points={ohms.points}
            meter={ohms.meters.find((meter) => meter.name === usual.meter)}
            card={{ serial: job.serial, board: job.board_model, off }}
            usual={usual}
            setUsual={setUsual}
            held={held}
            read={async (entry, raw) => {
              setHeld(raw);
              return measuring.read(entry);
            }}
            begun={() => stay(point.name)}
            done={() => next(point.name)}
            back={() => next(point.name, -1)}
          >
            {said && <Said reading={said} />}
          </ReadingField>
          <SkipPoint
            key={point.name}
            point={point.name}
            skip={async (why) => {
              if (!(await measuring.tick(point.name, why))) return false;
              next(point.name);
              return true;
            }}
          />
          <Meters meters={ohms.meters} usual={usual} setUsual={setUsual} set={measuring.setMeter} />
        </>
      )}
      {said && !probing && <Said reading={said} />}
      {!point && (
        <p className="text-soft">
          {drawn
            ? ohms.points.length > 0
              ? t`Every point is read. Choose a point on the board to read it again.`
              : t`The model has no probe points yet; the editor adds them.`
            : t`Click on the photograph where you hold the probe.`}
        </p>
      )}
      {hunting.shorts.data?.step && (
        <p className="border-l-4 border-ink bg-tray px-3 py-2">
          {hunting.shorts.data.step.says}{" "}
          <Link className="button-plain" to={`/jobs/${job.number}/ohms/shorts`}>
            <Trans>To the hunt</Trans>
          </Link>
        </p>
      )}
      <Readings number={job.number} ohms={ohms} choose={choose} />
    </>
  );
}

/** A point that cannot be read is left out, with the reason; it keeps its block where it is an input. */
function SkipPoint({ point, skip }: { point: string; skip: (why: string) => Promise<boolean> }) {
  const [asked, setAsked] = useState(false);
  return asked ? (
    <Skip skip={skip} close={() => setAsked(false)} />
  ) : (
    <button type="button" className="button-plain" onClick={() => setAsked(true)}>
      <Trans>Skip {point}</Trans>
    </button>
  );
}

/** The point of a name, or two points between which is read. */
export function pointOf(ohms: Ohms, name: string | null): ProbePoint | undefined {
  if (!name) return undefined;
  const [first = "", second] = name.split("/");
  // a side of a fuse is read to ground, as a net of its own
  const [, fuse, end] = /^(.+)\.([12])$/.exec(name) ?? [];
  const sided = fuse ? ohms.points.find((point) => point.name === fuse && point.kind === "fuse") : undefined;
  if (sided) return { ...sided, name, net: t`${fuse ?? ""}, side ${end ?? ""}`, kind: "pad" };
  const one = ohms.points.find((point) => point.name === first);
  return one && second ? { ...one, name, net: t`${first} against ${second}`, kind: "pair" } : one;
}

// below so many times what the leads read, taking them off is worth saying
const LEADS_MATTER = 100;

/** The newest reading: its value at arm's length, its verdict in a word and a sentence, the strip, the cards behind. */
function Said({ reading }: { reading: Ohms["readings"][number] }) {
  const { reference } = reading;
  return (
    <section aria-live="polite" className="my-4" data-testid="said" data-reading={reading.id}>
      <p className="flex items-center gap-3 text-2xl font-bold">
        <Mark verdict={reading.verdict} size={28} />
        <span className="font-mono">{reading.point}</span> <span className="font-mono">{reading.shown}</span>{" "}
        {VERDICTS[reading.verdict]}
      </p>
      <p>{reading.why}</p>
      {(reading.low ?? Number.POSITIVE_INFINITY) < LEADS_MATTER * (reading.lead_ohms ?? 0) && (
        <p className="text-soft">
          <Trans>
            The meter showed {reading.text}; its leads’ {reading.lead_ohms} Ω are taken off.
          </Trans>
        </p>
      )}
      <Strip reading={reading} />
      {reference && (
        <details key={reading.id}>
          <summary className="cursor-pointer py-1 text-soft underline underline-offset-3">
            {reference.cards === 1 ? t`The card behind it` : t`The ${reference.cards} cards behind it`}
          </summary>
          <ul className="flex flex-wrap gap-x-5 gap-y-1 py-1" aria-label={t`Cards behind it`}>
            {reference.by_card.map((entry) => (
              <li key={entry.card} className={entry.odd ? "text-suspect" : ""}>
                {entry.card} <strong className="font-mono">{entry.shown}</strong>
                {entry.odd && t`, stands out`}
              </li>
            ))}
            <li>
              <Link className="button-plain" to={`/library/${reference.board}/known-good`}>
                <Trans>In the library</Trans>
              </Link>
            </li>
          </ul>
        </details>
      )}
    </section>
  );
}

/** Points whose reading an act has made untrue: they come before the rest of the route. */
export function Again({
  points,
  turn,
  choose,
}: {
  points: readonly string[];
  turn?: string | null;
  choose: (name: string) => void;
}) {
  if (points.length === 0) return null;
  return (
    <p className="flex flex-wrap items-center gap-x-1 border-l-4 border-next pl-3" data-testid="again">
      <strong>
        <Trans>To be read again:</Trans>
      </strong>
      {points.map((name) => (
        <button
          key={name}
          type="button"
          aria-pressed={turn === name}
          className="button-plain font-mono font-bold"
          onClick={() => choose(name)}
        >
          {name}
        </button>
      ))}
    </p>
  );
}

function Readings({ number, ohms, choose }: { number: number; ohms: Ohms; choose: (name: string) => void }) {
  const earlier = useInfiniteQuery({
    // what counts as earlier shifts with each entry: pages of before would leave one out or show one twice
    queryKey: keyOf("ohms", number, "earlier", ohms.earlier, ohms.readings.at(-1)?.id),
    enabled: false,
    initialPageParam: 0,
    queryFn: async ({ pageParam: skip }) =>
      data(
        await api.GET("/api/v1/jobs/{number}/readings/earlier", {
          params: { path: { number }, query: { skip } },
        }),
      ),
    getNextPageParam: (_, pages) => pages.reduce((many, page) => many + page.length, 0),
  });
  const older = earlier.data?.pages.flat() ?? [];
  if (ohms.readings.length === 0) return null;
  return (
    <section aria-labelledby="readings-title">
      <h3 id="readings-title" className="text-lg font-bold">
        <Trans>Read so far</Trans>
      </h3>
      <ul aria-label={t`Readings`}>
        {[...[...ohms.readings].reverse(), ...older].map((reading) => (
          <li key={reading.id} className="border-t border-rule py-1">
            <button
              type="button"
              className={`grid w-full grid-cols-[1.5rem_7rem_8rem_1fr] items-baseline gap-3 text-left ${reading.standing ? "" : "line-through"}`}
              onClick={() => choose(reading.point)}
            >
              <Mark verdict={reading.verdict} />
              <strong className="font-mono text-lg">{reading.point}</strong>
              <span className="font-mono text-lg">{reading.shown}</span>
              <span className="text-soft">
                {[
                  VERDICTS[reading.verdict],
                  reading.to === "across" && !reading.point.includes("/") ? "across" : "",
                  ...reading.condition,
                  reading.polarity && t`${reading.polarity} on ground`,
                  reading.meter,
                  reading.note,
                ]
                  .filter(Boolean)
                  .join(", ")}{" "}
                {reading.by}, {moment(reading.at)}
              </span>
            </button>
            {reading.void && (
              <p className="ml-9 text-soft" data-testid="void">
                {reading.void.why}, {moment(reading.void.at)}{" "}
                {ohms.again.includes(reading.point) && (
                  <button type="button" className="button-plain" onClick={() => choose(reading.point)}>
                    <Trans>Read it again</Trans>
                  </button>
                )}
              </p>
            )}
          </li>
        ))}
      </ul>
      {older.length < ohms.earlier && (
        <button
          type="button"
          className="button mt-2"
          disabled={earlier.isFetching}
          onClick={() => void (older.length ? earlier.fetchNextPage() : earlier.refetch())}
        >
          <Trans>Show earlier readings ({ohms.earlier - older.length})</Trans>
        </button>
      )}
    </section>
  );
}
