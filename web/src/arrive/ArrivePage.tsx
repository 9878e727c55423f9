import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type FormEvent, useState } from "react";
import { useForm } from "react-hook-form";
import type { Arrive, Drawing, JobDetail } from "../api/client";
import { Board, NO_NOTES } from "../board/Board";
import { StepPage } from "../job/StepPage";
import { useOrientation } from "../job/useOrientation";
import { WorkPanel } from "../job/WorkPanel";
import { decimalOf } from "../shared/numbers";
import { LoadError, Loading } from "../shared/states";
import { moment } from "../shared/words";
import { useMayWork } from "../signin/session";
import { Evidence } from "./Evidence";
import { Matrix } from "./Matrix";
import { Parcel, Past } from "./Parcel";
import { type SymptomEntry, type SymptomKind, useArrive } from "./useArrive";

const OFTEN = [
  ["always", t`every time`],
  ["often", t`more often than not`],
  ["rarely", t`now and then`],
] as const;
const CONDITIONS = [t`cold start`, "warm", t`under load`, "idle", t`flexed or tapped`, t`a plug wiggled`];

/** A job at Arrive: the customer's words beside what the shop sees, what it is not, how it is called up. */
export function ArrivePage() {
  return (
    <StepPage step="Arrive">
      {(job, model) => <AtArrive job={job} drawing={model.drawing ?? null} />}
    </StepPage>
  );
}

function AtArrive({ job, drawing }: { job: JobDetail; drawing: Drawing | null }) {
  const mayWork = useMayWork(job);
  const arriving = useArrive(job.number);
  const { orientation, setOrientation } = useOrientation(job, mayWork);
  const found = arriving.arrive.data;
  return (
    <div className="grid min-h-0 flex-1 grid-rows-[32rem_auto] lg:grid-cols-[50%_1fr] lg:grid-rows-1">
      {drawing ? (
        <Board
          drawing={drawing}
          orientation={orientation}
          setOrientation={setOrientation}
          notes={NO_NOTES}
          fit="board"
          title={t`Board of ${job.label}`}
        />
      ) : (
        <p className="grid place-items-center bg-tray p-8 text-center">
          <Trans>This board is not drawn yet.</Trans>
        </p>
      )}
      <WorkPanel job={job} step="Arrive">
        {arriving.problem && (
          <p role="alert" className="border-l-4 border-suspect pl-3">
            <Trans>{arriving.problem} What you entered is kept here.</Trans>
          </p>
        )}
        {arriving.arrive.isError && (
          <LoadError problem={arriving.arrive.error} again={() => arriving.arrive.refetch()} />
        )}
        {!found && !arriving.arrive.isError && <Loading what={t`Reading what arrived`} />}
        {found && (
          <>
            <Past job={job} past={found.past} />
            <p>
              <a
                className="button inline-grid place-items-center"
                href={`/api/v1/jobs/${job.number}/label`}
                target="_blank"
                rel="noreferrer"
              >
                <Trans>Print the label</Trans>
              </a>{" "}
              <span className="text-soft">
                <Trans>Scanned anywhere here, it opens {job.label}.</Trans>
              </span>
            </p>

            <fieldset disabled={job.left !== null} className="space-y-6">
              {(found.intake || !job.left) && (
                <Parcel key={found.intake?.at ?? "unopened"} job={job} found={found} arriving={arriving} />
              )}
              <Words
                key={found.symptom?.at ?? "none"}
                job={job}
                symptom={found.symptom}
                kinds={found.symptoms}
                arriving={arriving}
              />
            </fieldset>
            <Matrix found={found} arriving={arriving} mayWork={mayWork} />
            <Evidence found={found} arriving={arriving} mayWork={mayWork} />
            <Reproductions found={found} arriving={arriving} mayWork={mayWork} />
          </>
        )}
      </WorkPanel>
    </div>
  );
}

interface WordsProps {
  job: JobDetail;
  symptom: Arrive["symptom"];
  kinds: Arrive["symptoms"];
  arriving: ReturnType<typeof useArrive>;
}

