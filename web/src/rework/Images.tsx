import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { useSearchParams } from "react-router";
import { api, type JobDetail, newId } from "../api/client";
import type { components } from "../api/schema";
import { uploadEntry } from "../api/upload";
import { imagesQuery } from "../queries/job";
import { ChooseFile } from "../shared/ChooseFile";
import { FormError } from "../shared/FormError";
import { FormCheckbox, FormSelect, FormText } from "../shared/formFields";
import { useKeeping } from "../shared/keeping";
import { LoadError, Loading } from "../shared/states";
import { moment } from "../shared/words";

export type JobImages = components["schemas"]["JobImages"];
type Image = JobImages["store"][number]["image"];
const RESULTS = [
  ["works", t`it works`],
  ["no-change", t`no change`],
  ["worse", t`worse`],
  ["not-tried", t`not tried yet`],
] as const;

/** Firmware: the storage chip's volts first, the old image twice alike, the one that fits, what was written. */
export function Images({ job, mayWork }: { job: JobDetail; mayWork: boolean }) {
  const queries = useQueryClient();
  const [volts, setVolts] = useState<number | null>(null);
  const keeping = useKeeping([]);
  const [none, setNone] = useState("");
  const [said, setSaid] = useState("");
  const [query, setQuery] = useSearchParams();
  const against = query.get("against");
  const key = imagesQuery(job.number).queryKey;
  const params = { path: { number: job.number } };
  const images = useQuery(imagesQuery(job.number));
  if (images.isError) return <LoadError problem={images.error} again={() => images.refetch()} />;
  if (!images.data) return <Loading what={t`Reading the images`} />;
  const found = images.data;
  const keep = async (ask: () => Promise<{ data?: JobImages }>) => {
    setNone("");
    const answer = await keeping.keep(ask, key);
    setSaid("");
    return answer !== null;
  };
  const send = (file: File | undefined) => {
    if (!file || volts === null) return;
    const form = new FormData();
    form.append("entry", newId());
    form.append("chip_volts", String(volts));
    form.append("file", file);
    const share = (sent: number) => setSaid(t`Sending, ${Math.round(100 * sent)} %`);
    void keep(() => uploadEntry<JobImages>(`/api/v1/jobs/${job.number}/image-reads`, form, share));
  };
  const store = async (files: File[]) => {
    const beside = files.find((file) => file.name.endsWith(".json"));
    const image = files.find((file) => file !== beside);
    if (!image)
      return setNone(t`found no image, expected one, and the small JSON beside it where there is one`);
    const form = new FormData();
    form.append("file", image);
    if (beside) form.append("facts", beside);
    form.append("origin", t`given with ${job.label}`);
    setNone("");
    const progress = (sent: number) => setSaid(t`Sending, ${Math.round(100 * sent)} %`);
    await keeping.keep(() => uploadEntry("/api/v1/images", form, progress));
    await queries.invalidateQueries({ queryKey: key });
    setSaid("");
  };
  return (
    <section aria-labelledby="images-title" className="space-y-4" data-testid="images">
      <h2 id="images-title" className="font-bold text-2xl">
        {found.old ? t`The old image is kept` : t`The old image first, read twice alike`}
      </h2>
      <FormError problem={none ? { message: none } : keeping.problem} plain />
      {said && <p role="status">{said}</p>}
      {mayWork && !found.old && (
        <div className="border-next border-l-8 bg-next-wash px-4 py-3">
          <p className="font-bold">
            <Trans>The storage chip’s own voltage: a programmer of the wrong one kills it.</Trans>
          </p>
          <p className="mt-1 flex flex-wrap gap-2">
            {found.volts.map((number) => (
              <button
                key={number}
                type="button"
                className="button"
                aria-pressed={volts === number}
                onClick={() => setVolts(number)}
              >
                {number} V
              </button>
            ))}
            {volts !== null && (
              <ChooseFile take={(files) => send(files[0])} testid="image-read">
                {found.reads.length === 0 ? t`The first read` : t`Read again`}
              </ChooseFile>
            )}
          </p>
        </div>
      )}
      {found.reads.length > 0 && (
        <ul aria-label={t`Reads`}>
          {found.reads.map((read, at) => (
            <li key={read.id} className="border-rule border-t py-1">
              <Trans>
                {at + 1}. <strong className="font-mono">{read.sha256.slice(0, 12)}</strong>, {read.size} bytes
                at {read.chip_volts} V.{" "}
                <span className="text-soft">
                  {read.by}, {moment(read.at)}.
                </span>
              </Trans>
            </li>
          ))}
        </ul>
      )}
      {found.differ && (
        <p role="alert" className="border-suspect border-l-4 pl-3">
          <Trans>
            The last two reads are not alike. {found.differ.why} Seat the clip anew and read again.
          </Trans>
        </p>
      )}
      {found.old && (
        <p>
          <strong className="font-mono">{found.old.sha256.slice(0, 12)}</strong>: {factsOf(found.old)}{" "}
          {mayWork && (
            <a className="button-plain" href={`/api/v1/images/${found.old.sha256}/file`} download>
              <Trans>Save it</Trans>
            </a>
          )}
          {found.texts.length > 0 && (
            <span className="block text-soft">
              <Trans>
                It says inside: {found.texts.slice(0, 4).join(" · ")}. A version text proves nothing.
              </Trans>
            </span>
          )}
        </p>
      )}
      <section aria-label={t`Store`}>
        <div className="flex flex-wrap items-center gap-3">
          <h3 className="font-bold text-lg">
            <Trans>Which image fits</Trans>
          </h3>
          {mayWork && (
            <ChooseFile take={(files) => void store(files)} multiple testid="image-store">
              <Trans>Add to the store</Trans>
            </ChooseFile>
          )}
        </div>
        <p className="text-soft">
          <Trans>
            Wanted:{" "}
            {[
              found.wanted.bus && t`bus ${found.wanted.bus}`,
              found.wanted.memory,
              found.wanted.core_mhz && t`core ${found.wanted.core_mhz} MHz`,
              found.wanted.memory_mhz && t`memory ${found.wanted.memory_mhz} MHz`,
              found.wanted.vendors.length > 0 && t`settings for ${found.wanted.vendors.join(", ")}`,
            ]
              .filter(Boolean)
              .join(", ") || t`nothing is known of it yet`}
            .
          </Trans>
        </p>
        <ol aria-label={t`Images that fit`}>
          {found.store.map((entry) => (
            <li key={entry.image.sha256} className="border-rule border-t py-2">
              <p>
                <strong>{entry.image.name}</strong>{" "}
                <span className="font-mono text-soft">{entry.image.sha256.slice(0, 12)}</span>{" "}
                {entry.misfits.length === 0 && entry.fits.length > 0 && (
                  <strong className="text-good">
                    <Trans>fits</Trans>
                  </strong>
                )}
                {found.old && entry.image.sha256 !== found.old.sha256 && (
                  <button
                    type="button"
                    className="button-plain"
                    aria-expanded={against === entry.image.sha256}
                    onClick={() =>
                      setQuery(
                        against === entry.image.sha256 || !found.old
                          ? {}
                          : { old: found.old.sha256, against: entry.image.sha256 },
                      )
                    }
                  >
                    <Trans>Compare with the old one</Trans>
                  </button>
                )}
              </p>
              <p className="text-soft">
                {entry.fits.length > 0 && t`Has ${entry.fits.join(", ")}. `}
                {entry.misfits.length > 0 && t`Not: ${entry.misfits.join("; ")}. `}
                {entry.image.source}.
              </p>
            </li>
          ))}
        </ol>
        {found.store.length === 0 && (
          <p className="text-soft">
            <Trans>No image yet: each read joins the store.</Trans>
          </p>
        )}
      </section>
      {mayWork && found.old && (
        <WriteForm
          store={found.store.map((entry) => entry.image)}
          volts={found.volts}
          write={(body) =>
            keep(() =>
              api.POST("/api/v1/jobs/{number}/image-writes", { params, body: { id: newId(), ...body } }),
            )
          }
        />
      )}
      {found.writes.length > 0 && (
        <ul aria-label={t`Written`}>
          {found.writes.map((write) => (
            <li key={write.id} className="border-rule border-t py-1">
              <Trans>
                <strong>{write.image.name}</strong> written at {write.chip_volts} V:{" "}
                {RESULTS.find(([word]) => word === write.result)?.[1]}. {write.note}{" "}
              </Trans>
              {write.image.sha256 === write.old && write.result === "works" && (
                <strong>
                  {found.writes.some((other) => other.image.sha256 !== write.old && other.result === "works")
                    ? t`The old image works as well as the new one: the image was not the cause. The writing or the power cycle cured it, or it comes and goes.`
                    : t`The old image works again: the writing or the power cycle cured it, cause unknown.`}{" "}
                </strong>
              )}
              <span className="text-soft">
                <Trans>
                  Old image {write.old.slice(0, 12)} is kept. {write.by}, {moment(write.at)}.
                </Trans>
              </span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

function factsOf(image: Image): string {
  const { facts } = image;
  const words = [
    facts.bus && t`bus ${facts.bus}`,
    facts.memory,
    facts.core_mhz && t`core ${facts.core_mhz} MHz`,
    facts.memory_mhz && t`memory ${facts.memory_mhz} MHz`,
    facts.vendors.length > 0 && t`carries settings for ${facts.vendors.join(", ")}`,
    facts.text && `“${facts.text.length > 160 ? `${facts.text.slice(0, 160)} …` : facts.text}”`,
  ].filter(Boolean);
  return words.length > 0 ? words.join(", ") : t`it says nothing of itself; a small JSON beside it can`;
}

interface WriteFormProps {
  store: readonly Image[];
  volts: readonly number[];
  write: (body: {
    image: string;
    chip_volts: number;
    power_off: boolean;
    result: (typeof RESULTS)[number][0];
    note: string;
  }) => Promise<boolean>;
}

function WriteForm({ store, volts, write }: WriteFormProps) {
  const { control, handleSubmit, watch, setValue } = useForm({
    defaultValues: {
      image: store[0]?.sha256 ?? "",
      at: String(volts[0] ?? 1.8),
      off: false,
      result: "works" as (typeof RESULTS)[number][0],
      note: "",
    },
  });
  const { image, off } = watch();
  const submit = handleSubmit(async ({ image, at, off, result, note }) => {
    if (await write({ image, chip_volts: Number(at), power_off: off, result, note: note.trim() }))
      setValue("note", "");
  });
  return (
    <form className="flex flex-wrap items-end gap-3" data-testid="write-form" onSubmit={submit}>
      <FormSelect
        control={control}
        name="image"
        label={t`written`}
        options={store.map((entry): [string, string] => [
          entry.sha256,
          `${entry.name} ${entry.sha256.slice(0, 8)}`,
        ])}
      />
      <FormSelect
        control={control}
        name="at"
        label={t`at`}
        options={volts.map((number): [string, string] => [String(number), `${number} V`])}
      />
      <FormCheckbox control={control} name="off" label={t`power was fully off after it`} />
      <FormSelect control={control} name="result" label={t`what came of it`} options={RESULTS} />
      <FormText control={control} name="note" label={t`note`} />
      <button type="submit" className="button" disabled={!off || !image}>
        <Trans>Enter the write</Trans>
      </button>
    </form>
  );
}
