import { t } from "@lingui/core/macro";
import type { Orientation, Slot } from "../api/client";
import { MarkPath } from "../ohms/Mark";

type Contact = Slot["contacts"][number];
type Read = Slot["readings"][number];

interface ContactsProps {
  slot: Slot;
  /** the side that faces the technician: its row lies in front, and the bracket where it is then */
  side: Orientation["side"];
  turn: string | null;
  choose: (contact: string) => void;
}

/** So many places of the row a band; four bands show it all at a size that can be read. */
const BAND = 21;
const WIDE = 34;
const HIGH = 44;
const GAP = 26;
const TOP = 36;

const FILL: Record<Contact["kind"], string> = {
  lane: "fill-sheet stroke-ink",
  clock: "fill-sheet stroke-ink",
  detect: "fill-tray stroke-ink",
  signal: "fill-tray stroke-edge",
  power: "fill-ink stroke-ink",
  ground: "fill-rule stroke-edge",
  reserved: "fill-none stroke-rule",
};
/** Both sides of the connector, contact by contact, in bands from the bracket on; the seen side's row below. */
export function Contacts({ slot, side, turn, choose }: ContactsProps) {
  const last = Math.max(...slot.contacts.map((contact) => contact.place));
  const bands = Math.ceil((last + 1) / BAND);
  const begins = [0, BAND, 2 * BAND, 3 * BAND].slice(0, bands);
  const seen = side === "front" ? "B" : "A";
  const read = new Map<string, Read>();
  for (const reading of slot.readings)
    if (reading.quantity === "diode" && reading.to === "ground") read.set(reading.contact, reading);
  const tall = TOP + 2 * HIGH + GAP;
  const width = BAND * WIDE + 20;
  return (
    <svg
      viewBox={`0 0 ${width} ${bands * tall}`}
      className="w-full select-none"
      role="img"
      aria-label={t`Slot contacts, ${side} in front`}
    >
      {begins.map((begin, band) => (
        <g key={begin} transform={`translate(10 ${band * tall + TOP})`}>
          <text
            x={side === "front" ? 0 : width - 20}
            y={-22}
            fontSize={15}
            textAnchor={side === "front" ? "start" : "end"}
            className="fill-soft"
          >
            {band === 0
              ? side === "front"
                ? "← BRACKET"
                : "BRACKET →"
              : t`on from contact ${first(slot, band)}`}
          </text>
          {slot.contacts
            .filter((contact) => Math.floor(contact.place / BAND) === band)
            .map((contact) => {
              const along = contact.place % BAND;
              const x = (side === "front" ? along : BAND - 1 - along) * WIDE;
              const y = contact.row === seen ? HIGH + 5 : 0;
              return (
                <OneContact
                  key={contact.name}
                  one={contact}
                  x={x}
                  y={y}
                  hidden={contact.row !== seen}
                  turn={contact.name === turn}
                  read={read.get(contact.name)}
                  choose={choose}
                />
              );
            })}
          <Lanes slot={slot} band={band} side={side} seen={seen} />
        </g>
      ))}
    </svg>
  );
}

function first(slot: Slot, band: number): number {
  return Math.min(
    ...slot.contacts
      .filter((contact) => Math.floor(contact.place / BAND) === band)
      .map((contact) => contact.number),
  );
}

interface OneProps {
  one: Contact;
  x: number;
  y: number;
  hidden: boolean;
  turn: boolean;
  read: Read | undefined;
  choose: (contact: string) => void;
}

function OneContact({ one, x, y, hidden, turn, read, choose }: OneProps) {
  const dark = one.kind === "power";
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the lanes beside it are chosen by the keyboard
    <g
      transform={`translate(${x} ${y})`}
      opacity={one.used ? 1 : 0.35}
      className="cursor-pointer"
      data-contact={one.name}
      data-torn={one.torn ? "" : undefined}
      onClick={() => choose(one.name)}
    >
      <title>{`${one.name}, ${one.carries}${one.torn ? t`, torn` : ""}${read ? `, ${read.shown}` : ""}`}</title>
      {one.torn ? (
        <path
          d={`M1.5 0V${HIGH * 0.2}l7 -4 8 6 8 -6 7 3V0zM1.5 ${HIGH}V${HIGH * 0.46}l7 4 8 -6 8 6 7 -3V${HIGH}z`}
          className="fill-suspect-wash stroke-suspect"
          strokeWidth={1.6}
        />
      ) : (
        <rect
          x={1.5}
          width={WIDE - 4}
          height={HIGH}
          rx={2}
          strokeWidth={1}
          strokeDasharray={hidden ? "4 2.5" : undefined}
          className={FILL[one.kind]}
        />
      )}
      <text
        x={WIDE / 2 - 0.5}
        y={HIGH - 6}
        fontSize={14}
        textAnchor="middle"
        className={`font-mono ${dark && !one.torn ? "fill-sheet" : "fill-ink"}`}
      >
        {one.name}
      </text>
      <text x={9} y={16} fontSize={14} textAnchor="middle" className="fill-ink">
        {one.torn ? "" : one.half}
      </text>
      {read && !one.torn && (
        <g transform={`translate(${WIDE - 19} 4) scale(0.95)`}>
          <MarkPath verdict={read.verdict} />
        </g>
      )}
      {turn && (
        <rect
          x={-1}
          y={-3}
          width={WIDE + 1}
          height={HIGH + 6}
          rx={4}
          className="fill-none stroke-next"
          strokeWidth={3}
        />
      )}
    </g>
  );
}

interface LanesProps {
  slot: Slot;
  band: number;
  side: Orientation["side"];
  seen: string;
}

/** The name of each pair, beside its two contacts. */
function Lanes({ slot, band, side, seen }: LanesProps) {
  const pairs = slot.contacts.filter(
    (contact) => contact.half === "p" && Math.floor(contact.place / BAND) === band,
  );
  return (
    <>
      {pairs.map((pair) => {
        const along = pair.place % BAND;
        const middle = (side === "front" ? along + 1 : BAND - 1 - along) * WIDE;
        // a pair that the band's end parts is named within the band
        const x = Math.min(Math.max(middle, 16), BAND * WIDE - 16);
        const y = pair.row === seen ? 2 * HIGH + 19 : -3;
        return (
          <text
            key={pair.name}
            x={x}
            y={y}
            fontSize={13}
            textAnchor="middle"
            opacity={pair.used ? 1 : 0.35}
            className="fill-ink font-bold"
          >
            {pair.lane === null ? t`clock` : `${pair.lane} ${pair.pair}`}
          </text>
        );
      })}
    </>
  );
}
