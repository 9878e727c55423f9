import { t } from "@lingui/core/macro";
import type { Ohms } from "../api/client";

export type Verdict = Ohms["readings"][number]["verdict"];

export const VERDICTS: Record<Verdict, string> = {
  within: t`within`,
  low: t`low`,
  high: t`high`,
  short: t`short`,
  "partial-short": t`partial short`,
  open: t`open`,
  unsteady: t`unsteady`,
  "no-reference": t`no reference`,
};

/** The eight marks, each a shape of its own within a box of 16: on the board, in lists, in strips. */
const SHAPES: Record<Verdict, { d: string; filled?: boolean }> = {
  within: { d: "M3 8.5L6.5 12L13 4.5" },
  low: { d: "M2.5 4H13.5M8 7V14M5 11L8 14L11 11" },
  high: { d: "M2.5 12H13.5M8 9V2M5 5L8 2L11 5" },
  short: { d: "M2 13H14M4.5 9.5H11.5M8 9.5V2", filled: false },
  "partial-short": { d: "M2 13H14M4.5 9.5H11.5M8 9.5V7M8 5V2" },
  open: { d: "M2 8H6M10 8H14M6 4.5V11.5M10 4.5V11.5" },
  unsteady: { d: "M2 8L4.5 4L7 12L9.5 4L12 12L14 8" },
  "no-reference": { d: "M5 5.5C5 1.5 11 1.5 11 5.5C11 8.5 8 8 8 10.5M8 13V13.5" },
};

export function colour(verdict: Verdict): string {
  if (verdict === "within") return "stroke-good";
  return verdict === "no-reference" ? "stroke-soft" : "stroke-suspect";
}

/** A verdict's mark; the word stands beside it, never the colour alone. */
export function Mark({ verdict, size = 20 }: { verdict: Verdict; size?: number }) {
  return (
    <svg
      viewBox="0 0 16 16"
      width={size}
      height={size}
      className="shrink-0"
      role="img"
      aria-label={VERDICTS[verdict]}
    >
      <MarkPath verdict={verdict} />
    </svg>
  );
}

export function MarkPath({ verdict }: { verdict: Verdict }) {
  return (
    <path
      d={SHAPES[verdict].d}
      className={`fill-none ${colour(verdict)}`}
      strokeWidth={2}
      strokeLinecap="round"
      strokeLinejoin="round"
    />
  );
}
