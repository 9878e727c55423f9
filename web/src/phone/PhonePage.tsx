import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { newId } from "../api/client";
import { upload } from "../api/upload";
import { PracticeMark } from "../practice/PracticeMark";
import { phoneQuery } from "../queries/shop";
import { ChooseFile } from "../shared/ChooseFile";
import { Loading } from "../shared/states";
import { PhoneReadings } from "./PhoneReadings";

interface Sent {
  id: string;
  file: File;
  address: string;
  said: string;
  ok: boolean;
  failed: boolean;
}

const SIDES = [
  ["front", t`Front`],
  ["back", t`Back`],
  ["", t`Detail`],
] as const;

/** On a phone that joined a job: take photographs and see that they arrived, type readings and see their verdicts. */
export function PhonePage() {
  const { token = "" } = useParams();
  const [side, setSide] = useState<"front" | "back" | "">("front");
  const [sent, setSent] = useState<Sent[]>([]);
  const joined = useQuery(phoneQuery(token));
  const change = (id: string, part: Partial<Sent>) =>
    setSent((all) => all.map((entry) => (entry.id === id ? { ...entry, ...part } : entry)));
  const send = async (entry: Sent) => {
    const form = new FormData();
    form.append("id", entry.id);
    form.append("side", side);
    form.append("file", entry.file);
    try {
      await upload(`/api/v1/phone/${token}`, form, (share) =>
        change(entry.id, { said: t`Sending, ${Math.round(share * 100)} %` }),
      );
      change(entry.id, { said: t`Arrived`, ok: true });
    } catch (problem) {
      change(entry.id, { said: (problem as Error).message, failed: true });
    }
  };
  const take = async (files: File[]) => {
    const fresh = files.map((file) => ({
      id: newId(),
      file,
      address: URL.createObjectURL(file),
      said: t`Waiting`,
      ok: false,
      failed: false,
    }));
    setSent((all) => [...fresh, ...all]);
    for (const entry of fresh) await send(entry);
  };
  if (joined.isPending) return <Loading what={t`Joining the job`} />;
  if (joined.isError)
    return (
      <main className="p-6">
        <h1 className="text-2xl font-bold">
          <Trans>No job joined</Trans>
        </h1>
        <p role="alert" className="mt-3">
          {joined.error.message}
        </p>
      </main>
    );
  return (
    <main className="mx-auto max-w-md space-y-4 p-4">
      <h1 className="font-mono text-3xl font-bold">{joined.data.label}</h1>
      {joined.data.practice && <PracticeMark />}
      <fieldset className="grid grid-cols-3 gap-2">
        <legend className="mb-1 text-soft">
          <Trans>what it shows</Trans>
        </legend>
        {SIDES.map(([word, name]) => (
          <label
            key={word}
            className={`grid min-h-12 place-items-center rounded-md border-2 ${side === word ? "border-ink bg-sheet font-bold" : "border-edge"}`}
          >
            <span>
              <input
                type="radio"
                name="side"
                className="mr-2"
                checked={side === word}
                onChange={() => setSide(word)}
              />
              {name}
            </span>
          </label>
        ))}
      </fieldset>
      <ChooseFile
        take={(files) => void take(files)}
        accept="image/*"
        capture
        multiple
        testid="phone-photograph"
        className="w-full border-next py-6 text-xl"
      >
        <Trans>Take a photograph</Trans>
      </ChooseFile>
      <ul className="space-y-2" aria-label={t`Sent`}>
        {sent.map((entry) => (
          <li key={entry.id} className="flex items-center gap-3 rounded border border-rule bg-sheet p-2">
            <img src={entry.address} alt="" className="size-16 rounded object-cover" />
            <span role="status" className="min-w-0 flex-1">
              {entry.said}
            </span>
            {entry.failed && (
              <button type="button" className="button" onClick={() => void send(entry)}>
                <Trans>Again</Trans>
              </button>
            )}
          </li>
        ))}
      </ul>
      <PhoneReadings token={token} />
    </main>
  );
}
