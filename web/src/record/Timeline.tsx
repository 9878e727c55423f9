import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useEffect, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import { api, newId, type TimelineEvent } from "../api/client";
import { timelineQuery } from "../queries/job";
import { keyOf } from "../queries/keys";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";
import { moment } from "../shared/words";

/** Everything that happened, newest first: who, when, at which step; filtered, noted, corrected, each with its link. */
export function Timeline({ number }: { number: number }) {
  const [params, setParams] = useSearchParams();
  const [note, setNote] = useState("");
  const [corrects, setCorrects] = useState("");
  const { problem, keep } = useKeeping([keyOf("resume", number)]);
  const field = useRef<HTMLTextAreaElement>(null);
  const key = timelineQuery(number).queryKey;
  const path = { number };
  const events = useQuery(timelineQuery(number));
  const step = params.get("step") ?? "";
  const kind = params.get("kind") ?? "";
  const pointed = params.get("event");
  const all = events.data ?? [];
  const shown = all.filter((entry) => (!step || entry.step === step) && (!kind || entry.kind === kind));
  const put = (name: string, value: string) => {
    const next = new URLSearchParams(params);
    if (value) next.set(name, value);
    else next.delete(name);
    setParams(next, { replace: true });
  };
  const write = async (event: FormEvent) => {
    event.preventDefault();
    const body = { id: newId(), text: note.trim(), corrects };
    const taken = await keep(
      () => api.POST("/api/v1/jobs/{number}/timeline", { params: { path }, body }),
      key,
    );
    if (!taken) return;
    setNote("");
    setCorrects("");
  };
  const words = (id: string) => all.find((entry) => entry.id === id)?.words ?? "something";
  const kinds = [...new Set(all.map((entry) => entry.kind))].sort();
  const steps = [...new Set(all.map((entry) => entry.step).filter(Boolean))];
  return (
    <section aria-labelledby="timeline-title" data-testid="timeline">
      <h3 id="timeline-title" className="text-lg font-bold">
        <Trans>Full history</Trans>
      </h3>
      <form onSubmit={write} className="mt-1">
        <label className="block">
          <span className="block text-soft">
            {corrects ? t`note that corrects “${words(corrects)}”` : t`note`}
          </span>
          <textarea
            ref={field}
            className="field w-full"
            rows={2}
            maxLength={2000}
            value={note}
            onChange={(event) => setNote(event.target.value)}
          />
        </label>
        <p className="mt-1 flex gap-2">
          <button type="submit" className="button" disabled={!note.trim()}>
            <Trans>Note it</Trans>
          </button>
          {corrects && (
            <button type="button" className="button-plain" onClick={() => setCorrects("")}>
              <Trans>A note by itself</Trans>
            </button>
          )}
        </p>
        <FormError problem={problem} />
      </form>
      <p className="mt-2 flex flex-wrap gap-3">
        {(
          [
            ["step", step, steps, t`all steps`],
            ["kind", kind, kinds, t`all kinds`],
          ] as const
        ).map(([name, value, words, every]) => (
          <Select
            key={name}
            className="field"
            aria-label={t`Of which ${name}`}
            value={value}
            onChange={(event) => put(name, event.target.value)}
          >
            <option value="">{every}</option>
            {words.map((word) => (
              <option key={word} value={word}>
                {word}
              </option>
            ))}
          </Select>
        ))}
      </p>
      <ol aria-label={t`Timeline`} className="mt-2">
        {shown.map((row) => (
          <Row
            key={row.id}
            one={row}
            pointed={row.id === pointed}
            words={row.corrects ? words(row.corrects) : ""}
            point={() => put("event", row.id)}
            correct={() => {
              setCorrects(row.id);
              field.current?.focus();
            }}
          />
        ))}
      </ol>
      {events.isSuccess && shown.length === 0 && (
        <p>
          <Trans>Nothing of this kind yet.</Trans>
        </p>
      )}
    </section>
  );
}

interface RowProps {
  one: TimelineEvent;
  pointed: boolean;
  words: string;
  point: () => void;
  correct: () => void;
}

function Row({ one, pointed, words, point, correct }: RowProps) {
  const row = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (pointed) row.current?.scrollIntoView({ block: "center" });
  }, [pointed]);
  return (
    <li
      ref={row}
      id={one.id}
      className={`border-t border-rule py-1.5 ${pointed ? "border-l-4 border-l-ink bg-tray pl-2" : ""}`}
    >
      <div className="flex items-baseline gap-3">
        <p className="min-w-0 flex-1 wrap-anywhere">
          {one.words}{" "}
          <span className="text-soft">
            {one.step && `${one.step}, `}
            {one.by}, {moment(one.at)}
          </span>
          {one.corrects && (
            <span className="block text-soft">
              <Trans>corrects: {words}</Trans>
            </span>
          )}
        </p>
        <button type="button" className="button-plain" onClick={point}>
          <Trans>Link</Trans>
        </button>
        <button type="button" className="button-plain" onClick={correct}>
          <Trans>Correct</Trans>
        </button>
      </div>
    </li>
  );
}
