import type { InputHTMLAttributes } from "react";

interface LineProps extends Omit<InputHTMLAttributes<HTMLInputElement>, "value" | "onChange"> {
  says: string;
  value: string;
  set: (value: string) => void;
  /** for designators and figures */
  mono?: boolean;
  /** its width; one that grows takes the room that is left */
  wide?: string;
}

/** A line to type in, its name above it. */
export function Line({ says, value, set, mono = false, wide = "grow", ...more }: LineProps) {
  const grows = wide === "grow";
  return (
    <label className={grows ? "block min-w-40 flex-1" : undefined}>
      <span className="block text-soft">{says}</span>
      <input
        maxLength={200}
        {...more}
        className={`field ${grows ? "w-full" : wide} ${mono ? "font-mono" : ""}`}
        value={value}
        onChange={(event) => set(event.target.value)}
      />
    </label>
  );
}

/** A figure to type, as a line: comma or point. */
export function Figure(props: LineProps) {
  return <Line inputMode="decimal" mono wide="w-24" {...props} />;
}

interface PickProps<Word extends string> {
  says: string;
  value: Word;
  set: (value: Word) => void;
  words: readonly (readonly [Word, string])[];
  mono?: boolean;
  disabled?: boolean;
}

/** One of some words, its name above it. */
export function Pick<Word extends string>({ says, value, set, words, mono, disabled }: PickProps<Word>) {
  return (
    <label>
      <span className="block text-soft">{says}</span>
      <select
        className={`field ${mono ? "font-mono" : ""}`}
        disabled={disabled}
        value={value}
        onChange={(event) => set(event.target.value as Word)}
      >
        {words.map(([word, shown]) => (
          <option key={word} value={word}>
            {shown}
          </option>
        ))}
      </select>
    </label>
  );
}
