import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type FormEvent, useState } from "react";
import { api, type Practice } from "../api/client";
import { upload } from "../api/upload";
import { keyOf } from "../queries/keys";
import { ChooseFile } from "../shared/ChooseFile";
import { FormError } from "../shared/FormError";
import { SelectField, TextField } from "../shared/fields";
import { useKeeping } from "../shared/keeping";
import { useSession } from "../signin/session";
import { HELP } from "./help";
import { type Help, useBeginning } from "./useBeginning";

/** Cards as files: made of a real job without its names, taken in, given away, practised on. */
export function CardFiles({ practice }: { practice: Practice }) {
  const session = useSession();
  const lead = session.data?.person?.role === "lead";
  const beginning = useBeginning();
  const keeping = useKeeping([keyOf("practice")]);
  const [help, setHelp] = useState<Help>("on-request");
  const [job, setJob] = useState("");
  const take = async ([file]: File[]) => {
    if (!file) return;
    const form = new FormData();
    form.append("file", file);
    await keeping.keep(async () => ({ data: await upload("/api/v1/practice/cards", form, () => undefined) }));
  };
  const make = async (event: FormEvent) => {
    event.preventDefault();
    const number = Number(job.toUpperCase().replace(/^J-/, ""));
    const made = await keeping.keep(() =>
      api.POST("/api/v1/practice/cards/of-job", { body: { job: number > 0 ? number : 1 } }),
    );
    if (made) setJob("");
  };
  const drop = (file: string) =>
    keeping.keep(() => api.DELETE("/api/v1/practice/cards/{file}", { params: { path: { file } } }));
  const names = new Map(practice.levels.map((entry) => [entry.level as string, entry.name]));
  return (
    <section className="space-y-5" aria-label={t`Saved cards`}>
      <FormError problem={keeping.problem ?? beginning.problem} />
      <div className="flex flex-wrap items-end gap-4">
        <ChooseFile take={(files) => void take(files)} accept=".json,application/json" testid="practice-card">
          <Trans>Import a card</Trans>
        </ChooseFile>
        {lead && (
          <form onSubmit={make} className="flex items-end gap-2">
            <TextField
              label={t`make one from a past job, without names`}
              value={job}
              onChange={setJob}
              mono
              wide="w-56"
              placeholder="J-0003"
            />
            <button type="submit" className="button" disabled={keeping.busy || !job.trim()}>
              <Trans>Make a card</Trans>
            </button>
          </form>
        )}
        <SelectField label={t`advice`} value={help} onChange={setHelp} options={HELP} />
      </div>
      {practice.files.length === 0 && (
        <p>
          <Trans>No saved card yet. Saved cards go along in a pack of the library.</Trans>
        </p>
      )}
      <ul className="space-y-2">
        {practice.files.map((file) => (
          <li key={file.id} className="flex flex-wrap items-center gap-3 border-rule border-t pt-2">
            <span className="min-w-0 flex-1">
              <strong>{file.name}</strong> <span className="text-soft">{names.get(file.level)}</span>
              {!file.here && (
                <span className="text-suspect">
                  {" "}
                  <Trans>its board {file.board_model} is not drawn here</Trans>
                </span>
              )}
            </span>
            <button
              type="button"
              className="button"
              disabled={!file.here || beginning.busy}
              onClick={() => void beginning.begin({ source: "file", file: file.id, help })}
            >
              <Trans>Start</Trans>
            </button>
            <a className="button-plain" href={`/api/v1/practice/cards/${file.id}`} download>
              <Trans>Export</Trans>
            </a>
            {lead && (
              <button type="button" className="button-plain" onClick={() => void drop(file.id)}>
                <Trans>Delete</Trans>
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
