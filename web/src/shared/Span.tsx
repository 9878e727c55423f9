import { t } from "@lingui/core/macro";
import { percent } from "./words";

interface SpanProps {
  low: number;
  high: number;
  at: number;
  title: string;
  /** of few cases: dashed */
  unsure?: boolean;
  /** something to worry about */
  bad?: boolean;
}

const WIDE = 160;

/** Where a share lies, from nought to all: a bar for the span, a tick for the likeliest. */
export function Span({ low, high, at, title, unsure = false, bad = false }: SpanProps) {
  const x = (share: number) => 2 + share * (WIDE - 4);
  return (
    <svg
      viewBox={`0 0 ${WIDE} 16`}
      className="h-4 w-40 max-w-full"
      role="img"
      aria-label={t`${title}: between ${percent(low)} and ${percent(high)}`}
    >
      <line x1={2} x2={WIDE - 2} y1={8} y2={8} className="stroke-rule" strokeWidth={2} />
      <line
        x1={x(low)}
        x2={x(high)}
        y1={8}
        y2={8}
        className={bad ? "stroke-suspect" : "stroke-edge"}
        strokeWidth={unsure ? 4 : 8}
        strokeDasharray={unsure ? "4 3" : undefined}
      />
      <line x1={x(at)} x2={x(at)} y1={1} y2={15} className="stroke-ink" strokeWidth={3} />
    </svg>
  );
}
