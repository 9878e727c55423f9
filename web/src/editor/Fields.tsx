import { useState } from "react";
import { decimalOf } from "../shared/numbers";

interface TextProps {
  label: string;
  value: string;
  onChange: (value: string) => void;
  locked?: boolean;
  mono?: boolean;
}

/** A field whose value is taken when it is left, or on Enter. */
export function Text({ label, value, onChange, locked = false, mono = false }: TextProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const leave = () => {
    if (typed !== null && typed !== value) onChange(typed.trim());
    setTyped(null);
  };
  return (
    <label className="block min-w-0">
      <span className="block text-soft">{label}</span>
      <input
        className={`field w-full ${mono ? "font-mono" : ""}`}
        value={typed ?? value}
        disabled={locked}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={leave}
        onKeyDown={(event) => event.key === "Enter" && leave()}
      />
    </label>
  );
}

/** A number, with a point or a comma. */
export function NumberField({
  label,
  value,
  onChange,
}: {
  label: string;
  value: number;
  onChange: (value: number) => void;
}) {
  return (
    <div className="w-28">
      <Text
        label={label}
        value={String(value)}
        mono
        onChange={(typed) => {
          const number = decimalOf(typed);
          if (typed && Number.isFinite(number)) onChange(number);
        }}
      />
    </div>
  );
}
