import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type DragEvent, useEffect, useState } from "react";
import { Link, useLocation, useNavigate } from "react-router";
import type { Drawing, Marked, Reader, Tried } from "../api/client";
import { upload } from "../api/upload";
import { Board } from "../board/Board";
import { notesOf } from "../board/notes";
import { keyOf } from "../queries/keys";
import { boardModelQuery, boardModelsQuery, tryReaderQuery } from "../queries/library";
import { ChooseFile } from "../shared/ChooseFile";
import { count, listed } from "../shared/words";
import { Columns } from "./Columns";
import { SampleLines } from "./SampleLines";

/** Words of the sample that were clicked and have no column yet. */
export type Word = Omit<Marked, "column">;

interface Draft {
  sample: string;
  name: string;
  marks: Marked[];
  channels: Record<string, string>;
  wordOrder: "dq0-right" | "dq0-left";
  model: string;
}

const KEPT = "uvrix-teach";
const MOST_SIGNS = 390_000;
const BLANK: Draft = { sample: "", name: "", marks: [], channels: {}, wordOrder: "dq0-right", model: "" };

/** What the page that sends here hands over. */
export interface TeachFrom {
  sample: string;
  name: string;
  model: string;
  job: number;
}

function keptDraft(from: TeachFrom | null): Draft {
  if (from) return { ...BLANK, sample: from.sample.slice(0, MOST_SIGNS), name: from.name, model: from.model };
  const kept = sessionStorage.getItem(KEPT);
  return kept ? { ...BLANK, ...JSON.parse(kept) } : BLANK;
}