/** The customer's words, and beside them what the shop sees. */
function Words({ job, symptom, kinds, arriving }: WordsProps) {
  const { register, handleSubmit, setValue, watch } = useForm<SymptomEntry>({
    defaultValues: {
      often: symptom?.often ?? "always",
      seen: symptom?.seen ?? "",
      began: symptom?.began ?? "",
      conditions: symptom?.conditions ?? [],
      kinds: (symptom?.kinds ?? []) as SymptomKind[],
    },
  });
  const entry = watch();
  const submit = handleSubmit((typed) => arriving.say(typed));
  return (
    <form onSubmit={submit} className="space-y-3">
      <div>
        <h2 className="text-lg font-bold">
          <Trans>The customer says</Trans>
        </h2>
        <blockquote className="border-l-4 border-ink pl-3 text-lg">“{job.complaint}”</blockquote>
      </div>
      <label className="block">
        <span className="block font-bold">
          <Trans>The shop sees</Trans>
        </span>
        <textarea className="field w-full" rows={2} maxLength={400} {...register("seen")} />
      </label>
      <div className="grid gap-3 sm:grid-cols-2">
        <label className="block">
          <span className="block text-soft">
            <Trans>since when, after what</Trans>
          </span>
          <input className="field w-full" maxLength={200} {...register("began")} />
        </label>
        <label className="block">
          <span className="block text-soft">
            <Trans>it shows</Trans>
          </span>
          <Select className="field w-full" {...register("often")}>
            {OFTEN.map(([word, label]) => (
              <option key={word} value={word}>
                {label}
              </option>
            ))}
          </Select>
        </label>
      </div>
      <Several
        legend={t`kind of symptom, so that cards alike find each other`}
        words={kinds.map(({ word, says }) => ({ word, label: says }))}
        chosen={entry.kinds}
        choose={(chosen) => setValue("kinds", chosen as SymptomKind[])}
      />
      <Several
        legend={t`when`}
        words={CONDITIONS.map((word) => ({ word, label: word }))}
        chosen={entry.conditions}
        choose={(conditions) => setValue("conditions", conditions)}
      />
      <p className="flex items-center gap-3">
        <button type="submit" className="button">
          <Trans>Keep it</Trans>
        </button>
        {symptom && (
          <span className="text-soft">
            {symptom.by}, {moment(symptom.at)}
          </span>
        )}
      </p>
    </form>
  );
}

interface SeveralProps {
  legend: string;
  words: { word: string; label: string }[];
  chosen: string[];
  choose: (chosen: string[]) => void;
}

/** Any of some words. */
function Several({ legend, words, chosen, choose }: SeveralProps) {
  return (
    <fieldset className="flex flex-wrap gap-2">
      <legend className="mb-1 text-soft">{legend}</legend>
      {words.map(({ word, label }) => (
        <label
          key={word}
          className={`flex min-h-11 items-center gap-2 rounded-md border-2 px-3 ${chosen.includes(word) ? "border-ink font-bold" : "border-edge"}`}
        >
          <input
            type="checkbox"
            checked={chosen.includes(word)}
            onChange={(event) =>
              choose(event.target.checked ? [...chosen, word] : chosen.filter((name) => name !== word))
            }
          />
          {label}
        </label>
      ))}
    </fieldset>
  );
}

interface ReproductionsProps {
  found: Arrive;
  arriving: ReturnType<typeof useArrive>;
  mayWork: boolean;
}

/** The symptom called up on the bench: one load may pass and another crash. */
function Reproductions({ found, arriving, mayWork }: ReproductionsProps) {
  const [load, setLoad] = useState("");
  const [minutes, setMinutes] = useState("");
  const [outcome, setOutcome] = useState("");
  const taken = decimalOf(minutes);
  const fits = load.trim() && outcome.trim() && minutes.trim() && Number.isFinite(taken) && taken >= 0;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (await arriving.reproduce(load.trim(), taken, outcome.trim())) {
      setLoad("");
      setMinutes("");
      setOutcome("");
    }
  };
  return (
    <section aria-labelledby="reproduced-title">
      <h3 id="reproduced-title" className="text-lg font-bold">
        <Trans>Called up on the bench</Trans>
      </h3>
      <ul>
        {found.reproductions.map((reproduction) => (
          <li key={reproduction.id} className="border-t border-rule py-1">
            <Trans>
              <strong>{reproduction.load}</strong>, {reproduction.minutes} min: {reproduction.outcome}.{" "}
              <span className="text-soft">
                {reproduction.by}, {moment(reproduction.at)}
              </span>
            </Trans>
          </li>
        ))}
      </ul>
      {mayWork && (
        <form onSubmit={submit} className="mt-2 flex flex-wrap items-end gap-2">
          <label className="min-w-40 flex-1">
            <span className="block text-soft">
              <Trans>load</Trans>
            </span>
            <input
              className="field w-full"
              maxLength={200}
              value={load}
              onChange={(e) => setLoad(e.target.value)}
            />
          </label>
          <label className="w-20">
            <span className="block text-soft">
              <Trans>minutes</Trans>
            </span>
            <input
              className="field w-full font-mono"
              inputMode="decimal"
              value={minutes}
              onChange={(e) => setMinutes(e.target.value)}
            />
          </label>
          <label className="min-w-40 flex-1">
            <span className="block text-soft">
              <Trans>what came of it</Trans>
            </span>
            <input
              className="field w-full"
              maxLength={400}
              value={outcome}
              onChange={(e) => setOutcome(e.target.value)}
            />
          </label>
          <button type="submit" className="button" disabled={!fits}>
            <Trans>Enter it</Trans>
          </button>
        </form>
      )}
    </section>
  );
}
