import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { api, data } from "../api/client";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";

type Clues = NonNullable<Parameters<typeof ask>[0]>;

async function ask(body: {
  printed?: string;
  core?: string;
  front_sites?: number | null;
  back_sites?: number | null;
  plugs?: number | null;
  sockets?: number | null;
  length_mm?: number | null;
}) {
  return data(await api.POST("/api/v1/board-suggestions", { body }));
}

const WORDS = [
  ["printed", t`printed on the board`],
  ["core", t`core family`],
] as const;
const COUNTS = [
  ["front_sites", t`memory sites, front`],
  ["back_sites", t`memory sites, back`],
  ["plugs", t`power plugs`],
  ["sockets", t`display sockets`],
  ["length_mm", t`length, mm`],
] as const;

/** Which board is it? What can be read and counted on it suggests the model; a retail name does not. */
export function WhichBoard({ choose }: { choose: (slug: string) => void }) {
  const [clues, setClues] = useState<Clues>({});
  const [found, setFound] = useState<Awaited<ReturnType<typeof ask>> | null>(null);
  const asking = useKeeping([]);
  const change = async (part: Clues) => {
    const next = { ...clues, ...part };
    setClues(next);
    const answer = await asking.keep(async () => ({ data: await ask(next) }));
    if (answer && answer !== "kept") setFound(answer);
  };
  return (
    <details className="lg:col-span-2" data-testid="which-board">
      <summary className="cursor-pointer font-semibold">
        <Trans>Which board is it? Count what is on it</Trans>
      </summary>
      <div className="mt-2 grid gap-3 sm:grid-cols-4">
        {WORDS.map(([name, label]) => (
          <label key={name} className="block">
            <span className="block text-soft">{label}</span>
            <input
              className="field w-full"
              maxLength={64}
              value={clues[name] ?? ""}
              onChange={(event) => void change({ [name]: event.target.value })}
            />
          </label>
        ))}
        {COUNTS.map(([name, label]) => (
          <label key={name} className="block">
            <span className="block text-soft">{label}</span>
            <input
              className="field w-full font-mono"
              inputMode="numeric"
              value={clues[name] ?? ""}
              onChange={(event) => {
                const typed = event.target.value.trim();
                const number = Number(typed);
                if (typed === "" || (Number.isFinite(number) && number >= 0))
                  void change({ [name]: typed === "" ? null : number });
              }}
            />
          </label>
        ))}
      </div>
      <FormError problem={asking.problem} plain />
      {found && found.length > 0 && (
        <ol aria-label={t`Boards that fit`} className="mt-3">
          {found.map((entry) => (
            <li key={entry.board_model} className="flex items-center gap-3 border-t border-rule py-1.5">
              <span className="w-14 font-mono text-lg font-bold">{entry.chance.toFixed(2)}</span>
              <span className="min-w-0 flex-1">
                <strong>{entry.name}</strong>
                {entry.agrees.length > 0 && `: ${entry.agrees.join(", ")}`}
                {entry.differs.length > 0 && (
                  <span className="text-suspect">
                    <Trans>; but it has {entry.differs.join(", ")}</Trans>
                  </span>
                )}
              </span>
              <button type="button" className="button" onClick={() => choose(entry.board_model)}>
                <Trans>It is this</Trans>
              </button>
            </li>
          ))}
        </ol>
      )}
    </details>
  );
}