/** Teaching a reader: drop a sample, click words, say what they are; it is shown live on the whole sample. */
export function TeachReader() {
  const from = (useLocation().state ?? null) as TeachFrom | null;
  const [draft, setDraft] = useState(() => keptDraft(from));
  const [word, setWord] = useState<Word | null>(null);
  const [said, setSaid] = useState("");
  const navigate = useNavigate();
  const queries = useQueryClient();
  const change = (part: Partial<Draft>) => setDraft((old) => ({ ...old, ...part }));
  useEffect(() => sessionStorage.setItem(KEPT, JSON.stringify(draft)), [draft]);
  const models = useQuery(boardModelsQuery());
  const tried = useQuery({ ...tryReaderQuery(draft, bodyOf(draft)), enabled: draft.sample !== "" });
  const take = async (file: File | undefined) => {
    if (!file) return;
    const sample = (await file.slice(0, MOST_SIGNS).text()).replaceAll("\0", "�");
    change({ ...BLANK, sample, name: file.name.replace(/\.[^.]*$/, ""), model: draft.model });
  };
  const mark = (column: string) => {
    if (!word) return;
    const others = draft.marks.filter((entry) => !overlaps(entry, word));
    change({ marks: column ? [...others, { ...word, column }] : others });
    setWord(null);
  };
  const save = async () => {
    const form = new FormData();
    const text = JSON.stringify(tried.data?.document, null, 1);
    form.append("file", new File([text], `${draft.name}.reader.json`));
    try {
      const reader = await upload<Reader>("/api/v1/readers", form, () => undefined);
      await queries.invalidateQueries({ queryKey: keyOf("readers") });
      sessionStorage.removeItem(KEPT);
      if (from) navigate(`/jobs/${from.job}/memory`);
      else setSaid(t`${reader.name} is saved, edition ${reader.edition}.`);
    } catch (problem) {
      setSaid((problem as Error).message);
    }
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    void take(event.dataTransfer.files[0]);
  };
  if (draft.sample === "")
    return (
      <Start
        take={take}
        paste={(sample) => change({ sample: sample.slice(0, MOST_SIGNS), name: "pasted" })}
      />
    );
  return (
    <main
      className="grid lg:h-dvh lg:grid-cols-[1fr_30rem]"
      onDragOver={(event) => event.preventDefault()}
      onDrop={drop}
    >
      <section aria-label={t`Sample`} className="flex min-h-0 min-w-0 flex-col">
        <header className="flex flex-wrap items-end gap-4 border-b border-rule p-4">
          <h1 className="text-2xl font-bold">
            <Trans>Teach a reader</Trans>
          </h1>
          <p className="text-soft" data-testid="read-counts">
            {countsOf(tried.data)}
          </p>
          <button
            type="button"
            className="button-plain ml-auto"
            onClick={() => {
              setDraft(BLANK);
              setSaid("");
            }}
          >
            <Trans>Another sample</Trans>
          </button>
        </header>
        <SampleLines lines={tried.data?.lines ?? []} marks={draft.marks} word={word} choose={setWord} />
      </section>
      <section
        aria-label={t`Reader`}
        className="min-h-0 space-y-4 overflow-y-auto border-rule bg-sheet p-5 lg:border-l"
      >
        {word ? (
          <Columns text={textOf(draft.sample, word)} mark={mark} leave={() => setWord(null)} />
        ) : (
          <p className="border-l-8 border-next bg-tray px-4 py-2">
            <strong>
              {draft.marks.length === 0
                ? t`Click a word of a line that tells of an error.`
                : nextWord(draft.marks)}
            </strong>
          </p>
        )}
        {draft.marks.length > 0 && (
          <ul aria-label={t`Marked words`} className="flex flex-wrap gap-2">
            {draft.marks.map((entry) => (
              <li key={`${entry.line} ${entry.start}`} className="rounded-md border border-edge px-2 py-1">
                <Trans>
                  <strong className="font-mono">{textOf(draft.sample, entry)}</strong> is {entry.column}{" "}
                </Trans>
                <button
                  type="button"
                  className="button-plain"
                  aria-label={t`take off ${entry.column}`}
                  onClick={() => change({ marks: draft.marks.filter((other) => other !== entry) })}
                >
                  <Trans>take off</Trans>
                </button>
              </li>
            ))}
          </ul>
        )}
        {tried.data?.problem && (
          <p role="alert" className="border-l-4 border-suspect pl-3">
            {tried.data.problem}
          </p>
        )}
        {tried.isError && (
          <p role="alert" className="border-l-4 border-suspect pl-3">
            {tried.error.message}
          </p>
        )}
        <label className="block">
          <span className="block font-semibold">
            <Trans>Try it on this board</Trans>
          </span>
          <Select
            className="field w-full"
            value={draft.model}
            onChange={(event) => change({ model: event.target.value })}
          >
            <option value="">{t`No board`}</option>
            {models.data?.map((model) => (
              <option key={model.slug} value={model.slug}>
                {t`${model.name}, revision ${model.revision || "–"}`}
              </option>
            ))}
          </Select>
        </label>
        {draft.model && <Lit slug={draft.model} tried={tried.data} />}
        <Channels draft={draft} tried={tried.data} change={change} />
        <fieldset>
          <legend className="font-semibold">
            <Trans>In a word of bits, DQ 0 is</Trans>
          </legend>
          {(["dq0-right", "dq0-left"] as const).map((order) => (
            <label key={order} className="mr-5 inline-flex min-h-11 items-center gap-2">
              <input
                type="radio"
                checked={draft.wordOrder === order}
                onChange={() => change({ wordOrder: order })}
              />
              {order === "dq0-right" ? t`the right end` : t`the left end`}
            </label>
          ))}
        </fieldset>
        <label className="block">
          <span className="block font-semibold">
            <Trans>Name of the reader</Trans>
          </span>
          <input
            className="field w-full"
            maxLength={80}
            value={draft.name}
            onChange={(event) => change({ name: event.target.value })}
          />
        </label>
        {said && (
          <p role="status" className="border-l-4 border-ink bg-tray px-3 py-2">
            {said}{" "}
            <Link className="button-plain" to="/library">
              <Trans>Library</Trans>
            </Link>
          </p>
        )}
        <button
          type="button"
          className="button w-full"
          disabled={!tried.data?.document || tried.isPlaceholderData || !draft.name.trim()}
          onClick={save}
        >
          {from ? t`Save it, and read the report` : t`Save the reader`}
        </button>
      </section>
    </main>
  );
}

function bodyOf(draft: Draft) {
  return {
    sample: draft.sample,
    marks: draft.marks,
    name: draft.name.trim() || "reader",
    channels: Object.fromEntries(Object.entries(draft.channels).filter(([, channel]) => channel !== "")),
    word_order: draft.wordOrder,
    board_model: draft.model,
  };
}

