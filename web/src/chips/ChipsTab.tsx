import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, type ReactNode, useState } from "react";
import { useSearchParams } from "react-router";
import type { BoardDetail, Chips, JobDetail, Ohms, Orientation } from "../api/client";
import { Board, NO_NOTES } from "../board/Board";
import type { Notes } from "../board/Shapes";
import { WorkPanel } from "../job/WorkPanel";
import { Mark, VERDICTS } from "../ohms/Mark";
import { Meters } from "../ohms/Meters";
import { ReadingField } from "../ohms/ReadingField";
import type { Measuring } from "../ohms/useOhms";
import { useUsual } from "../ohms/useUsual";
import { keyOf } from "../queries/keys";
import { LoadError, Loading } from "../shared/states";
import { BallMap } from "./BallMap";
import { WALKS, type Walk, walked } from "./classes";
import { OddBalls } from "./OddBalls";
import { byName, PeersTable, signalsOf } from "./PeersTable";
import { SAYS, STATES, type State, useBallMap, useChips } from "./useChips";

interface ChipsTabProps {
  job: JobDetail;
  model: BoardDetail;
  ohms: Ohms;
  orientation: Orientation;
  setOrientation: (orientation: Orientation) => void;
  measuring: Measuring;
  mayWork: boolean;
  head: ReactNode;
}

