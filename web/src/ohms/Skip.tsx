import { useState } from "react";

/** A point or fuse left out, with the reason written down. */
export function Skip({ skip, close }: { skip: (why: string) => Promise<boolean>; close: () => void }) {
  const [why, setWhy] = useState("");
  return (
    <p className="mt-1 flex items-end gap-2">
      <Words says="why it is skipped" value={why} set={setWhy} />
      <button
        type="button"
        className="button"
        disabled={!why.trim()}
        onClick={async () => {
          if (await skip(why.trim())) close();
        }}
      >
        Skip it
      </button>
    </p>
  );
}

/** A short text with its name above it. */
export function Words({ says, value, set }: { says: string; value: string; set: (value: string) => void }) {
  return (
    <label className="min-w-32 flex-1">
      <span className="block text-soft">{says}</span>
      <input
        className="field w-full"
        maxLength={200}
        value={value}
        onChange={(event) => set(event.target.value)}
      />
    </label>
  );
}
