import { t } from "@lingui/core/macro";
import { Plural, Trans } from "@lingui/react/macro";
import { useState } from "react";
import type { Arrive } from "../api/client";
import { listed, moment } from "../shared/words";
import type { useArrive } from "./useArrive";

interface MatrixProps {
  found: Arrive;
  arriving: ReturnType<typeof useArrive>;
  mayWork: boolean;
}

type Cell = Arrive["cells"][number];

const COLUMNS = [
  [t`own plug, own lead`, []],
  [t`other plug`, ["plug"]],
  [t`other lead`, ["lead"]],
  [t`other plug and lead`, ["plug", "lead"]],
] as const;
const ROWS = [
  [t`as it came`, []],
  [t`in another computer`, ["computer"]],
  [t`a good card in its place`, ["card"]],
  [t`a good card, another computer`, ["computer", "card"]],
] as const;

/** Computer, plug, lead, card: what each cell rules out, and which test settles most. */
export function Matrix({ found, arriving, mayWork }: MatrixProps) {
  const [open, setOpen] = useState<string | null>(null);
  const cellOf = (things: readonly string[]) =>
    found.cells.find(
      (cell) =>
        cell.other.length === things.length && things.every((thing) => cell.other.includes(thing as "card")),
    );
  const chosen = found.cells.find((cell) => cell.id === open);
  const first = found.next[0];
  return (
    <section aria-labelledby="matrix-title" data-testid="matrix">
      <h3 id="matrix-title" className="text-lg font-bold">
        <Trans>What is it not?</Trans>
      </h3>
      <p className="text-soft">
        <Trans>Each cell is a test with some things exchanged for good ones.</Trans>
      </p>
      <div className="mt-2 grid grid-cols-[6.5rem_repeat(4,1fr)] gap-1 text-[15px]">
        <span />
        {COLUMNS.map(([name]) => (
          <span key={name} className="self-end text-soft">
            {name}
          </span>
        ))}
        {ROWS.map(([row, more]) => (
          <Row
            key={row}
            name={row}
            cells={COLUMNS.map(([, things]) => cellOf([...more, ...things]))}
            open={open}
            first={first?.cell}
            choose={(id) => setOpen(open === id ? null : id)}
          />
        ))}
      </div>
      {chosen && (
        <Tried
          key={chosen.id}
          cell={chosen}
          tries={found.tries}
          arriving={arriving}
          close={() => setOpen(null)}
          mayWork={mayWork}
        />
      )}
      <div className="mt-4 space-y-1">
        {found.chances.map((chance) => (
          <p key={chance.thing} className="grid grid-cols-[9rem_1fr_3.5rem] items-center gap-3">
            <span>{chance.words}</span>
            <span className="block h-2 rounded bg-rule">
              <span
                className="block h-2 rounded bg-ink"
                style={{ width: `${Math.max(1, 100 * chance.chance)}%` }}
              />
            </span>
            <span className="text-right font-mono">{chance.chance.toFixed(2)}</span>
          </p>
        ))}
      </div>
      {found.next.length > 0 && (
        <ol className="mt-4" aria-label={t`Tests that settle most`}>
          {found.next.map((entry, number) => (
            <li
              key={entry.cell}
              className={`border-l-8 py-1 pl-3 ${number === 0 ? "border-next" : "border-rule"}`}
            >
              <Trans>
                <strong>{testWords(found.cells.find((cell) => cell.id === entry.cell))}</strong>
                {entry.tries > 1 ? t`, ${entry.tries} tries` : ""}, about {Math.round(entry.minutes)} min.{" "}
                <span className="text-soft">{entry.why}</span>
              </Trans>
            </li>
          ))}
        </ol>
      )}
    </section>
  );
}

interface RowProps {
  name: string;
  cells: (Cell | undefined)[];
  open: string | null;
  first: string | undefined;
  choose: (id: string) => void;
}

function Row({ name, cells, open, first, choose }: RowProps) {
  return (
    <>
      <span className="self-center leading-tight text-soft">{name}</span>
      {cells.map(
        (cell) =>
          cell && (
            <button
              key={cell.id}
              type="button"
              aria-expanded={open === cell.id}
              className={`relative min-h-16 rounded border-2 px-1.5 py-1 text-left leading-tight aria-expanded:border-ink ${
                first === cell.id ? "border-next" : "border-edge"
              } ${cell.trials.length > 0 ? "bg-tray" : ""}`}
              onClick={() => choose(cell.id)}
            >
              <span className="sr-only">
                {testWords(cell)}: {cell.trials.length === 0 && t`not tried`}
              </span>
              {cell.trials.length > 0 && <strong>{outcomeWords(cell)}</strong>}
              {cell.rules_out.length > 0 && (
                <span>
                  {" "}
                  <Trans>not {listed(cell.rules_out)}</Trans>
                </span>
              )}
            </button>
          ),
      )}
    </>
  );
}

function outcomeWords(cell: Cell): string {
  const shows = cell.trials.filter((trial) => trial.shows).length;
  if (cell.trials.length === 0) return t`not tried`;
  if (shows === cell.trials.length) return "shows";
  return shows === 0 ? "gone" : "both";
}

function testWords(cell: Cell | undefined): string {
  if (!cell || cell.other.length === 0) return t`As it came`;
  return t`With another ${listed(cell.other)}`;
}

interface TriedProps {
  cell: Cell;
  tries: number;
  arriving: ReturnType<typeof useArrive>;
  close: () => void;
  mayWork: boolean;
}

function Tried({ cell, tries, arriving, close, mayWork }: TriedProps) {
  const [many, setMany] = useState(String(tries));
  const number = Number(many);
  const fits = Number.isInteger(number) && number >= 1 && number <= 1000;
  const enter = async (shows: boolean) => {
    if (await arriving.trial(cell.id, shows, number)) close();
  };
  return (
    <div className="mt-2 rounded border-2 border-ink p-3" data-testid="cell">
      <p className="font-bold">{testWords(cell)}</p>
      {cell.trials.map((trial) => (
        <p key={trial.id}>
          <Trans>
            {trial.shows ? t`Shows` : t`Gone`} in {trial.tries}{" "}
            <Plural value={trial.tries} one="try" other="tries" />.{" "}
            <span className="text-soft">
              {trial.by}, {moment(trial.at)}
            </span>{" "}
          </Trans>
          {mayWork && (
            <button type="button" className="button-plain" onClick={() => void arriving.withdraw(trial.id)}>
              <Trans>Take back</Trans>
            </button>
          )}
        </p>
      ))}
      {mayWork && (
        <div className="mt-2 flex flex-wrap items-end gap-2">
          <label className="block w-20">
            <span className="block text-soft">
              <Trans>tries</Trans>
            </span>
            <input
              className="field w-full font-mono"
              inputMode="numeric"
              value={many}
              onChange={(event) => setMany(event.target.value)}
            />
          </label>
          <button type="button" className="button" disabled={!fits} onClick={() => void enter(true)}>
            <Trans>The fault shows</Trans>
          </button>
          <button type="button" className="button" disabled={!fits} onClick={() => void enter(false)}>
            <Trans>It is gone</Trans>
          </button>
        </div>
      )}
    </div>
  );
}
