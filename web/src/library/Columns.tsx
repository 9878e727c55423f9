const GROUPS: readonly (readonly [string, readonly (readonly [string, string])[]])[] = [
  [
    "Of one error",
    [
      ["channel", "channel"],
      ["address", "address"],
      ["expected", "expected word"],
      ["actual", "word read"],
      ["bits", "mask of wrong lines"],
      ["count", "count"],
    ],
  ],
  [
    "Of a count by channel",
    [
      ["channel", "channel"],
      ["errors", "errors"],
      ["dq0", "line 0, the next 31 follow"],
    ],
  ],
  [
    "Of the whole report",
    [
      ["condition", "condition"],
      ["result", "result"],
      ["result:pass", "means: passed"],
      ["result:fail", "means: failed"],
      ["board", "board"],
      ["skip", "lines to pass over"],
    ],
  ],
  [
    "The tester refused",
    [
      ["refusal:not-found", "card not found"],
      ["refusal:wrong-build", "wrong build"],
      ["refusal:wrong-index", "wrong index"],
      ["refusal:not-initialised", "not initialised"],
      ["refusal", "another reason"],
    ],
  ],
];

interface ColumnsProps {
  text: string;
  mark: (column: string) => void;
  leave: () => void;
}

/** What the clicked word is: one large button a column. */
export function Columns({ text, mark, leave }: ColumnsProps) {
  return (
    <section aria-label={`What is ${text}`} className="border-l-8 border-next bg-tray px-4 py-3">
      <p className="mb-2">
        What is <strong className="font-mono text-xl">{text}</strong>?
      </p>
      {GROUPS.map(([title, columns]) => (
        <div key={title} className="mb-2">
          <p className="text-soft">{title}</p>
          <div className="flex flex-wrap gap-2">
            {columns.map(([column, name]) => (
              <button key={column} type="button" className="button" onClick={() => mark(column)}>
                {name}
              </button>
            ))}
          </div>
        </div>
      ))}
      <button type="button" className="button-plain" onClick={() => mark("")}>
        Nothing
      </button>
      <button type="button" className="button-plain" onClick={leave}>
        Leave as it is
      </button>
    </section>
  );
}
