/** A box to tick, large enough for a glove. */
export function Tick({ says, on, set }: { says: string; on: boolean; set: (on: boolean) => void }) {
  return (
    <label className="flex min-h-11 items-center gap-2">
      <input
        type="checkbox"
        className="size-6"
        checked={on}
        onChange={(event) => set(event.target.checked)}
      />
      {says}
    </label>
  );
}
