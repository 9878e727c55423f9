import { Trans } from "@lingui/react/macro";
import type { Located } from "../api/client";
import { count } from "../shared/words";

const BYTES = [0, 1, 2, 3];
const BITS = [0, 1, 2, 3, 4, 5, 6, 7];

/** The 32 lines of one chip, a row a byte: bar on a log scale and the count in figures. */
export function Lines({ site }: { site: Located["sites"][number] }) {
  const most = Math.max(1, ...site.dq);
  const counted = site.dq.some((number) => number > 0);
  return (
    <section aria-labelledby="lines-title">
      <h3 id="lines-title" className="flex items-baseline gap-3 text-lg font-bold">
        <Trans>
          Lines of {site.designator}{" "}
          <span className="font-normal text-base text-soft">wrong bits, bars on a log scale</span>
        </Trans>
      </h3>
      {!counted && (
        <p>
          <Trans>The report does not say which lines were wrong.</Trans>
        </p>
      )}
      {counted && (
        <table className="w-full table-fixed border-separate border-spacing-1">
          <tbody>
            {BYTES.map((byte) => (
              <tr key={byte}>
                <th scope="row" className="w-14 text-left font-normal text-soft">
                  <Trans>byte {byte}</Trans>
                </th>
                {BITS.map((bit) => (
                  <Line key={bit} line={byte * 8 + bit} errors={site.dq[byte * 8 + bit] ?? 0} most={most} />
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

function Line({ line, errors, most }: { line: number; errors: number; most: number }) {
  const height = errors === 0 ? 0 : 12 + (88 * Math.log(errors + 1)) / Math.log(most + 1);
  return (
    <td
      aria-label={`DQ ${line}: ${errors}`}
      data-line={line}
      className="rounded border border-rule p-0 align-bottom"
    >
      <svg viewBox="0 0 50 34" className="block w-full" aria-hidden="true">
        <rect x={0} y={34 - (height * 34) / 100} width={50} height={34} className="fill-suspect-wash" />
        <rect
          x={0}
          y={34 - (height * 34) / 100}
          width={50}
          height={errors > 0 ? 3 : 0}
          className="fill-suspect"
        />
        <text x={4} y={14} fontSize={14} className="fill-soft font-mono">
          {line}
        </text>
        {errors > 0 && (
          <text
            x={46}
            y={30}
            fontSize={15}
            fontWeight={700}
            textAnchor="end"
            className="fill-ink stroke-sheet font-mono [paint-order:stroke]"
            strokeWidth={3}
          >
            {short(errors)}
          </text>
        )}
      </svg>
    </td>
  );
}

/** A count in at most four signs. */
function short(errors: number): string {
  if (errors < 1000) return count(errors);
  const [value, unit] =
    errors < 1e6 ? [errors / 1e3, "k"] : errors < 1e9 ? [errors / 1e6, "M"] : [errors / 1e9, "G"];
  return `${value < 10 ? value.toFixed(1) : Math.round(value)}${unit}`;
}
