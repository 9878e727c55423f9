import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { Fragment, useState } from "react";
import { imagesComparedQuery } from "../queries/library";
import { LoadError, Loading } from "../shared/states";

const KINDS = {
  identical: t`The same`,
  "bit-decay": t`Scattered single bits: failing storage, or a bad clip`,
  "other-edition": t`Another edition, or settings changed`,
  unlike: t`Another image altogether`,
} as const;
const PAGE = 1024;

/** Two images: what kind of difference it is, each run explained, and the bytes around it readable. */
export function ImagesCompared({ old, other }: { old: string; other: string }) {
  const [begin, setBegin] = useState(0);
  const compared = useQuery({
    ...imagesComparedQuery(old, other, begin),
    placeholderData: (before) => before,
  });
  if (compared.isError) return <LoadError problem={compared.error} again={() => compared.refetch()} />;
  if (!compared.data) return <Loading what={t`Comparing`} />;
  const found = compared.data;
  const hex = (offset: number) => offset.toString(16).toUpperCase().padStart(6, "0");
  return (
    <section
      aria-label={t`Images compared`}
      className="flex min-h-0 flex-col gap-2 p-4"
      data-testid="compared"
    >
      <h2 className="font-bold text-lg">{KINDS[found.differ]}</h2>
      <p>{found.why}</p>
      {found.runs.length > 0 && (
        <ul aria-label={t`Runs`} className="max-h-40 shrink-0 overflow-y-auto">
          {found.runs.map((run) => (
            <li key={run.offset} className="border-rule border-t">
              <button
                type="button"
                className="button-plain -ml-2 font-mono"
                onClick={() => setBegin(Math.max(0, run.offset - 32))}
              >
                {hex(run.offset)}
              </button>{" "}
              {run.length} {plural(run.length, { one: "byte", other: "bytes" })}, {run.bits}{" "}
              {plural(run.bits, { one: "bit", other: "bits" })}: <strong>{run.says}</strong>
              {run.length > 3 && (
                <span className="text-soft">
                  <Trans>
                    : “{run.text_old}” became “{run.text_new}”
                  </Trans>
                </span>
              )}
            </li>
          ))}
          {found.many_runs > found.runs.length && (
            <li className="text-soft">
              <Trans>and {found.many_runs - found.runs.length} more</Trans>
            </li>
          )}
        </ul>
      )}
      <section
        aria-label={t`Bytes`}
        className="min-h-0 flex-1 overflow-auto bg-sheet p-2"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, also by the keyboard
        tabIndex={0}
      >
        <table className="font-mono text-[13px] leading-5">
          <tbody>
            {found.lines.map((line) => (
              <Fragment key={line.offset}>
                <tr className={line.differs.length > 0 ? "bg-suspect-wash" : ""}>
                  <th scope="row" className="pr-3 text-left font-normal text-soft">
                    {hex(line.offset)}
                  </th>
                  <td className="whitespace-pre pr-3">
                    <Bytes text={line.old_hex} differs={line.differs} />
                  </td>
                  <td className="whitespace-pre text-soft">{line.old_text}</td>
                </tr>
                {line.differs.length > 0 && (
                  <tr className="bg-suspect-wash">
                    <th scope="row" className="pr-3 text-right font-normal text-soft">
                      <Trans>now</Trans>
                    </th>
                    <td className="whitespace-pre pr-3">
                      <Bytes text={line.new_hex} differs={line.differs} />
                    </td>
                    <td className="whitespace-pre text-soft">{line.new_text}</td>
                  </tr>
                )}
              </Fragment>
            ))}
          </tbody>
        </table>
      </section>
      <p className="mt-1 flex gap-2">
        <button
          type="button"
          className="button"
          disabled={begin === 0}
          onClick={() => setBegin(Math.max(0, begin - PAGE))}
        >
          <Trans>Before</Trans>
        </button>
        <button
          type="button"
          className="button"
          disabled={begin + PAGE >= found.size}
          onClick={() => setBegin(begin + PAGE)}
        >
          <Trans>After</Trans>
        </button>
      </p>
    </section>
  );
}

/** Bytes in hex; those that differ are bold and underlined. */
function Bytes({ text, differs }: { text: string; differs: readonly number[] }) {
  return text.split(" ").map((byte, at) => (
    // biome-ignore lint/suspicious/noArrayIndexKey: bytes have no identity but their place
    <span key={at} className={differs.includes(at) ? "font-bold text-suspect underline" : ""}>
      {byte}{" "}
    </span>
  ));
}