/** Same pin, other chip: the balls of one chip after another, the odd one found, lifting answered. */
export function ChipsTab({
  job,
  model,
  ohms,
  orientation,
  setOrientation,
  measuring,
  mayWork,
  head,
}: ChipsTabProps) {
  const [search, setSearch] = useSearchParams();
  const chip = search.get("chip") ?? undefined;
  const queries = useQueryClient();
  const chips = useChips(job.number);
  const here = chips.data?.chips.find((entry) => entry.designator === chip);
  const map = useBallMap(job.board_model, chip, !!here?.package);
  const [state, setState] = useState<State>("in circuit");
  const [walk, setWalk] = useState<Walk>("data lines");
  const [chosen, setChosen] = useState<string | null>(null);
  const [table, setTable] = useState(false);
  const [held, setHeld] = useState<number | null>(null);
  const [last, setLast] = useState<string | null>(null);
  const { usual, setUsual } = useUsual(job.number);
  const [mode, setMode] = useState<"diode" | "resistance">("diode");
  if (chips.isError) return <LoadError problem={chips.error} again={() => chips.refetch()} />;
  if (!chips.data) return <Loading what={t`Reading the chips`} />;
  const found = chips.data;
  const quantity = mode;
  const read = found.balls.filter(
    (entry) => entry.chip === chip && entry.state === state && entry.quantity === quantity,
  );
  const done = new Set(read.map((entry) => entry.pin));
  const route = map.data ? walked(map.data, walk) : [];
  const turn = chosen ?? route.find((ball) => !done.has(ball)) ?? null;
  const open = (designator: string, pin: string | null = null) => {
    setTable(false);
    setChosen(pin);
    setLast(null);
    // a chip that is off is read on its pads, unless it is in the hand already
    const off = found.chips.find((entry) => entry.designator === designator)?.lifted ?? false;
    if (off !== (state !== "in circuit")) setState(off ? "site pads" : "in circuit");
    setSearch({ chip: designator }, { replace: chip !== undefined });
    const side = found.chips.find((entry) => entry.designator === designator)?.side;
    if (side && model.drawing && side !== orientation.side) setOrientation({ ...orientation, side });
  };
  const go = (from: string, by: number) => {
    const at = route.indexOf(from);
    if (!map.data || at < 0) return setChosen(by > 0 ? following(from) : null);
    const rest = by > 0 ? route.slice(at + 1).find((ball) => !done.has(ball)) : route[at - 1];
    setChosen(rest ?? null);
  };
  const ball = map.data?.balls.find((entry) => entry.ball === turn);
  const off = found.chips.filter((entry) => entry.lifted).map((entry) => entry.designator);
  const lifted = state !== "in circuit";
  const probing = mayWork && ohms.power?.state === "off" && !!chip && !!turn;
  const said = found.balls.find((entry) => entry.id === last) ?? read.find((entry) => entry.pin === turn);
  return (
    <div className="grid min-h-0 flex-1 grid-rows-[32rem_auto] lg:grid-cols-[58%_1fr] lg:grid-rows-1">
      {table || !model.drawing ? (
        <PeersTable
          chips={found}
          state={state}
          signals={signalsOf(map.data)}
          order={map.data?.lines ?? []}
          choose={open}
        >
          {model.drawing && (
            <button type="button" className="button" onClick={() => setTable(false)}>
              <Trans>To the drawing</Trans>
            </button>
          )}
        </PeersTable>
      ) : map.data && model.drawing ? (
        <BallMap
          map={map.data}
          drawing={model.drawing}
          orientation={orientation}
          setOrientation={setOrientation}
          state={state}
          walk={walk}
          turn={turn}
          choose={(pin) => {
            setChosen(pin);
            setLast(null);
          }}
          read={read}
        >
          <button type="button" className="button" onClick={() => setTable(true)}>
            <Trans>Table by pin and chip</Trans>
          </button>
        </BallMap>
      ) : (
        <Board
          drawing={model.drawing}
          orientation={orientation}
          setOrientation={setOrientation}
          notes={here ? { [here.designator]: { shown: true } } : splitNotes(found)}
          choose={(designator) => open(designator)}
          fit="chips"
          title={t`Board of ${job.label}`}
        />
      )}
      <WorkPanel job={job} step="Ohms">
        {head}
        <div className="flex gap-2">
          <Select
            className="field min-w-0 flex-1 font-mono"
            aria-label={t`Chip`}
            value={chip ?? ""}
            onChange={(event) => open(event.target.value)}
          >
            {!here && <option value={chip ?? ""}>{chip ?? t`which chip`}</option>}
            {[...found.chips]
              .sort((entry, other) => byName(entry.designator, other.designator))
              .map((entry) => (
                <option key={entry.designator} value={entry.designator}>
                  {entry.designator}
                  {entry.lifted ? t` off` : entry.read > 0 ? ` · ${entry.read}` : ""}
                </option>
              ))}
          </Select>
          <Select
            className="field min-w-0"
            aria-label={t`Where the probe is`}
            value={state}
            onChange={(event) => {
              setState(event.target.value as State);
              setChosen(null);
              setLast(null);
            }}
          >
            {STATES.map((name) => (
              <option key={name} value={name}>
                {SAYS[name]}
              </option>
            ))}
          </Select>
          {map.data && (
            <Select
              className="field min-w-0"
              aria-label={t`Which balls`}
              value={walk}
              onChange={(event) => {
                setWalk(event.target.value as Walk);
                setChosen(null);
              }}
            >
              {WALKS.map((name) => (
                <option key={name}>{name}</option>
              ))}
            </Select>
          )}
        </div>
        {probing && chip && turn && (
          <>
            <ReadingField
              key={`${chip} ${turn} ${state} ${measuring.stored}`}
              point={{
                name: `${chip}.${turn}`,
                side: here?.side ?? "front",
                kind: ball?.ball_class ?? "pin",
                net: ball?.signal ?? "",
                reach: SAYS[state],
                x_mm: null,
                y_mm: null,
                picture: null,
                x_px: null,
                y_px: null,
              }}
              points={ohms.points}
              meter={ohms.meters.find((meter) => meter.name === usual.meter)}
              card={{
                serial: job.serial,
                board: job.board_model,
                off: lifted ? [...new Set([...off, chip])] : off.filter((name) => name !== chip),
              }}
              usual={{ ...usual, mode }}
              setUsual={(next) => {
                setMode(next.mode);
                setUsual({ ...next, mode: usual.mode });
              }}
              held={held}
              pin={{
                title: `${chip} ${turn}`,
                condition: lifted ? [state] : [],
                hold: state === "chip alone" ? t`${chip}.${turn} alone` : `${chip}.${turn}`,
              }}
              read={async (entry, raw) => {
                setHeld(raw);
                const kept = await measuring.read(entry);
                await queries.invalidateQueries({ queryKey: keyOf("chips", job.number) });
                setLast(measuring.lastRead());
                return kept;
              }}
              begun={() => setChosen(turn)}
              done={() => go(turn, 1)}
              back={() => go(turn, -1)}
            >
              {said && <Said one={said} chips={found} />}
            </ReadingField>
            <OddBalls chips={found} choose={open} />
            <Meters meters={ohms.meters} usual={usual} setUsual={setUsual} set={measuring.setMeter} />
          </>
        )}
        {chip && !turn && route.length > 0 && (
          <p>
            <Trans>
              {chip}: all {walk} {SAYS[state]} are read.{" "}
            </Trans>
            <NextChip chips={found} chip={chip} walk={route.length} open={open} />
          </p>
        )}
        {!chip && (
          <p className="text-soft">
            <Trans>Choose a chip on the board, or name one.</Trans>
          </p>
        )}
        {!probing && <OddBalls chips={found} choose={open} />}
        {mayWork && <AnyPin open={open} chip={chip} />}
      </WorkPanel>
    </div>
  );
}

