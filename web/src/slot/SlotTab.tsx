import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type ReactNode, useState } from "react";
import type { JobDetail, Ohms, Orientation, Slot } from "../api/client";
import { WorkPanel } from "../job/WorkPanel";
import { Mark, VERDICTS } from "../ohms/Mark";
import { Meters } from "../ohms/Meters";
import { ReadingField } from "../ohms/ReadingField";
import type { Measuring } from "../ohms/useOhms";
import { useUsual } from "../ohms/useUsual";
import { useKeys } from "../shared/keys";
import { LoadError, Loading } from "../shared/states";
import { Contacts } from "./Contacts";
import { useSlot } from "./useSlot";

interface SlotTabProps {
  job: JobDetail;
  ohms: Ohms;
  orientation: Orientation;
  setOrientation: (orientation: Orientation) => void;
  measuring: Measuring;
  mayWork: boolean;
  head: ReactNode;
}

/** The slot contacts: probed lane by lane, torn ones recorded, the width that the link will train at. */
export function SlotTab({ job, ohms, orientation, setOrientation, measuring, mayWork, head }: SlotTabProps) {
  const { slot, problem, tear, mend, follow } = useSlot(job.number);
  const [chosen, setChosen] = useState<string | null>(null);
  const [held, setHeld] = useState<number | null>(null);
  const [last, setLast] = useState<string | null>(null);
  const [mode, setMode] = useState<"diode" | "resistance">("diode");
  const { usual, setUsual } = useUsual(job.number);
  const flip = () =>
    setOrientation({ ...orientation, side: orientation.side === "front" ? "back" : "front" });
  useKeys({ f: flip });
  if (slot.isError) return <LoadError problem={slot.error} again={() => slot.refetch()} />;
  if (!slot.data) return <Loading what={t`Reading the slot contacts`} />;
  const found = slot.data;
  const done = new Set(found.readings.map((reading) => reading.point));
  const torn = new Set(found.contacts.filter((entry) => entry.torn).map((entry) => entry.name));
  const waiting = (point: string) => !done.has(point) && !torn.has(point.split(".")[1] ?? "");
  const turn = chosen ?? found.route.find(waiting) ?? null;
  const [where = "", name = ""] = turn?.split(".") ?? [];
  const contact = found.contacts.find((entry) => entry.name === name);
  const choose = (next: string) => {
    const point = found.route.find((word) => word.endsWith(`.${next}`)) ?? `slot.${next}`;
    // a second click goes from the core's side of the capacitor to the contact itself, and back
    setChosen(point === turn && point.startsWith("caps.") ? `slot.${next}` : point);
    setLast(null);
  };
  const go = (from: string, by: number) => {
    const at = found.route.indexOf(from);
    setChosen((by > 0 ? found.route.slice(at + 1).find(waiting) : found.route[at - 1]) ?? null);
  };
  const said =
    found.readings.find((reading) => reading.id === last) ??
    found.readings.find((reading) => reading.point === turn);
  const atCapacitor = where === "caps";
  return (
    <div className="grid min-h-0 flex-1 grid-rows-[32rem_auto] lg:grid-cols-[58%_1fr] lg:grid-rows-1">
      <section aria-label={t`Slot contacts`} className="flex min-h-0 flex-col bg-tray">
        <div className="min-h-0 flex-1 overflow-auto p-3">
          <Contacts slot={found} side={orientation.side} turn={contact?.name ?? null} choose={choose} />
        </div>
        <div className="flex items-center gap-4 border-rule border-t bg-sheet px-4 py-2">
          <p>
            <strong>{orientation.side === "front" ? t`Front, row B below` : t`Back, row A below`}.</strong>{" "}
            <span className="text-soft">
              <Trans>The other side dashed above. Dark: supply; grey: ground.</Trans>
            </span>
          </p>
          <button type="button" className="button ml-auto" onClick={flip}>
            <Trans>
              Flip <kbd className="key">f</kbd>
            </Trans>
          </button>
        </div>
      </section>
      <WorkPanel job={job} step="Ohms">
        {head}
        {problem && (
          <p role="alert" className="border-suspect border-l-4 pl-3">
            {problem}
          </p>
        )}
        <Width slot={found} />
        {mayWork && ohms.power?.state === "off" && turn && contact && (
          <>
            <ReadingField
              key={`${turn} ${measuring.stored}`}
              point={{
                name: turn,
                side: contact.row === "B" ? "front" : "back",
                kind: atCapacitor ? "core’s side of its capacitor" : "contact",
                net: contact.carries,
                reach: "",
                x_mm: null,
                y_mm: null,
                picture: null,
                x_px: null,
                y_px: null,
              }}
              points={ohms.points}
              meter={ohms.meters.find((meter) => meter.name === usual.meter)}
              card={{ serial: job.serial, board: job.board_model, off: [] }}
              usual={{ ...usual, mode }}
              setUsual={(next) => {
                setMode(next.mode);
                setUsual({ ...next, mode: usual.mode });
              }}
              held={held}
              pin={{ title: atCapacitor ? t`${name}, capacitor` : name, condition: [], hold: turn }}
              read={async (entry, raw) => {
                setHeld(raw);
                // in ohms a capacitor is read across itself: over-limit is right
                const across = atCapacitor && entry.quantity === "resistance";
                const kept = await measuring.read(across ? { ...entry, to: "across" } : entry);
                await follow();
                setLast(measuring.lastRead());
                return kept;
              }}
              begun={() => setChosen(turn)}
              done={() => go(turn, 1)}
              back={() => go(turn, -1)}
            >
              {said && <Said one={said} />}
            </ReadingField>
            <Meters meters={ohms.meters} usual={usual} setUsual={setUsual} set={measuring.setMeter} />
          </>
        )}
        {contact && (
          <div className="flex flex-wrap items-center gap-3">
            <p className="text-lg">
              <strong className="font-mono">{contact.name}</strong> {contact.carries}
              {!contact.used && t`, which this board has not wired`}
            </p>
            {mayWork &&
              (contact.torn ? (
                <button type="button" className="button" onClick={() => void mend(contact.torn ?? "")}>
                  <Trans>{contact.name} is not torn</Trans>
                </button>
              ) : (
                <button
                  type="button"
                  className="button"
                  onClick={async () => {
                    // back to the route, which passes torn contacts over
                    if (await tear(contact.name, contact.row === "B" ? "front" : "back")) setChosen(null);
                  }}
                >
                  <Trans>{contact.name} is torn</Trans>
                </button>
              ))}
          </div>
        )}
        {!turn && (
          <p>
            <Trans>Every lane is read.</Trans>
          </p>
        )}
        <Lanes slot={found} turn={turn} choose={setChosen} />
      </WorkPanel>
    </div>
  );
}

