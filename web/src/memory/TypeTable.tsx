import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, useEffect, useRef, useState } from "react";
import { api, type JobDetail, newId } from "../api/client";
import { sendPicture } from "../api/upload";
import { reportOrderQuery } from "../queries/job";
import { keyOf } from "../queries/keys";
import { ChooseFile, PHOTOGRAPHS } from "../shared/ChooseFile";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";
import { useKeys } from "../shared/keys";
import { count } from "../shared/words";

interface Slip {
  channel: string;
  typed: number;
  would: number;
}

interface Draft {
  id: string;
  counts: Record<string, string>;
  lines: Record<string, string[]>;
  more: string[];
  total: string;
  condition: string;
}

const LINES = 32;
const blank = (): Draft => ({ id: newId(), counts: {}, lines: {}, more: [], total: "", condition: "" });

/** A table off a photographed screen: the channels in the tester's order, numbers by keyboard, the total checked. */
export function TypeTable({ job }: { job: JobDetail }) {
  const [open, setOpen] = useState(false);
  useKeys({ e: () => setOpen(true) });
  if (!open)
    return (
      <button type="button" className="button" onClick={() => setOpen(true)}>
        <Trans>
          Type a photographed table <kbd className="key">e</kbd>
        </Trans>
      </button>
    );
  return <Grid job={job} close={() => setOpen(false)} />;
}

