import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";

const GROUPS: readonly (readonly [string, readonly (readonly [string, string])[]])[] = [
  [
    t`Of one error`,
    [
      ["channel", t`channel`],
      ["address", t`address`],
      ["expected", t`expected word`],
      ["actual", t`word read`],
      ["bits", t`mask of wrong lines`],
      ["count", t`count`],
    ],
  ],
  [
    t`Of a count by channel`,
    [
      ["channel", t`channel`],
      ["errors", t`errors`],
      ["dq0", t`line 0, the next 31 follow`],
    ],
  ],
  [
    t`Of the whole report`,
    [
      ["condition", t`condition`],
      ["result", t`result`],
      ["result:pass", "means: passed"],
      ["result:fail", "means: failed"],
      ["board", t`board`],
      ["skip", t`lines to pass over`],
    ],
  ],
  [
    t`The tester refused`,
    [
      ["refusal:not-found", t`card not found`],
      ["refusal:wrong-build", t`wrong build`],
      ["refusal:wrong-index", t`wrong index`],
      ["refusal:not-initialised", t`not initialised`],
      ["refusal", t`another reason`],
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
    <section aria-label={t`What is ${text}`} className="border-l-8 border-next bg-tray px-4 py-3">
      <p className="mb-2">
        <Trans>
          What is <strong className="font-mono text-xl">{text}</strong>?
        </Trans>
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
        <Trans>Nothing</Trans>
      </button>
      <button type="button" className="button-plain" onClick={leave}>
        <Trans>Leave as it is</Trans>
      </button>
    </section>
  );
}