function overlaps(one: Word, other: Word): boolean {
  return one.line === other.line && one.start < other.end && other.start < one.end;
}

function textOf(sample: string, word: Word): string {
  return sample.split(/\r?\n/)[word.line]?.slice(word.start, word.end) ?? "";
}

function countsOf(tried: Tried | undefined): string {
  if (!tried) return "";
  const rows = tried.lines.filter((line) => line.use === "error" || line.use === "tally").length;
  return t`${count(rows)} rows read, ${count(tried.unread)} lines not`;
}

/** What is usually still missing. */
function nextWord(marks: Marked[]): string {
  const has = (...columns: string[]) => marks.some((mark) => columns.includes(mark.column));
  const ended = marks.some((mark) => /^(result|refusal)/.test(mark.column));
  if (!has("channel", "address") && !ended) return t`Click the channel, or the address.`;
  if (has("channel", "address") && !has("errors", "dq0", "expected", "bits"))
    return t`Click what was expected and what was read, or the count of errors.`;
  if (has("expected") && !has("actual")) return t`Click what was read instead.`;
  return t`Lines that are still not read may be passed over, or told of the condition.`;
}

function Start({ take, paste }: { take: (file: File | undefined) => void; paste: (sample: string) => void }) {
  return (
    <main
      className="p-6"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        take(event.dataTransfer.files[0]);
      }}
    >
      <h1 className="mb-4 text-3xl font-bold">
        <Trans>Teach a reader</Trans>
      </h1>
      <div className="max-w-3xl rounded-lg border-2 border-dashed border-edge p-8">
        <p className="mb-4 text-lg">
          <Trans>Drop a sample of what your tester writes, choose it, or paste it.</Trans>
        </p>
        <ChooseFile take={(files) => take(files[0])}>
          <Trans>Choose a sample</Trans>
        </ChooseFile>
        <textarea
          className="field mt-4 w-full font-mono"
          rows={8}
          aria-label={t`Paste a sample`}
          placeholder={t`Paste a sample`}
          onChange={(event) => event.target.value.includes("\n") && paste(event.target.value)}
        />
      </div>
    </main>
  );
}

/** The board lit by the sample, as the reader reads it so far. */
function Lit({ slug, tried }: { slug: string; tried: Tried | undefined }) {
  const model = useQuery(boardModelQuery(slug));
  const drawing: Drawing | null | undefined = model.data?.drawing;
  if (!drawing) return null;
  const finding = tried?.located?.finding;
  return (
    <div>
      <div className="h-72">
        <Board
          drawing={drawing}
          orientation={{ side: "front", turns: 0 }}
          setOrientation={undefined}
          notes={notesOf(tried?.located ?? undefined, undefined, null)}
          fit="chips"
          title={t`Board of the sample`}
          plain
        />
      </div>
      {finding && (
        <p data-testid="tried-finding">
          <strong>{listed(finding.designators) || t`No chip`}</strong>: {finding.title}. {finding.why[0]}
        </p>
      )}
    </div>
  );
}

/** Channels under the names that the text gives them; a name that is none is given one of the board's. */
function Channels({
  draft,
  tried,
  change,
}: {
  draft: Draft;
  tried: Tried | undefined;
  change: (part: Partial<Draft>) => void;
}) {
  const named = new Set(tried?.lines.flatMap((line) => (line.cells.channel ? [line.cells.channel] : [])));
  const strange = [...named].filter((name) => !/^[A-Z][0-9]$/.test(name));
  if (strange.length === 0) return null;
  return (
    <fieldset>
      <legend className="font-semibold">
        <Trans>Channels that the text names otherwise</Trans>
      </legend>
      {strange.slice(0, 24).map((name) => (
        <label key={name} className="mt-1 flex items-center gap-3">
          <span className="w-40 truncate font-mono">{name}</span>
          <input
            className="field w-24 font-mono"
            placeholder="A0"
            aria-label={t`Channel of ${name}`}
            value={draft.channels[name] ?? ""}
            onChange={(event) =>
              change({ channels: { ...draft.channels, [name]: event.target.value.toUpperCase() } })
            }
          />
        </label>
      ))}
    </fieldset>
  );
}
