const QUIET = 4;

/** A code for a phone's camera, row by row, 1 for dark. */
export function QrCode({ rows, label }: { rows: readonly string[]; label: string }) {
  const size = rows.length + 2 * QUIET;
  return (
    <svg
      viewBox={`${-QUIET} ${-QUIET} ${size} ${size}`}
      className="size-56 bg-chip-text"
      role="img"
      aria-label={label}
    >
      <path d={runsOf(rows)} className="fill-chip" />
    </svg>
  );
}

/** The dark modules of a code as one path. */
function runsOf(code: readonly string[]): string {
  return code
    .flatMap((row, y) =>
      [...row.matchAll(/1+/g)].map((run) => `M${run.index} ${y}h${run[0].length}v1h-${run[0].length}z`),
    )
    .join("");
}
