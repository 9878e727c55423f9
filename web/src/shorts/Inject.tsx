import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type FormEvent, useState } from "react";
import type { Shorts } from "../api/client";
import { decimalOf } from "../shared/numbers";
import type { Hunting } from "./useShorts";

/** Volts and amperes to feed at most, what will be seen, the cautions; then what was fed, into the log. */
export function Inject({ shorts, hunting }: { shorts: Shorts; hunting: Hunting }) {
  const [rail, setRail] = useState(shorts.feeds[0]?.rail ?? "");
  const [volts, setVolts] = useState("");
  const [amps, setAmps] = useState("");
  const [wire, setWire] = useState(false);
  const [note, setNote] = useState("");
  const [at, setAt] = useState("");
  const [above, setAbove] = useState<string | null>(null);
  const feed = shorts.feeds.find((entry) => entry.rail === rail) ?? shorts.feeds[0];
  if (!feed) return null;
  const ready = volts.trim() !== "" && amps.trim() !== "" && decimalOf(volts) >= 0 && decimalOf(amps) >= 0;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    await enter(false);
  };
  const enter = async (on_purpose: boolean) => {
    const point = feed.points.includes(at) ? at : (feed.points[0] ?? "");
    const fed = {
      rail: feed.rail,
      point,
      wire,
      volts: decimalOf(volts),
      amps: decimalOf(amps),
      note,
      on_purpose,
    };
    const asked = await hunting.inject(fed);
    setAbove(typeof asked === "string" ? asked : null);
    if (asked === true) for (const clear of [setVolts, setAmps, setNote]) clear("");
  };
  return (
    <section aria-labelledby="inject-title" data-testid="inject">
      <h3 id="inject-title" className="text-lg font-bold">
        <Trans>Inject a low voltage</Trans>
      </h3>
      <div className="mt-1 flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <label className="flex items-center gap-2">
          <Trans>into</Trans>
          <Select className="field" value={feed.rail} onChange={(event) => setRail(event.target.value)}>
            {shorts.feeds.map((entry) => (
              <option key={entry.rail} value={entry.rail}>
                {entry.name}, {entry.shown}
              </option>
            ))}
          </Select>
        </label>
        {feed.points.length === 1 && (
          <span>
            <Trans>
              at <strong className="font-mono">{feed.points[0]}</strong>
            </Trans>
          </span>
        )}
        {feed.points.length > 1 && (
          <label className="flex items-center gap-2">
            <Trans>at</Trans>
            <Select
              className="field font-mono"
              value={feed.points.includes(at) ? at : feed.points[0]}
              onChange={(event) => setAt(event.target.value)}
            >
              {feed.points.map((point) => (
                <option key={point}>{point}</option>
              ))}
            </Select>
          </label>
        )}
      </div>
      <p className="mt-2 text-2xl font-bold">
        <Trans>
          <span className="font-mono">{feed.volts}</span> V, limit{" "}
          <span className="font-mono">{feed.amps_limit}</span> A
        </Trans>
      </p>
      <p className={feed.warms ? "" : "border-l-4 border-next pl-3"}>{feed.says}</p>
      <ul className="mt-1 border-l-4 border-ink pl-3" aria-label={t`Cautions`}>
        {feed.cautions.map((caution) => (
          <li key={caution}>{caution}</li>
        ))}
      </ul>
      {above && (
        <p role="alert" className="mt-2 border-l-4 border-suspect pl-3">
          {above}{" "}
          <button type="button" className="button" onClick={() => void enter(true)}>
            <Trans>It was {volts} V</Trans>
          </button>{" "}
          <button type="button" className="button" onClick={() => setAbove(null)}>
            <Trans>A slip</Trans>
          </button>
        </p>
      )}
      <form onSubmit={submit} className="mt-3 flex flex-wrap items-end gap-3">
        <label>
          <span className="block text-soft">
            <Trans>volts at the board</Trans>
          </span>
          <input
            className="field w-28 font-mono text-xl"
            inputMode="decimal"
            value={volts}
            onChange={(event) => setVolts(event.target.value)}
          />
        </label>
        <label>
          <span className="block text-soft">
            <Trans>amperes</Trans>
          </span>
          <input
            className="field w-28 font-mono text-xl"
            inputMode="decimal"
            value={amps}
            onChange={(event) => setAmps(event.target.value)}
          />
        </label>
        <label className="min-w-32 flex-1">
          <span className="block text-soft">
            <Trans>note</Trans>
          </span>
          <input
            className="field w-full"
            maxLength={200}
            value={note}
            onChange={(event) => setNote(event.target.value)}
          />
        </label>
        <label className="flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            className="size-6"
            checked={wire}
            onChange={(event) => setWire(event.target.checked)}
          />
          <Trans>a wire was soldered on</Trans>
        </label>
        <button type="submit" className="button" disabled={!ready}>
          <Trans>Into the log</Trans>
        </button>
      </form>
    </section>
  );
}