/** The pin after a numbered one, where no ball map says the order. */
function following(pin: string): string | null {
  const found = /^(.*?)([0-9]+)$/.exec(pin);
  return found ? `${found[1]}${Number(found[2]) + 1}` : null;
}

interface ChoiceProps {
  chips: Chips;
  chip: string | undefined;
  open: (chip: string, pin?: string | null) => void;
}

function NextChip({ chips, chip, walk, open }: ChoiceProps & { walk: number }) {
  const next = [...chips.chips]
    .sort((entry, other) => byName(entry.designator, other.designator))
    .find((entry) => entry.designator !== chip && entry.package && !entry.lifted && entry.read < walk);
  if (!next) return null;
  return (
    <button type="button" className="button" onClick={() => open(next.designator)}>
      <Trans>On to {next.designator}</Trans>
    </button>
  );
}

/** A chip without a ball map, or a pin off the route: named by hand. */
function AnyPin({ chip, open }: Omit<ChoiceProps, "chips">) {
  const [name, setName] = useState("");
  const [pin, setPin] = useState("");
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const at = (name.trim() || chip || "").toUpperCase();
    if (at && pin.trim()) open(at, pin.trim().toUpperCase());
  };
  return (
    <details>
      <summary className="cursor-pointer py-1 underline underline-offset-3">
        <Trans>Another chip, another pin</Trans>
      </summary>
      <form onSubmit={submit} className="mt-1 flex items-end gap-3">
        <label>
          <span className="block text-soft">
            <Trans>chip</Trans>
          </span>
          <input
            className="field w-28 font-mono"
            maxLength={12}
            placeholder={chip ?? "U71"}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <label>
          <span className="block text-soft">
            <Trans>pin</Trans>
          </span>
          <input
            className="field w-24 font-mono"
            maxLength={12}
            value={pin}
            onChange={(event) => setPin(event.target.value)}
          />
        </label>
        <button type="submit" className="button" disabled={!pin.trim() || !(name.trim() || chip)}>
          <Trans>Read it</Trans>
        </button>
      </form>
    </details>
  );
}

/** What was read last, what its fellows say of it, and what the other chips read there. */
function Said({ one, chips }: { one: Chips["balls"][number]; chips: Chips }) {
  const others = chips.balls.filter(
    (other) =>
      other.pin === one.pin &&
      other.state === one.state &&
      other.quantity === one.quantity &&
      other.chip !== one.chip,
  );
  return (
    <section aria-live="polite" className="my-3" data-testid="ball-said">
      <p className="flex items-center gap-3 text-2xl font-bold">
        <Mark verdict={one.verdict} size={28} />
        <span className="font-mono">
          {one.chip} {one.pin}
        </span>
        <span className="font-mono">{one.shown}</span> {VERDICTS[one.verdict]}
      </p>
      <p>{one.why}</p>
      {others.length > 0 && (
        <p className="flex flex-wrap gap-x-4 text-soft">
          {others.map((other) => (
            <span key={other.id} className="font-mono">
              {other.chip} {other.shown}
            </span>
          ))}
        </p>
      )}
    </section>
  );
}

/** Where chips fall into two groups: every one of them is a suspect, and carries what it reads. */
function splitNotes(chips: Chips): Notes {
  const first = chips.split[0];
  if (!first) return NO_NOTES;
  return Object.fromEntries(
    first.groups.flatMap((group) => group.chips.map((chip) => [chip, { pennant: group.shown }])),
  );
}
