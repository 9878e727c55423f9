import { type FormEvent, useEffect, useRef, useState } from "react";
import type { ProbePoint } from "./OhmsPage";
import type { ReadingEntry } from "./useOhms";

/** What the next reading of this job begins with: the mode, and how the card is. */
export interface Usual {
  mode: "resistance" | "diode";
  conditions: string[];
}

interface ReadingFieldProps {
  point: ProbePoint;
  usual: Usual;
  setUsual: (usual: Usual) => void;
  read: (entry: ReadingEntry) => Promise<boolean>;
  /** on to the next point of the route */
  done: () => void;
  back: () => void;
}

const OF_THE_CARD = ["warm", "cooler on"] as const;
// of this reading alone: the coil of the next point is in its place
const LIFTED = "coil lifted";

/** The point's name at arm's length, and the value in shop notation: `2k2`, `OL`, `12..55`; Enter stores it. */
export function ReadingField({ point, usual, setUsual, read, done, back }: ReadingFieldProps) {
  const { mode, conditions } = usual;
  const [lifted, setLifted] = useState(false);
  const [value, setValue] = useState("");
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => field.current?.focus(), []);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (!value.trim()) return;
    const entry = { point: point.name, quantity: mode, value: value.trim() } as const;
    const condition = lifted ? [...conditions, LIFTED] : conditions;
    if (await read({ ...entry, mode: mode === "diode" ? "diode" : "ohms", condition })) done();
  };
  return (
    <form onSubmit={submit} data-testid="reading">
      <h2 className="font-mono text-[40px] font-bold leading-tight">{point.name}</h2>
      <p className="text-soft">
        {[point.net, point.kind, point.side, point.reach].filter(Boolean).join(", ")}
      </p>
      <p className="text-soft">2k2, 0R47, o for OL, 12..55 where it will not settle</p>
      <div className="mt-2 flex items-end gap-3">
        <label className="min-w-0 flex-1">
          <span className="block text-soft">value</span>
          <input
            ref={field}
            className="field w-full font-mono text-[40px]"
            autoComplete="off"
            maxLength={40}
            value={value}
            onChange={(event) =>
              setValue(event.target.value === "o" ? "OL" : event.target.value.replace(",", "."))
            }
            onKeyDown={(event) => {
              if (event.key === "Backspace" && value === "") back();
            }}
          />
        </label>
        <select
          className="field"
          aria-label="Quantity"
          value={mode}
          onChange={(event) => setUsual({ mode: event.target.value as typeof mode, conditions })}
        >
          <option value="resistance">ohms</option>
          <option value="diode">diode</option>
        </select>
        <button type="submit" className="button border-next" disabled={!value.trim()}>
          Store <kbd className="key">Enter</kbd>
        </button>
      </div>
      <fieldset className="mt-2 flex flex-wrap gap-4">
        <legend className="sr-only">condition</legend>
        {OF_THE_CARD.map((word) => (
          <label key={word} className="flex min-h-11 items-center gap-2">
            <input
              type="checkbox"
              className="size-6"
              checked={conditions.includes(word)}
              onChange={(event) => {
                const others = conditions.filter((one) => one !== word);
                setUsual({ mode, conditions: event.target.checked ? [...others, word] : others });
              }}
            />
            {word}
          </label>
        ))}
        <label className="flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            className="size-6"
            checked={lifted}
            onChange={(event) => setLifted(event.target.checked)}
          />
          {LIFTED}
        </label>
      </fieldset>
    </form>
  );
}