function Grid({ job, close }: { job: JobDetail; close: () => void }) {
  const key = `uvrix-typed-${job.number}`;
  const [draft, setDraft] = useState<Draft>(() => {
    const kept = localStorage.getItem(key);
    return kept ? { ...blank(), ...JSON.parse(kept) } : blank();
  });
  const [withLines, setWithLines] = useState(Object.keys(draft.lines).length > 0);
  const [photo, setPhoto] = useState<{ address: string; sha256: string } | null>(null);
  const { problem, busy, keep, forget } = useKeeping([
    keyOf("runs", job.number),
    keyOf("job", String(job.number)),
    keyOf("shelf"),
    keyOf("plan", job.number),
  ]);
  const sending = useKeeping([]);
  const grid = useRef<HTMLDivElement>(null);
  const order = useQuery(reportOrderQuery(job.number));
  const listed = order.data?.channels;
  const change = (part: Partial<Draft>) => {
    const next = { ...draft, ...part };
    setDraft(next);
    forget();
    localStorage.setItem(key, JSON.stringify(next));
  };
  useEffect(() => {
    if (listed) grid.current?.querySelector("input")?.focus();
  }, [listed]);
  const channels = [...(listed ?? []), ...draft.more];
  const sum = channels.reduce((all, name) => all + number(draft.counts[name]), 0);
  const total = draft.total.trim() === "" ? null : number(draft.total);

  const walk = (event: KeyboardEvent<HTMLDivElement>) => {
    const field = event.target as HTMLInputElement;
    const fields = [...event.currentTarget.querySelectorAll<HTMLInputElement>("input[data-walk]")];
    const at = fields.indexOf(field);
    if (at < 0) return;
    const back = event.key === "ArrowUp" || (event.key === "Backspace" && field.value === "");
    const on = event.key === "ArrowDown" || event.key === "Enter";
    if (!back && !on) return;
    event.preventDefault();
    if (on && event.key === "Enter" && at === fields.length - 1) return void send();
    const next = fields[at + (on ? 1 : -1)];
    next?.focus();
    next?.select();
  };
  const send = async () => {
    const rows = channels.map((channel) => {
      const lines = draft.lines[channel]?.map(number);
      return {
        channel,
        errors: number(draft.counts[channel]),
        ...(withLines && lines?.some((line) => line > 0) ? { lines: padded(lines) } : {}),
      };
    });
    const body = { id: draft.id, rows, total, condition: draft.condition, picture: photo?.sha256 ?? "" };
    const params = { path: { number: job.number } };
    if (!(await keep(() => api.POST("/api/v1/jobs/{number}/runs/typed", { params, body })))) return;
    localStorage.removeItem(key);
    close();
  };
  const show = async (file: File | undefined) => {
    if (!file) return;
    setPhoto({ address: URL.createObjectURL(file), sha256: "" });
    const picture = await sending.keep(async () => ({ data: await sendPicture(file) }));
    if (!picture || picture === "kept") return setPhoto(null);
    setPhoto((old) => old && { ...old, sha256: picture.sha256 });
  };
  const slips = (problem?.facts.slips as Slip[] | undefined) ?? [];
  return (
    <section aria-label={t`Type a photographed table`} className="rounded-lg border border-rule bg-tray p-4">
      <header className="mb-2 flex items-baseline gap-3">
        <h3 className="text-lg font-bold">
          <Trans>Type a photographed table</Trans>
        </h3>
        <button type="button" className="button-plain ml-auto" onClick={close}>
          <Trans>Close, keep what is typed</Trans>
        </button>
      </header>
      <p className="text-soft">
        <Trans>
          {listed && listed.length > 0
            ? t`Channels ${order.data?.known ?? ""}.`
            : t`No channel of this board is known yet: name each as the photograph does.`}{" "}
          Enter goes on, Backspace in an empty field goes back.
        </Trans>
      </p>
      <ChooseFile take={(files) => void show(files[0])} accept={PHOTOGRAPHS} className="mt-2">
        <Trans>Lay the photograph beside it</Trans>
      </ChooseFile>
      {photo && (
        <img
          src={photo.address}
          alt={t`The photographed screen`}
          className="mt-2 max-h-96 w-full object-contain"
        />
      )}
      {/* biome-ignore lint/a11y/noStaticElementInteractions: the keys of its fields are led on here */}
      <div
        ref={grid}
        onKeyDown={walk}
        className="mt-3 grid grid-cols-[repeat(auto-fill,minmax(9rem,1fr))] gap-2"
      >
        {channels.map((channel) => (
          <div key={channel} className={withLines ? "col-span-full" : ""}>
            <label className="flex items-center gap-2">
              <span className="w-12 font-mono text-lg font-bold">{channel}</span>
              <input
                data-walk
                className="field w-full text-right font-mono text-lg"
                inputMode="numeric"
                placeholder="0"
                value={draft.counts[channel] ?? ""}
                onChange={(event) =>
                  change({ counts: { ...draft.counts, [channel]: digits(event.target.value) } })
                }
              />
            </label>
            {withLines && (
              <div className="mt-1 grid grid-cols-8 gap-1">
                {Array.from({ length: LINES }, (_, line) => line).map((line) => (
                  <input
                    key={line}
                    data-walk
                    aria-label={`${channel} DQ ${line}`}
                    className="min-h-9 w-full rounded border border-edge bg-sheet px-1 text-right font-mono"
                    inputMode="numeric"
                    placeholder={String(line)}
                    value={draft.lines[channel]?.[line] ?? ""}
                    onChange={(event) => {
                      const lines = [...(draft.lines[channel] ?? Array.from({ length: LINES }, () => ""))];
                      lines[line] = digits(event.target.value);
                      change({ lines: { ...draft.lines, [channel]: lines } });
                    }}
                  />
                ))}
              </div>
            )}
          </div>
        ))}
        <label className="col-span-full mt-2 flex items-center gap-3">
          <span className="font-semibold">
            <Trans>Total on the photograph, if it shows one</Trans>
          </span>
          <input
            data-walk
            className="field w-36 text-right font-mono text-lg"
            inputMode="numeric"
            value={draft.total}
            onChange={(event) => change({ total: digits(event.target.value) })}
          />
          <output
            data-testid="sum"
            className={total !== null && total !== sum ? "font-bold text-suspect" : ""}
          >
            <Trans>
              typed so far {count(sum)}
              {total !== null
                ? total === sum
                  ? t`, agrees`
                  : t`, differs by ${count(Math.abs(total - sum))}`
                : ""}
            </Trans>
          </output>
        </label>
      </div>
      <AddChannel taken={channels} add={(name) => change({ more: [...draft.more, name] })} />
      <div className="mt-3 flex flex-wrap items-center gap-3">
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="size-5"
            checked={withLines}
            onChange={(event) => setWithLines(event.target.checked)}
          />
          <Trans>with the 32 lines</Trans>
        </label>
        <input
          className="field"
          aria-label={t`Condition`}
          placeholder={t`condition: cold, warm …`}
          list="conditions"
          maxLength={200}
          value={draft.condition}
          onChange={(event) => change({ condition: event.target.value })}
        />
        <button
          type="button"
          className="button ml-auto"
          disabled={busy || channels.length === 0}
          onClick={() => void send()}
        >
          {busy ? t`Reading …` : t`Enter this run`}
        </button>
      </div>
      <FormError problem={sending.problem} />
      {problem && (
        <div role="alert" className="mt-3 border-l-4 border-suspect pl-3">
          <p>{problem.message}</p>
          {slips.map((slip) => (
            <button
              key={slip.channel}
              type="button"
              className="button mt-2 mr-2"
              onClick={() => change({ counts: { ...draft.counts, [slip.channel]: String(slip.would) } })}
            >
              <Trans>
                {slip.channel} is {slip.would}
              </Trans>
            </button>
          ))}
        </div>
      )}
    </section>
  );
}

function AddChannel({ taken, add }: { taken: string[]; add: (name: string) => void }) {
  const [name, setName] = useState("");
  const fits = /^[A-Z]+[0-9]+$/.test(name) && !taken.includes(name);
  const done = () => {
    if (!fits) return;
    add(name);
    setName("");
  };
  return (
    <p className="mt-2 flex items-center gap-2">
      <input
        className="field w-32 font-mono"
        aria-label={t`Add a channel`}
        placeholder="A0"
        maxLength={20}
        value={name}
        onChange={(event) => setName(event.target.value.trim().toUpperCase())}
        onKeyDown={(event) => event.key === "Enter" && done()}
      />
      <button type="button" className="button" disabled={!fits} onClick={done}>
        <Trans>Add a channel</Trans>
      </button>
    </p>
  );
}

function digits(typed: string): string {
  return typed.replace(/[^0-9]/g, "").slice(0, 12);
}

function number(typed: string | undefined): number {
  return typed ? Number(typed) : 0;
}

function padded(lines: number[]): number[] {
  return Array.from({ length: LINES }, (_, line) => lines[line] ?? 0);
}
