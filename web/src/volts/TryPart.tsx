import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import type { JobDetail, Volts } from "../api/client";
import { SelectField, TextField } from "../shared/fields";
import { optionsOf, useKinds, wordsOf } from "../shared/useKinds";
import { moment } from "../shared/words";
import type { Node, Powering } from "./useVolts";

type Attempt = Parameters<Powering["attempt"]>[0];

interface TryPartProps {
  job: JobDetail;
  volts: Volts;
  node: Node | undefined;
  attempt: Powering["attempt"];
  mayWork: boolean;
}

/** A part tried for a node that is missing: no change rules it out, a cure begins a new pass in Ohms. */
export function TryPart({ job, volts, node, attempt, mayWork }: TryPartProps) {
  const [asked, setAsked] = useState(false);
  const { tried, came_of } = useKinds();
  const cured = volts.tried.some((entry) => entry.came_of !== "no-change");
  return (
    <section aria-label={t`Parts tried`}>
      {volts.tried.length > 0 && (
        <>
          <h3 className="font-bold text-lg">
            <Trans>Tried</Trans>
          </h3>
          <ul aria-label={t`Tried`}>
            {volts.tried.map((entry) => (
              <li key={entry.id} className="border-rule border-t py-1">
                <Trans>
                  <strong className="font-mono">{entry.part}</strong> for {entry.node},{" "}
                  {wordsOf(tried, entry.done)}: <strong>{wordsOf(came_of, entry.came_of)}</strong>.{" "}
                  {entry.note}{" "}
                  <span className="text-soft">
                    {entry.by}, {moment(entry.at)}.
                  </span>
                </Trans>
              </li>
            ))}
          </ul>
          {cured && (
            <p>
              <Trans>
                Several faults in a row are common: a new pass is begun in Ohms, with all that was read kept.{" "}
                <Link className="button-plain" to={`/jobs/${job.number}/ohms`}>
                  Back to Ohms
                </Link>
              </Trans>
            </p>
          )}
        </>
      )}
      {mayWork && node && node.parts.length > 0 && (
        <p>
          <button
            type="button"
            className="button-plain -ml-2"
            aria-expanded={asked}
            onClick={() => setAsked(!asked)}
          >
            <Trans>A part of {node.name} was tried</Trans>
          </button>
        </p>
      )}
      {asked && node && <TryForm key={node.id} node={node} attempt={attempt} close={() => setAsked(false)} />}
    </section>
  );
}

interface TryFormProps {
  node: Node;
  attempt: Powering["attempt"];
  close: () => void;
}

function TryForm({ node, attempt, close }: TryFormProps) {
  const [part, setPart] = useState(node.parts[0] ?? "");
  const { tried, came_of } = useKinds();
  const [done, setDone] = useState<Attempt["done"]>("replaced");
  const [cameOf, setCameOf] = useState<Attempt["came_of"]>("no-change");
  const [note, setNote] = useState("");
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (await attempt({ node: node.id, part, done, came_of: cameOf, note: note.trim() })) close();
  };
  return (
    <form onSubmit={submit} className="flex flex-wrap items-end gap-3" data-testid="try-form">
      <SelectField
        label={t`part`}
        value={part}
        onChange={setPart}
        options={node.parts.map((name) => [name, name])}
        mono
      />
      <SelectField
        label={t`done`}
        value={done}
        onChange={setDone}
        options={optionsOf<Attempt["done"]>(tried)}
      />
      <SelectField
        label={t`what came of it`}
        value={cameOf}
        onChange={setCameOf}
        options={optionsOf<Attempt["came_of"]>(came_of)}
      />
      <TextField label={t`note`} value={note} onChange={setNote} />
      <button type="submit" className="button">
        <Trans>Store</Trans>
      </button>
    </form>
  );
}
