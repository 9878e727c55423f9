import { Select } from "@headlessui/react";
import type { InputHTMLAttributes } from "react";

interface TextFieldProps extends Omit<InputHTMLAttributes<HTMLInputElement>, "value" | "onChange"> {
  label: string;
  value: string;
  onChange: (value: string) => void;
  /** for designators and figures */
  mono?: boolean;
  /** its width; one that grows takes the room that is left */
  wide?: string;
}

/** A line to type in, its name above it. */
export function TextField({ label, value, onChange, mono = false, wide = "grow", ...more }: TextFieldProps) {
  const grows = wide === "grow";
  return (
    <label className={grows ? "block min-w-40 flex-1" : undefined}>
      <span className="block text-soft">{label}</span>
      <input
        maxLength={200}
        {...more}
        className={`field ${grows ? "w-full" : wide} ${mono ? "font-mono" : ""}`}
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
    </label>
  );
}

/** A figure to type, as a line: comma or point. */
export function NumberField(props: TextFieldProps) {
  return <TextField inputMode="decimal" mono wide="w-24" {...props} />;
}

interface SelectFieldProps<Word extends string> {
  label: string;
  value: Word;
  onChange: (value: Word) => void;
  options: readonly (readonly [Word, string])[];
  mono?: boolean;
  /** its width; as wide as its longest word where none is said */
  wide?: string;
  disabled?: boolean;
}

/** One of some words, its name above it. */
export function SelectField<Word extends string>({
  label,
  value,
  onChange,
  options,
  mono,
  wide = "",
  disabled,
}: SelectFieldProps<Word>) {
  return (
    <label>
      <span className="block text-soft">{label}</span>
      <Select
        className={`field ${wide} ${mono ? "font-mono" : ""}`}
        disabled={disabled ?? false}
        value={value}
        onChange={(event) => onChange(event.target.value as Word)}
      >
        {options.map(([word, shown]) => (
          <option key={word} value={word}>
            {shown}
          </option>
        ))}
      </Select>
    </label>
  );
}
