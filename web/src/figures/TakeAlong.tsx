import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { useNavigate } from "react-router";
import { api } from "../api/client";
import { uploadEntry } from "../api/upload";
import { backupsQuery } from "../queries/shop";
import { ChooseFile } from "../shared/ChooseFile";
import { FormError } from "../shared/FormError";
import { TextField } from "../shared/fields";
import { useKeeping } from "../shared/keeping";
import { LoadError } from "../shared/states";
import { moment } from "../shared/words";
import { writtenNumber } from "../shared/writing";
import { mayWorkAtBench, useSession } from "../signin/session";

/** Backups that the server made by itself. */
function Backups() {
  const backups = useQuery(backupsQuery());
  const [newest, ...older] = backups.data ?? [];
  return (
    <section aria-labelledby="backups-title" data-testid="backups">
      <h2 id="backups-title" className="font-bold text-xl">
        <Trans>Backups</Trans>
      </h2>
      <p>
        <Trans>
          Once a day the server writes everything into one file, with passwords, to be restored there; one a
          day is kept for a week, one a week for five, one a month for a year.
        </Trans>
      </p>
      {backups.isError && <LoadError problem={backups.error} again={() => backups.refetch()} />}
      {backups.data && (
        <p className="mt-1">
          {newest ? (
            <>
              <strong>
                <Trans>Last backup {moment(newest.at)}</Trans>
              </strong>
              , {megabytes(newest.size)}
              {older.length > 0 &&
                t`; ${plural(older.length, { one: "# older one", other: "# older ones" })} kept`}
              .
            </>
          ) : (
            <strong>
              <Trans>No backup yet. The first one is made within half an hour of the server’s start.</Trans>
            </strong>
          )}
        </p>
      )}
    </section>
  );
}

const megabytes = (bytes: number) => `${writtenNumber(bytes / 1e6, 1)} MB`;

/** The shop's data are its own: one job or everything as an open archive, and a job from another shop. */
export function TakeAlong() {
  const session = useSession();
  const lead = session.data?.person?.role === "lead";
  const bench = mayWorkAtBench(session.data?.person);
  const [job, setJob] = useState("");
  const [sending, setSending] = useState("");
  const [none, setNone] = useState(false);
  const { problem, keep } = useKeeping([]);
  const go = useNavigate();
  const number = Number(job.toUpperCase().replace(/^J-/, ""));
  const take = async (event: FormEvent) => {
    event.preventDefault();
    setNone(false);
    const there = await keep(
      () => api.GET("/api/v1/jobs/{number}", { params: { path: { number } } }),
      undefined,
      (told) => {
        setNone(told.status === 404);
        return told.status === 404;
      },
    );
    if (there && there !== "kept") window.location.assign(`/api/v1/jobs/${number}/archive`);
  };
  const bring = async (file: File | undefined) => {
    if (!file) return;
    setNone(false);
    const form = new FormData();
    form.append("file", file);
    const answer = await keep(() =>
      uploadEntry<{ number: number }>("/api/v1/archives", form, (share) =>
        setSending(
          share < 1 ? t`Sending, ${Math.round(share * 100)} %` : t`Checking every entry against its hash …`,
        ),
      ),
    );
    setSending("");
    if (answer && answer !== "kept") go(`/jobs/${answer.number}`);
  };
  return (
    <div className="max-w-3xl space-y-6" data-testid="take-along">
      <section aria-labelledby="one-title">
        <h2 id="one-title" className="font-bold text-xl">
          <Trans>One job</Trans>
        </h2>
        <p>
          <Trans>
            Everything of it in one zip: rows as JSON, tables as CSV, photographs and reports as they came.
          </Trans>
        </p>
        {!bench && (
          <p className="text-soft">
            <Trans>It contains firmware, so only the bench can export it.</Trans>
          </p>
        )}
        <form onSubmit={take} className="mt-2 flex flex-wrap items-end gap-3">
          <TextField label={t`job`} value={job} onChange={setJob} mono wide="w-32" placeholder="J-0003" />
          <button
            type="submit"
            className="button"
            disabled={!bench || !(Number.isInteger(number) && number > 0)}
          >
            <Trans>Export it</Trans>
          </button>
        </form>
      </section>
      {!lead && (
        <p className="text-soft">
          <Trans>Only the lead can export everything, or import a job from another shop.</Trans>
        </p>
      )}
      {lead && (
        <>
          <section aria-labelledby="all-title">
            <h2 id="all-title" className="font-bold text-xl">
              <Trans>Everything</Trans>
            </h2>
            <p>
              <Trans>
                The same for the whole shop, without passwords and without the links of customers.
              </Trans>
            </p>
            <a className="button mt-2 inline-grid place-items-center" href="/api/v1/archive">
              <Trans>Export everything</Trans>
            </a>
          </section>
          <Backups />
          <section aria-labelledby="in-title">
            <h2 id="in-title" className="font-bold text-xl">
              <Trans>A job from another shop</Trans>
            </h2>
            <p>
              <Trans>It comes beside yours; people and models that are known here are the same ones.</Trans>
            </p>
            <ChooseFile
              take={(files) => void bring(files[0])}
              accept=".zip,application/zip"
              testid="archive-file"
            >
              <Trans>Import an archive</Trans>
            </ChooseFile>
            {sending && <p role="status">{sending}</p>}
          </section>
        </>
      )}
      <FormError problem={none ? { message: t`There is no job ${job.trim()} here.` } : problem} />
    </div>
  );
}
