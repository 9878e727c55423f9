import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type FormEvent, useState } from "react";
import type { Arrive } from "../api/client";
import { sendFile, sendPicture } from "../api/upload";
import { ChooseFile, PHOTOGRAPHS } from "../shared/ChooseFile";
import { moment } from "../shared/words";
import type { EvidenceEntry, useArrive } from "./useArrive";

interface EvidenceProps {
  found: Arrive;
  arriving: ReturnType<typeof useArrive>;
  mayWork: boolean;
}

const MARKS = { unproven: t`unproven`, proven: t`seen here too`, refuted: t`not so` } as const;
const BLANK: EvidenceEntry = { kind: "photograph", source: t`the customer`, text: "" };

/** What others say or show of the card, with its source; unproven until the shop has seen it itself. */
export function Evidence({ found, arriving, mayWork }: EvidenceProps) {
  const [entry, setEntry] = useState<EvidenceEntry>(BLANK);
  const [said, setSaid] = useState("");
  const change = (part: Partial<EvidenceEntry>) => setEntry((old) => ({ ...old, ...part }));
  const take = async (file: File | undefined) => {
    if (!file) return;
    try {
      const sent = (share: number) => setSaid(t`Sending, ${Math.round(share * 100)} %`);
      if (PHOTOGRAPHS.split(",").includes(file.type))
        change({ picture: (await sendPicture(file, sent)).sha256 });
      else change({ file: (await sendFile(file, sent)).sha256, file_name: file.name });
      setSaid(file.name);
    } catch (error) {
      setSaid((error as Error).message);
    }
  };
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (await arriving.addEvidence({ ...entry, text: entry.text.trim(), source: entry.source.trim() })) {
      setEntry(BLANK);
      setSaid("");
    }
  };
  return (
    <section aria-labelledby="evidence-title">
      <h3 id="evidence-title" className="text-lg font-bold">
        <Trans>Evidence</Trans>
      </h3>
      <ul aria-label={t`Evidence`}>
        {found.evidence.map((item) => (
          <li key={item.id} className="border-t border-rule py-2">
            <p>
              <Trans>
                <strong>{found.kinds.find((kind) => kind.word === item.kind)?.says ?? item.kind}</strong>,
                from {item.source}: <strong>{MARKS[item.word]}</strong>.{" "}
                <span className="text-soft">
                  {item.by}, {moment(item.at)}
                </span>
              </Trans>
            </p>
            {item.text && <p className="whitespace-pre-wrap wrap-anywhere">{item.text}</p>}
            {item.file && (
              <a className="button-plain -ml-2" href={`/api/v1/evidence/${item.id}/file`} download>
                {item.file_name || t`the file`}
              </a>
            )}
            {item.picture && (
              <a href={`/api/v1/pictures/${item.picture}`} target="_blank" rel="noreferrer">
                <img
                  src={`/api/v1/pictures/${item.picture}?small=1`}
                  alt={t`From ${item.source}`}
                  className="h-24 rounded object-cover"
                />
              </a>
            )}
            {mayWork && (
              <p className="mt-1 flex gap-2">
                {(Object.keys(MARKS) as (keyof typeof MARKS)[])
                  .filter((word) => word !== item.word)
                  .map((word) => (
                    <button
                      key={word}
                      type="button"
                      className="button-plain -ml-2"
                      onClick={() => void arriving.judge(item.id, word)}
                    >
                      {MARKS[word]}
                    </button>
                  ))}
              </p>
            )}
          </li>
        ))}
      </ul>
      <form onSubmit={submit} className="mt-2 grid gap-3 sm:grid-cols-2">
        <label className="block">
          <span className="block text-soft">
            <Trans>kind</Trans>
          </span>
          <Select
            className="field w-full"
            value={entry.kind}
            onChange={(event) => change({ kind: event.target.value as EvidenceEntry["kind"] })}
          >
            {found.kinds.map((kind) => (
              <option key={kind.word} value={kind.word}>
                {kind.says}
              </option>
            ))}
          </Select>
        </label>
        <label className="block">
          <span className="block text-soft">
            <Trans>from whom</Trans>
          </span>
          <input
            className="field w-full"
            required
            maxLength={120}
            value={entry.source}
            onChange={(event) => change({ source: event.target.value })}
          />
        </label>
        <label className="block sm:col-span-2">
          <span className="block text-soft">
            <Trans>what it says</Trans>
          </span>
          <textarea
            className="field w-full"
            rows={2}
            maxLength={20000}
            value={entry.text}
            onChange={(event) => change({ text: event.target.value })}
          />
        </label>
        <p className="flex flex-wrap items-center gap-3 sm:col-span-2">
          <ChooseFile take={(files) => void take(files[0])} testid="evidence-file">
            <Trans>With a photograph or file</Trans>
          </ChooseFile>
          <button
            type="submit"
            className="button"
            disabled={!entry.source.trim() || !(entry.text.trim() || entry.picture || entry.file)}
          >
            <Trans>Add this evidence</Trans>
          </button>
          {said && <span role="status">{said}</span>}
        </p>
      </form>
    </section>
  );
}
