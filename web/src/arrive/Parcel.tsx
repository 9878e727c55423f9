import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { Link } from "react-router";
import type { Arrive, JobDetail } from "../api/client";
import { day, moment } from "../shared/words";
import type { IntakeEntry, useArrive } from "./useArrive";

/** A card that was here before, or came back, shows its whole past at once. */
export function Past({ job, past }: { job: JobDetail; past: Arrive["past"] }) {
  if (past.length === 0) return null;
  const before = past.some((entry) => entry.opened_at < job.opened_at);
  return (
    <section aria-labelledby="past-title" className="border-l-4 border-ink bg-tray px-3 py-2">
      <h2 id="past-title" className="text-lg font-bold">
        {before ? t`This card was here before` : t`This card came back`}
      </h2>
      <ul>
        {past.map((entry) => (
          <li key={entry.number} className="border-t border-rule py-1 first:border-0">
            <Link className="button-plain -ml-2" to={`/jobs/${entry.number}/memory`}>
              {entry.label}
            </Link>{" "}
            {day(entry.opened_at)}
            {entry.closed_at && t` to ${day(entry.closed_at)}`}: “{entry.complaint}”{" "}
            {entry.warranty_until && (
              <strong>
                {entry.in_warranty ? t`In warranty until` : t`Warranty ended`} {day(entry.warranty_until)}.
              </strong>
            )}
            <span className="block">
              {entry.done.length > 0 ? `${entry.done.join("; ")}.` : t`Nothing was found or done.`}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

interface ParcelProps {
  job: JobDetail;
  found: Arrive;
  arriving: ReturnType<typeof useArrive>;
}

/** What was in the parcel: the card in hand checked against the ticket first. */
export function Parcel({ job, found, arriving }: ParcelProps) {
  const { intake } = found;
  const [open, setOpen] = useState(intake === null);
  const { register, handleSubmit, watch } = useForm<IntakeEntry>({
    defaultValues: {
      serial: intake?.serial ?? "",
      provenance: (intake?.provenance ?? "unknown") as IntakeEntry["provenance"],
      seals: (intake?.seals ?? "none") as IntakeEntry["seals"],
      warranty: (intake?.warranty ?? "") as IntakeEntry["warranty"],
      came_with: intake?.came_with ?? "",
      missing: intake?.missing ?? "",
      bare: intake?.bare ?? false,
    },
  });
  const entry = watch();
  const typed = entry.serial.trim().toUpperCase();
  const differs = typed.length >= job.serial.length && typed !== job.serial.toUpperCase();
  const submit = handleSubmit((typed) => arriving.takeIn({ ...typed, serial: typed.serial.trim() }));
  const says = (words: Arrive["seals"], word: string) =>
    words.find((item) => item.word === word)?.says ?? word;
  return (
    <details open={open} onToggle={(event) => setOpen(event.currentTarget.open)} data-testid="parcel">
      <summary className="cursor-pointer py-1">
        <strong className="text-lg">
          <Trans>The parcel</Trans>
        </strong>{" "}
        {intake && (
          <span>
            <Trans>
              <strong>{intake.serial}</strong> checked; {says(found.provenances, intake.provenance)}; seals{" "}
              {says(found.seals, intake.seals)}
            </Trans>
            {intake.provenance === "new" && intake.seals === "whole" && (
              <Trans>; warranty: {says(found.warranties, intake.warranty ?? "")}</Trans>
            )}
            {intake.bare && t`; a bare board, without its cooler`}
            {intake.came_with && t`; with ${intake.came_with}`}
            {intake.missing && (
              <>
                ;{" "}
                <strong>
                  <Trans>missing: {intake.missing}</Trans>
                </strong>
              </>
            )}
            .{" "}
            <span className="text-soft">
              {intake.by}, {moment(intake.at)}
            </span>
          </span>
        )}
      </summary>
      <form onSubmit={submit} className="mt-2 grid gap-3 sm:grid-cols-2">
        <label className="block">
          <span className="block text-soft">
            <Trans>serial on the card itself</Trans>
          </span>
          <input className="field w-full font-mono" required maxLength={80} {...register("serial")} />
          {differs && (
            <span role="alert">
              <Trans>The ticket says {job.serial}.</Trans>
            </span>
          )}
        </label>
        <label className="block">
          <span className="block text-soft">
            <Trans>where it is from</Trans>
          </span>
          <Select className="field w-full" {...register("provenance")}>
            {found.provenances.map((provenance) => (
              <option key={provenance.word} value={provenance.word}>
                {provenance.says}
              </option>
            ))}
          </Select>
        </label>
        <label className="block">
          <span className="block text-soft">
            <Trans>seals</Trans>
          </span>
          <Select className="field w-full" {...register("seals")}>
            {found.seals.map((seal) => (
              <option key={seal.word} value={seal.word}>
                {seal.says}
              </option>
            ))}
          </Select>
        </label>
        {entry.provenance === "new" && entry.seals === "whole" && (
          <label className="block sm:col-span-2">
            <span className="block text-soft">
              <Trans>its seller’s or maker’s warranty, asked about before anything is opened</Trans>
            </span>
            <Select className="field w-full" {...register("warranty")}>
              {found.warranties.map((warranty) => (
                <option key={warranty.word} value={warranty.word}>
                  {warranty.says}
                </option>
              ))}
            </Select>
          </label>
        )}
        <label className="flex items-center gap-3 self-end pb-2">
          <input type="checkbox" className="size-6" {...register("bare")} />
          <Trans>a bare board, without its cooler</Trans>
        </label>
        <label className="block">
          <span className="block text-soft">
            <Trans>came with it</Trans>
          </span>
          <input className="field w-full" maxLength={400} {...register("came_with")} />
        </label>
        <label className="block">
          <span className="block text-soft">
            <Trans>missing</Trans>
          </span>
          <input className="field w-full" maxLength={400} {...register("missing")} />
        </label>
        <p>
          <button type="submit" className="button" disabled={!entry.serial.trim()}>
            <Trans>Take it in</Trans>
          </button>
        </p>
      </form>
    </details>
  );
}
