import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type FormEvent, type ReactNode, useState } from "react";
import { Checkbox } from "../shared/Checkbox";
import { useFirstFocus } from "../shared/focus";
import { Live } from "./Live";
import type { ProbePoint } from "./OhmsPage";
import { type Meter, useMeter } from "./useMeter";
import type { ReadingEntry } from "./useOhms";
import type { Usual } from "./useUsual";

interface ReadingFieldProps {
  point: ProbePoint;
  points: readonly ProbePoint[];
  meter: Meter | undefined;
  card: { serial: string; board: string; off: string[] };
  usual: Usual;
  setUsual: (usual: Usual) => void;
  /** what the meter showed when the last reading was stored */
  held: number | null;
  /** stores it; `raw` is what the meter showed, null where it was typed */
  read: (entry: ReadingEntry, raw: number | null) => Promise<boolean>;
  /** something is entered here: the point stays in turn, whatever is advised or stored elsewhere meanwhile */
  begun: () => void;
  /** on to the next point of the route */
  done: () => void;
  back: () => void;
  /** a pin: its name at arm's length, in which state it is read, where a stand-in holds its probes */
  pin?: { title: string; condition: readonly string[]; hold: string };
  /** what was said of the last reading, between the value and how it is read */
  children?: ReactNode;
}

const OF_THE_CARD = ["warm", "cooler on"] as const;
// of this reading alone: the coil of the next point is in its place
const LIFTED = t`coil lifted`;
const PADS = [
  ["", t`whole`],
  [t`converter pad`, t`converter’s pad`],
  [t`rail pad`, t`rail’s pad`],
] as const;

/** The point's name at arm's length, and the value in shop notation: `2k2`, `OL`, `12..55`; Enter stores it. */
export function ReadingField(props: ReadingFieldProps) {
  const { point, points, meter, card, usual, setUsual, held, read, begun, done, back, pin, children } = props;
  const { mode, conditions } = usual;
  const [against, setAgainst] = useState("");
  const [lifted, setLifted] = useState(false);
  const [pad, setPad] = useState("");
  const [typed, setTyped] = useState<string | null>(null);
  const field = useFirstFocus<HTMLInputElement>();
  const entering =
    <Value,>(set: (value: Value) => void) =>
    (value: Value) => {
      begun();
      set(value);
    };
  const pair = against && against !== "ground" && against !== "across";
  const name = pair ? `${point.name}/${against}` : point.name;
  const across = against === "across" || (!against && ["fuse", "shunt", "pair"].includes(point.kind));
  const hold = {
    serial: card.serial,
    board: card.board,
    point: pin?.hold ?? (pad ? `${point.name} ${pad.split(" ")[0]}` : name),
    to: across ? ("across" as const) : ("ground" as const),
    off: card.off,
    lifted: lifted ? [point.name] : [],
  };
  const { live, lost } = useMeter({ meter, quantity: mode, hold, held });
  const offered = live?.state === "settled" || live?.state === "unsteady" ? live.text : "";
  const value = typed ?? offered;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    // over-limit may be a probe in the air: it is taken by a press and stored by another
    if (!value.trim() && live?.state === "overload") return entering(setTyped)("OL");
    if (!value.trim()) return;
    const entry = {
      point: name,
      quantity: mode,
      value: value.trim(),
      mode: mode === "diode" ? ("diode" as const) : ("ohms" as const),
      condition: [
        ...conditions,
        ...(lifted ? [LIFTED] : []),
        ...(lifted && pad ? [pad] : []),
        ...(pin?.condition ?? []),
      ],
      meter: usual.meter && meter ? usual.meter : "",
      polarity: usual.polarity,
      ...(against && !pair ? { to: against as "ground" | "across" } : {}),
    };
    if (await read(entry, typed === null ? (live?.low ?? null) : null)) done();
  };
  return (
    <form onSubmit={submit} data-testid="reading">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h2 className="font-mono text-[40px] font-bold leading-tight">{pin?.title ?? point.name}</h2>
        <p className="text-soft">
          {[point.net, point.kind, point.side, point.reach].filter(Boolean).join(", ")}
        </p>
      </div>
      <div className="mt-1 flex items-end gap-3">
        <label className="min-w-0 flex-1">
          <span className="block text-soft">
            <Trans>value</Trans>
          </span>
          <input
            ref={field}
            className="field w-full font-mono text-[40px]"
            autoComplete="off"
            maxLength={40}
            value={value}
            onChange={(event) =>
              entering(setTyped)(event.target.value === "o" ? "OL" : event.target.value.replace(",", "."))
            }
            onKeyDown={(event) => {
              if (event.key === "Backspace" && value === "") back();
              if (event.key === "Escape") setTyped(null);
            }}
          />
        </label>
        <button
          type="submit"
          className="button border-next"
          disabled={!value.trim() && live?.state !== "overload"}
        >
          <Trans>
            Store <kbd className="key">Enter</kbd>
          </Trans>
        </button>
      </div>
      {meter?.address ? (
        <Live live={live} lost={lost} typed={typed !== null} />
      ) : (
        <p className="text-soft">
          <Trans>2k2, 0R47, o for OL, 12..55 where it will not settle</Trans>
        </p>
      )}
      {children}
      <fieldset className="mt-2 flex flex-wrap items-center gap-x-4">
        <legend className="sr-only">
          <Trans>how it is read</Trans>
        </legend>
        <Select
          className="field"
          aria-label={t`Quantity`}
          value={mode}
          onChange={(event) => setUsual({ ...usual, mode: event.target.value as typeof mode })}
        >
          <option value="resistance">{t`ohms`}</option>
          <option value="diode">{t`diode`}</option>
        </Select>
        {OF_THE_CARD.map((word) => (
          <Checkbox
            key={word}
            label={word}
            checked={conditions.includes(word)}
            onChange={(on) =>
              setUsual({
                ...usual,
                conditions: on ? [...conditions, word] : conditions.filter((condition) => condition !== word),
              })
            }
          />
        ))}
        {!pin && (
          <>
            <Checkbox label={LIFTED} checked={lifted} onChange={entering(setLifted)} />
            {lifted && (
              <Select
                className="field"
                aria-label={t`Which pad`}
                value={pad}
                onChange={(event) => entering(setPad)(event.target.value)}
              >
                {PADS.map(([word, label]) => (
                  <option key={word} value={word}>
                    {label}
                  </option>
                ))}
              </Select>
            )}
            <label className="flex min-h-11 items-center gap-2">
              <Trans>against</Trans>
              <Select
                className="field"
                aria-label={t`Against`}
                value={against}
                onChange={(event) => entering(setAgainst)(event.target.value)}
              >
                <option value="">{across ? t`across itself` : t`ground`}</option>
                {across ? (
                  <option value="ground">{t`ground`}</option>
                ) : (
                  <option value="across">{t`across itself`}</option>
                )}
                {points
                  .filter((entry) => entry.name !== point.name && !point.name.includes("/"))
                  .map((entry) => (
                    <option key={entry.name} value={entry.name}>
                      {entry.name}
                    </option>
                  ))}
              </Select>
            </label>
          </>
        )}
      </fieldset>
    </form>
  );
}
