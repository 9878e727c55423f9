import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { api, data, type JobDetail, newId } from "../api/client";
import type { components } from "../api/schema";
import { upload } from "../api/upload";
import { ChooseFile } from "../shared/ChooseFile";
import { Line, Pick } from "../shared/fields";
import { Loading, Trouble } from "../shared/states";
import { Tick } from "../shared/Tick";
import { moment } from "../shared/words";

export type JobImages = components["schemas"]["JobImages"];
type Image = JobImages["store"][number]["image"];
const RESULTS = [
  ["works", "it works"],
  ["no-change", "no change"],
  ["worse", "worse"],
  ["not-tried", "not tried yet"],
] as const;

/** Firmware: the storage chip's volts first, the old image twice alike, the one that fits, what was written. */
export function Images({ job, mayWork }: { job: JobDetail; mayWork: boolean }) {
  const queries = useQueryClient();
  const [volts, setVolts] = useState<number | null>(null);
  const [problem, setProblem] = useState("");
  const [said, setSaid] = useState("");
  const [query, setQuery] = useSearchParams();
  const against = query.get("against");
  const key = ["images", job.number];
  const params = { path: { number: job.number } };
  const images = useQuery({
    queryKey: key,
    queryFn: async () => data(await api.GET("/api/v1/jobs/{number}/images", { params })),
  });
  if (images.isError) return <Trouble problem={images.error} again={() => images.refetch()} />;
  if (!images.data) return <Loading what="Reading the images" />;
  const found = images.data;
  const keep = async (ask: () => Promise<JobImages>) => {
    setProblem("");
    try {
      queries.setQueryData(key, await ask());
      return true;
    } catch (error) {
      setProblem((error as Error).message);
      return false;
    } finally {
      setSaid("");
    }
  };
  const send = (file: File | undefined) => {
    if (!file || volts === null) return;
    const form = new FormData();
    form.append("entry", newId());
    form.append("chip_volts", String(volts));
    form.append("file", file);
    const share = (sent: number) => setSaid(`Sending, ${Math.round(100 * sent)} %`);
    void keep(() => upload<JobImages>(`/api/v1/jobs/${job.number}/image-reads`, form, share));
  };
  const store = async (files: File[]) => {
    const beside = files.find((one) => one.name.endsWith(".json"));
    const image = files.find((one) => one !== beside);
    if (!image)
      return setProblem("found no image, expected one, and the small JSON beside it where there is one");
    const form = new FormData();
    form.append("file", image);
    if (beside) form.append("facts", beside);
    form.append("origin", `given with ${job.label}`);
    setProblem("");
    try {
      await upload("/api/v1/images", form, (sent) => setSaid(`Sending, ${Math.round(100 * sent)} %`));
      await queries.invalidateQueries({ queryKey: key });
    } catch (error) {
      setProblem((error as Error).message);
    }
    setSaid("");
  };
  return (
    <section aria-labelledby="images-title" className="space-y-4" data-testid="images">
      <h2 id="images-title" className="font-bold text-2xl">
        {found.old ? "The old image is kept" : "The old image first, read twice alike"}
      </h2>
      {problem && (
        <p role="alert" className="border-suspect border-l-4 pl-3">
          {problem}
        </p>
      )}
      {said && <p role="status">{said}</p>}
      {mayWork && !found.old && (
        <div className="border-next border-l-8 bg-next-wash px-4 py-3">
          <p className="font-bold">The storage chip’s own voltage: a programmer of the wrong one kills it.</p>
          <p className="mt-1 flex flex-wrap gap-2">
            {found.volts.map((one) => (
              <button
                key={one}
                type="button"
                className="button"
                aria-pressed={volts === one}
                onClick={() => setVolts(one)}
              >
                {one} V
              </button>
            ))}
            {volts !== null && (
              <ChooseFile take={(files) => send(files[0])} testid="image-read">
                {found.reads.length === 0 ? "The first read" : "Read again"}
              </ChooseFile>
            )}
          </p>
        </div>
      )}
      {found.reads.length > 0 && (
        <ul aria-label="Reads">
          {found.reads.map((one, at) => (
            <li key={one.id} className="border-rule border-t py-1">
              {at + 1}. <strong className="font-mono">{one.sha256.slice(0, 12)}</strong>, {one.size} bytes at{" "}
              {one.chip_volts} V.{" "}
              <span className="text-soft">
                {one.by}, {moment(one.at)}.
              </span>
            </li>
          ))}
        </ul>
      )}
      {found.differ && (
        <p role="alert" className="border-suspect border-l-4 pl-3">
          The last two reads are not alike. {found.differ.why} Seat the clip anew and read again.
        </p>
      )}
      {found.old && (
        <p>
          <strong className="font-mono">{found.old.sha256.slice(0, 12)}</strong>: {factsOf(found.old)}{" "}
          {mayWork && (
            <a className="button-plain" href={`/api/v1/images/${found.old.sha256}/file`} download>
              Save it
            </a>
          )}
          {found.texts.length > 0 && (
            <span className="block text-soft">
              It says inside: {found.texts.slice(0, 4).join(" · ")}. A version text proves nothing.
            </span>
          )}
        </p>
      )}
      <section aria-label="Store">
        <div className="flex flex-wrap items-center gap-3">
          <h3 className="font-bold text-lg">Which image fits</h3>
          {mayWork && (
            <ChooseFile take={(files) => void store(files)} multiple testid="image-store">
              Add to the store
            </ChooseFile>
          )}
        </div>
        <p className="text-soft">
          Wanted:{" "}
          {[
            found.wanted.bus && `bus ${found.wanted.bus}`,
            found.wanted.memory,
            found.wanted.core_mhz && `core ${found.wanted.core_mhz} MHz`,
            found.wanted.memory_mhz && `memory ${found.wanted.memory_mhz} MHz`,
            found.wanted.vendors.length > 0 && `settings for ${found.wanted.vendors.join(", ")}`,
          ]
            .filter(Boolean)
            .join(", ") || "nothing is known of it yet"}
          .
        </p>
        <ol aria-label="Images that fit">
          {found.store.map((one) => (
            <li key={one.image.sha256} className="border-rule border-t py-2">
              <p>
                <strong>{one.image.name}</strong>{" "}
                <span className="font-mono text-soft">{one.image.sha256.slice(0, 12)}</span>{" "}
                {one.misfits.length === 0 && one.fits.length > 0 && (
                  <strong className="text-good">fits</strong>
                )}
                {found.old && one.image.sha256 !== found.old.sha256 && (
                  <button
                    type="button"
                    className="button-plain"
                    aria-expanded={against === one.image.sha256}
                    onClick={() =>
                      setQuery(
                        against === one.image.sha256 || !found.old
                          ? {}
                          : { old: found.old.sha256, against: one.image.sha256 },
                      )
                    }
                  >
                    Compare with the old one
                  </button>
                )}
              </p>
              <p className="text-soft">
                {one.fits.length > 0 && `Has ${one.fits.join(", ")}. `}
                {one.misfits.length > 0 && `Not: ${one.misfits.join("; ")}. `}
                {one.image.source}.
              </p>
            </li>
          ))}
        </ol>
        {found.store.length === 0 && <p className="text-soft">No image yet: each read joins the store.</p>}
      </section>
      {mayWork && found.old && (
        <WriteForm
          store={found.store.map((one) => one.image)}
          volts={found.volts}
          write={(body) =>
            keep(async () =>
              data(
                await api.POST("/api/v1/jobs/{number}/image-writes", {
                  params,
                  body: { id: newId(), ...body },
                }),
              ),
            )
          }
        />
      )}
      {found.writes.length > 0 && (
        <ul aria-label="Written">
          {found.writes.map((one) => (
            <li key={one.id} className="border-rule border-t py-1">
              <strong>{one.image.name}</strong> written at {one.chip_volts} V:{" "}
              {RESULTS.find(([word]) => word === one.result)?.[1]}. {one.note}{" "}
              {one.image.sha256 === one.old && one.result === "works" && (
                <strong>
                  {found.writes.some((other) => other.image.sha256 !== one.old && other.result === "works")
                    ? "The old image works as well as the new one: the image was not the cause. The writing or the power cycle cured it, or it comes and goes."
                    : "The old image works again: the writing or the power cycle cured it, cause unknown."}{" "}
                </strong>
              )}
              <span className="text-soft">
                Old image {one.old.slice(0, 12)} is kept. {one.by}, {moment(one.at)}.
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
    facts.bus && `bus ${facts.bus}`,
    facts.memory,
    facts.core_mhz && `core ${facts.core_mhz} MHz`,
    facts.memory_mhz && `memory ${facts.memory_mhz} MHz`,
    facts.vendors.length > 0 && `carries settings for ${facts.vendors.join(", ")}`,
    facts.text && `“${facts.text.length > 160 ? `${facts.text.slice(0, 160)} …` : facts.text}”`,
  ].filter(Boolean);
  return words.length > 0 ? words.join(", ") : "it says nothing of itself; a small JSON beside it can";
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
  const [image, setImage] = useState(store[0]?.sha256 ?? "");
  const [at, setAt] = useState(volts[0] ?? 1.8);
  const [off, setOff] = useState(false);
  const [result, setResult] = useState<(typeof RESULTS)[number][0]>("works");
  const [note, setNote] = useState("");
  return (
    <form
      className="flex flex-wrap items-end gap-3"
      data-testid="write-form"
      onSubmit={async (event) => {
        event.preventDefault();
        if (await write({ image, chip_volts: at, power_off: off, result, note: note.trim() })) setNote("");
      }}
    >
      <label>
        <span className="block text-soft">written</span>
        <select className="field max-w-56" value={image} onChange={(event) => setImage(event.target.value)}>
          {store.map((one) => (
            <option key={one.sha256} value={one.sha256}>
              {one.name} {one.sha256.slice(0, 8)}
            </option>
          ))}
        </select>
      </label>
      <label>
        <span className="block text-soft">at</span>
        <select className="field" value={at} onChange={(event) => setAt(Number(event.target.value))}>
          {volts.map((one) => (
            <option key={one} value={one}>
              {one} V
            </option>
          ))}
        </select>
      </label>
      <Tick says="power was fully off after it" on={off} set={setOff} />
      <Pick says="what came of it" value={result} set={setResult} words={RESULTS} />
      <Line says="note" value={note} set={setNote} />
      <button type="submit" className="button" disabled={!off || !image}>
        Enter the write
      </button>
    </form>
  );
}
