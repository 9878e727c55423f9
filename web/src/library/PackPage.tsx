import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { uploadEntry } from "../api/upload";
import { ChooseFile } from "../shared/ChooseFile";
import { FormError } from "../shared/FormError";
import { TextField } from "../shared/fields";
import { useKeeping } from "../shared/keeping";
import { mayWorkAtBench, useSession } from "../signin/session";

type Choice = "keep" | "both" | "take";
interface Change {
  kind: string;
  words: string;
  id: string;
  origin: string;
  state: "new" | "same" | "known" | "differs";
  choice: Choice;
}

const STATES = {
  new: t`new here`,
  same: t`the same here`,
  known: t`an earlier edition here`,
  differs: t`another one here`,
} as const;
const CHOICES: readonly (readonly [Choice, string])[] = [
  ["both", t`keep both, ours in use`],
  ["take", t`take theirs, ours stays in the history`],
  ["keep", t`leave it out`],
];
// good cards' readings are many: what is done with them is said in one line
const MOST_SHOWN = 200;

/** A library in one open file, and another shop's laid beside it entry by entry before anything is taken in. */
export function PackPage() {
  const session = useSession();
  const lead = session.data?.person?.role === "lead";
  const mayWork = mayWorkAtBench(session.data?.person);
  const [shop, setShop] = useState("");
  const [file, setFile] = useState<File | null>(null);
  const [changes, setChanges] = useState<Change[]>([]);
  const [done, setDone] = useState("");
  const { problem, keep } = useKeeping([[]]);
  const compare = async (chosen: File) => {
    setDone("");
    const body = new FormData();
    body.set("file", chosen);
    const address = "/api/v1/library-pack/compared";
    const compared = await keep(() => uploadEntry<Change[]>(address, body, () => undefined));
    if (!compared || compared === "kept") return;
    setChanges(compared);
    setFile(chosen);
  };
  const take = async () => {
    if (!file) return;
    const choices = Object.fromEntries(asked.map((change) => [`${change.kind}/${change.id}`, change.choice]));
    const body = new FormData();
    body.set("file", file);
    body.set("choices", JSON.stringify(choices));
    if (!(await keep(() => uploadEntry<Change[]>("/api/v1/library-pack", body, () => undefined)))) return;
    const entries = fresh.length + asked.filter((change) => change.choice !== "keep").length;
    setDone(entries === 1 ? t`Taken in: one entry.` : t`Taken in: ${entries} entries.`);
    setChanges([]);
    setFile(null);
  };
  const fresh = changes.filter((change) => change.state === "new");
  const asked = changes.filter((change) => change.state === "differs");
  const there = changes.length - fresh.length - asked.length;
  const choose = (of: Change, choice: Choice) =>
    setChanges(changes.map((change) => (change === of ? { ...change, choice } : change)));
  return (
    <main className="max-w-5xl space-y-6 p-6">
      <h1 className="text-3xl font-bold">
        <Trans>The library in one file</Trans>
      </h1>
      <section aria-labelledby="out-title" className="space-y-2">
        <h2 id="out-title" className="text-xl font-bold">
          <Trans>Export</Trans>
        </h2>
        <p>
          <Trans>
            Board models, bench plans, families, testers’ recipes and readers, ball maps, watchlists,
            protocols, notes on chips and what good cards read. No job, no customer and no photograph is in
            it.
          </Trans>
        </p>
        <p className="flex flex-wrap items-end gap-3">
          <TextField
            label={t`this shop’s name, as it is shown there`}
            value={shop}
            onChange={setShop}
            maxLength={80}
            wide="w-72"
          />
          {mayWork && (
            <a
              className="button grid place-items-center"
              href={`/api/v1/library-pack?shop=${encodeURIComponent(shop.trim())}`}
              download
            >
              <Trans>Export the library</Trans>
            </a>
          )}
        </p>
      </section>
      <section aria-labelledby="in-title" className="space-y-2">
        <h2 id="in-title" className="text-xl font-bold">
          <Trans>Another shop’s</Trans>
        </h2>
        <p>
          <Trans>
            Nothing here is overwritten: what differs is kept beside ours, as an edition of its own.
          </Trans>
        </p>
        {mayWork && (
          <ChooseFile take={([first]) => first && void compare(first)} accept=".json" testid="pack-file">
            <Trans>Lay a pack beside the library</Trans>
          </ChooseFile>
        )}
        <FormError problem={problem} />
        {done && <p role="status">{done}</p>}
        {changes.length > 0 && (
          <div className="space-y-3" data-testid="pack">
            <p>
              <Trans>
                <strong>{fresh.length} new</strong>, {asked.length} that differ, {there} that are here
                already.
              </Trans>
            </p>
            {asked.length > 0 && (
              <ul aria-label={t`What differs`}>
                {asked.map((change) => (
                  <li
                    key={`${change.kind}/${change.id}`}
                    className="flex flex-wrap items-baseline gap-3 border-rule border-t py-1.5"
                  >
                    <span className="w-44 text-soft">{change.words}</span>
                    <strong className="min-w-40 flex-1">{change.id}</strong>
                    <span className="text-soft">{change.origin && t`from ${change.origin}`}</span>
                    <Select
                      className="field"
                      aria-label={t`What is done with ${change.words} ${change.id}`}
                      value={change.choice}
                      disabled={!lead}
                      onChange={(event) => choose(change, event.target.value as Choice)}
                    >
                      {CHOICES.map(([choice, label]) => (
                        <option key={choice} value={choice}>
                          {label}
                        </option>
                      ))}
                    </Select>
                  </li>
                ))}
              </ul>
            )}
            <details>
              <summary className="cursor-pointer py-1 underline underline-offset-3">
                <Trans>Every entry</Trans>
              </summary>
              <ul aria-label={t`Every entry`}>
                {changes.slice(0, MOST_SHOWN).map((change) => (
                  <li
                    key={`${change.kind}/${change.id}`}
                    className="grid grid-cols-[11rem_1fr_14rem] border-rule border-t py-1"
                  >
                    <span className="text-soft">{change.words}</span>
                    <span className="truncate">{change.id}</span>
                    <span>{STATES[change.state]}</span>
                  </li>
                ))}
              </ul>
              {changes.length > MOST_SHOWN && (
                <p className="text-soft">
                  <Trans>and {changes.length - MOST_SHOWN} more</Trans>
                </p>
              )}
            </details>
            {lead ? (
              <button
                type="button"
                className="button border-next"
                disabled={fresh.length + asked.length === 0}
                onClick={() => void take()}
              >
                <Trans>Take it in</Trans>
              </button>
            ) : (
              <p className="text-soft">
                <Trans>The lead takes it in.</Trans>
              </p>
            )}
          </div>
        )}
      </section>
    </main>
  );
}
