import { t } from "@lingui/core/macro";
import { memo } from "react";
import type { Marked, ReadLine } from "../api/client";
import type { Word } from "./TeachReader";

const TOKEN = /[^\s:=(),;|[\]<>]+|[\s]+|[:=(),;|[\]<>]/g;
const CLICKABLE = 120;
const USES: Record<string, string> = {
  error: t`error`,
  tally: t`count`,
  meta: t`key`,
  refusal: t`refusal`,
  skip: t`passed over`,
};

interface SampleProps {
  lines: ReadLine[];
  marks: Marked[];
  word: Word | null;
  choose: (word: Word) => void;
}

/** The sample line by line: what each is read as, its words to click, the marked ones with what they are. */
export function SampleLines({ lines, marks, word, choose }: SampleProps) {
  return (
    <ol className="min-h-0 flex-1 overflow-auto bg-sheet py-2" data-testid="sample">
      {lines.map((line, index) => (
        <Line
          key={line.number}
          line={line}
          marks={marks.filter((mark) => mark.line === line.number - 1)}
          word={word?.line === line.number - 1 ? word : null}
          choose={index < CLICKABLE ? choose : null}
        />
      ))}
    </ol>
  );
}

interface LineProps {
  line: ReadLine;
  marks: Marked[];
  word: Word | null;
  choose: ((word: Word) => void) | null;
}

const Line = memo(function Line({ line, marks, word, choose }: LineProps) {
  const read = line.use !== null;
  return (
    <li
      className={`grid grid-cols-[3rem_7rem_1fr] items-baseline px-3 py-0.5 ${read ? "" : "text-soft"}`}
      data-use={line.use ?? "unread"}
    >
      <span className="text-right font-mono text-soft">{line.number}</span>
      <span className="pl-3">
        <LineSign use={line.use} /> {line.use ? USES[line.use] : t`not read`}
      </span>
      <span className="whitespace-pre font-mono">
        {tokens(line.text).map(([text, start]) => (
          <Token
            key={start}
            text={text}
            start={start}
            line={line}
            marks={marks}
            word={word}
            choose={choose}
          />
        ))}
      </span>
    </li>
  );
});

interface TokenProps extends LineProps {
  text: string;
  start: number;
}

function Token({ text, start, line, marks, word, choose }: TokenProps) {
  const mark = marks.find((entry) => entry.start <= start && start < entry.end);
  const value = Object.entries(line.cells).find(([, cell]) => cell === text)?.[0];
  if (text.trim() === "" || !choose) return <span className={value ? "font-bold" : ""}>{text}</span>;
  const chosen = word !== null && word.start === start;
  const style = mark
    ? "border-b-4 border-ink bg-tray font-bold"
    : chosen
      ? "border-b-4 border-next bg-next-wash"
      : value
        ? "border-b-2 border-edge font-semibold"
        : "border-b-2 border-transparent hover:border-edge";
  return (
    <button
      type="button"
      className={`min-h-7 px-0.5 ${style}`}
      title={mark?.column ?? value}
      onClick={() => choose({ line: line.number - 1, start, end: start + text.length })}
    >
      {text}
    </button>
  );
}

/** A full dot is read, a ring is not, a dash is passed over. */
function LineSign({ use }: { use: ReadLine["use"] }) {
  return (
    <svg viewBox="0 0 12 12" className="inline size-3" aria-hidden="true">
      {use === "skip" && <rect x={1} y={5} width={10} height={2} className="fill-soft" />}
      {use === null && <circle cx={6} cy={6} r={4} className="fill-none stroke-edge" strokeWidth={2} />}
      {use !== null && use !== "skip" && <circle cx={6} cy={6} r={5} className="fill-good" />}
    </svg>
  );
}

function tokens(text: string): [string, number][] {
  return [...text.matchAll(TOKEN)].map((match) => [match[0], match.index]);
}
