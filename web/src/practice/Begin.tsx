import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type FormEvent, useState } from "react";
import type { Practice } from "../api/client";
import { FormError } from "../shared/FormError";
import { SelectField, TextField } from "../shared/fields";
import { HELP } from "./help";
import { type Help, useBeginning } from "./useBeginning";

type Level = Practice["levels"][number]["level"];
type Source = "level" | "watchlist" | "past";
const SOURCES: readonly (readonly [Source, string])[] = [
  ["level", t`a level`],
  ["watchlist", t`the model’s watchlist`],
  ["past", t`a past job of this shop, without names`],
];

/** Which card is to be worked on, and with how much help. */
export function Begin({ practice }: { practice: Practice }) {
  const [source, setSource] = useState<Source>("level");
  const [level, setLevel] = useState<Level>("counting");
  const [slug, setSlug] = useState("");
  const [job, setJob] = useState("");
  const [help, setHelp] = useState<Help>("on-request");
  const beginning = useBeginning();
  const offered = practice.models.filter(
    (model) => source !== "level" || (model.levels as readonly string[]).includes(level),
  );
  const model = offered.find((entry) => entry.board_model === slug) ?? offered[0];
  const asks = practice.levels.find((entry) => entry.level === level)?.asks;
  const begin = (event: FormEvent) => {
    event.preventDefault();
    const board_model = model?.board_model ?? "";
    if (source === "past") {
      const number = Number(job.toUpperCase().replace(/^J-/, ""));
      void beginning.begin({ source, help, ...(number > 0 ? { job: number } : {}) });
    } else if (source === "watchlist") void beginning.begin({ source, help, board_model });
    else void beginning.begin({ source, help, board_model, level });
  };
  return (
    <form
      onSubmit={begin}
      className="space-y-4 rounded-md border border-rule bg-sheet p-5"
      aria-label={t`Start a practice card`}
    >
      <h2 className="font-bold text-xl">
        <Trans>Start a practice card</Trans>
      </h2>
      <div className="flex flex-wrap gap-4">
        <SelectField label={t`fault from`} value={source} onChange={setSource} options={SOURCES} />
        {source === "level" && (
          <SelectField
            label={t`level`}
            value={level}
            onChange={setLevel}
            options={practice.levels.map((entry) => [entry.level, entry.name] as const)}
          />
        )}
        {source === "past" ? (
          <TextField label={t`job`} value={job} onChange={setJob} mono wide="w-32" placeholder="J-0003" />
        ) : (
          <SelectField
            label={t`board model`}
            value={model?.board_model ?? ""}
            onChange={setSlug}
            options={offered.map((entry) => [entry.board_model, entry.name] as const)}
          />
        )}
        <SelectField label={t`advice`} value={help} onChange={setHelp} options={HELP} />
      </div>
      {source === "level" && asks && <p className="text-lg">{asks}</p>}
      {source !== "past" && !model && (
        <p>
          <Trans>
            No board of the library has a place for this: draw its rails and parts, or choose another level.
          </Trans>
        </p>
      )}
      <FormError problem={beginning.problem} />
      <button
        type="submit"
        className="button border-next"
        disabled={beginning.busy || (source !== "past" && !model)}
      >
        {beginning.busy ? t`Hiding a fault, photographing the card …` : t`Start`}
      </button>
    </form>
  );
}