/** The width that is predicted, from either end, and what stands in the way. */
function Width({ slot }: { slot: Slot }) {
  const { link } = slot;
  const whole = link.lanes_read === slot.lanes;
  const width = whole ? link.width : link.best_width;
  const start = whole ? link.start : link.best_start;
  const dead = !["works", "not read"].includes(slot.clock);
  if (!dead && link.lanes_read === 0 && slot.readings.length === 0 && slot.notes.length === 0)
    return (
      <section data-testid="width">
        <h3 className="font-bold text-2xl">
          <Trans>Nothing read yet</Trans>
        </h3>
        <p>
          <Trans>The width follows from the lanes, counted from either end.</Trans>
        </p>
      </section>
    );
  return (
    <section aria-live="polite" data-testid="width">
      <h3 className="font-bold text-2xl">
        {dead ? t`No link: the reference clock` : width === 0 ? t`No link` : t`Trains at ×${width}`}
        {!dead && width > 0 && (
          <span className="font-normal text-lg">
            {" "}
            <Trans>counted from lane {start}</Trans>
          </span>
        )}
      </h3>
      <p>
        {whole
          ? link.why
          : t`${link.lanes_read} of ${slot.lanes} lanes are read whole; at best, if the others work.`}
      </p>
      <ul>
        {[...slot.notes, ...(whole ? link.warnings : [])].map((note) => (
          <li key={note} className="mt-1 border-edge border-l-4 pl-3">
            {note}
          </li>
        ))}
      </ul>
    </section>
  );
}

function Said({ one }: { one: Slot["readings"][number] }) {
  return (
    <section aria-live="polite" className="my-3" data-testid="contact-said">
      <p className="flex items-center gap-3 font-bold text-2xl">
        <Mark verdict={one.verdict} size={28} />
        <span className="font-mono">{one.contact}</span>
        <span className="font-mono">{one.shown}</span> {VERDICTS[one.verdict]}
      </p>
      <p>{one.why}</p>
    </section>
  );
}

const HALVES = [
  ["rx", "p"],
  ["rx", "n"],
  ["tx", "p"],
  ["tx", "n"],
] as const;

interface LanesProps {
  slot: Slot;
  turn: string | null;
  choose: (point: string) => void;
}

/** The lanes as a table: what each half reads, the lane in a word. */
function Lanes({ slot, turn, choose }: LanesProps) {
  const read = new Map(
    slot.readings
      .filter((reading) => reading.quantity === "diode")
      .map((reading) => [reading.point, reading]),
  );
  return (
    <table className="w-full border-separate border-spacing-0" data-testid="lanes">
      <caption className="py-1 text-left font-bold text-lg">
        <Trans>Lanes, in diode mode</Trans>
      </caption>
      <thead>
        <tr>
          <th scope="col" className="text-left">
            <Trans>lane</Trans>
          </th>
          {HALVES.map(([pair, half]) => (
            <th key={pair + half} scope="col" className="text-right font-normal text-soft">
              {pair} {half}
            </th>
          ))}
          <th scope="col" className="pl-4 text-left font-normal text-soft">
            <Trans>it</Trans>
          </th>
        </tr>
      </thead>
      <tbody>
        {slot.verdicts.map((lane) => (
          <tr key={lane.lane} data-lane={lane.lane}>
            <th scope="row" className="border-rule border-t text-left font-mono">
              {lane.lane}
            </th>
            {HALVES.map(([pair, half]) => {
              const contact = slot.contacts.find(
                (entry) => entry.lane === lane.lane && entry.pair === pair && entry.half === half,
              );
              const point = `${pair === "rx" ? "slot" : "caps"}.${contact?.name}`;
              const one = read.get(point);
              const odd = one && !["within", "no-reference"].includes(one.verdict);
              return (
                <td key={pair + half} className={`border-rule border-t p-0 ${odd ? "bg-suspect-wash" : ""}`}>
                  <button
                    type="button"
                    className={`flex min-h-8 w-full items-center justify-end gap-1 px-1 font-mono ${point === turn ? "outline-2 outline-next" : ""}`}
                    onClick={() => choose(point)}
                  >
                    {contact?.torn ? (
                      <span className="text-suspect">
                        <Trans>torn</Trans>
                      </span>
                    ) : one ? (
                      <>
                        {odd && <Mark verdict={one.verdict} size={16} />}
                        {one.shown}
                      </>
                    ) : (
                      <span className="text-soft">{contact?.name}</span>
                    )}
                  </button>
                </td>
              );
            })}
            <td
              className={`border-rule border-t pl-4 ${lane.verdict === "works" ? "text-good" : "font-bold"}`}
            >
              {lane.verdict || "–"}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
