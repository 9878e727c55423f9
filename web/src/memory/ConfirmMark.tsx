import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useEffect, useRef, useState } from "react";
import { api, type Drawing, type JobDetail, newId, Problem, type SiteShape } from "../api/client";
import { markQuestionQuery } from "../queries/job";
import { keyOf } from "../queries/keys";
import { useKeys } from "../shared/keys";
import { moment } from "../shared/words";

interface ConfirmProps {
  job: JobDetail;
  drawing: Drawing;
  site: SiteShape;
  show: (designator: string | null) => void;
  mayWork: boolean;
}

/**
 * Before a chip is marked: the designator as printed, and one landmark question. An answer that stands beside the
 * field proves nothing, so no name is in sight while it is asked for.
 */
export function ConfirmMark({ job, drawing, site, show, mayWork }: ConfirmProps) {
  const queries = useQueryClient();
  const again = () => queries.invalidateQueries({ queryKey: keyOf("job", String(job.number)) });
  const takeBack = async () => {
    if (!job.mark) return;
    await api.POST("/api/v1/marks/{mark}/withdrawal", { params: { path: { mark: job.mark.id } }, body: {} });
    await again();
  };
  const marked = job.mark?.designator === site.designator;
  return (
    <section
      aria-label={t`The mark`}
      className="border-t-2 border-rule bg-sheet px-5 py-3"
      data-testid="mark"
    >
      {job.mark && (
        <p className="flex items-center gap-3">
          <span>
            <Trans>
              <strong className="font-mono text-xl">{job.mark.designator}</strong> is marked, by {job.mark.by}
              , {moment(job.mark.at)}.
            </Trans>
          </span>
          {mayWork && (
            <button type="button" className="button-plain ml-auto shrink-0" onClick={takeBack}>
              <Trans>Take the mark back</Trans>
            </button>
          )}
        </p>
      )}
      {mayWork && !marked && (
        <Form key={site.designator} job={job} drawing={drawing} site={site} show={show} done={again} />
      )}
      {!mayWork && !job.mark && (
        <p>
          <Trans>No chip is marked yet.</Trans>
        </p>
      )}
    </section>
  );
}

interface FormProps {
  job: JobDetail;
  drawing: Drawing;
  site: SiteShape;
  show: (designator: string | null) => void;
  done: () => Promise<void>;
}

function Form({ job, drawing, site, show, done }: FormProps) {
  const [typed, setTyped] = useState("");
  const [answer, setAnswer] = useState<"yes" | "no" | "">("");
  const [wrong, setWrong] = useState("");
  const [id] = useState(newId);
  const field = useRef<HTMLInputElement>(null);
  useKeys({ m: () => field.current?.focus() });
  useEffect(() => () => show(null), [show]);
  const [covered, setCovered] = useState(false);
  useEffect(() => {
    document.documentElement.toggleAttribute("data-names-covered", covered);
    return () => document.documentElement.removeAttribute("data-names-covered");
  }, [covered]);
  const question = useQuery(markQuestionQuery(job.number, site.designator));
  const whole = drawing.sites.some((entry) => entry.designator.toUpperCase() === typed.trim().toUpperCase());
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    try {
      const body = { id, designator: site.designator, typed: typed.trim(), answer };
      await api.POST("/api/v1/jobs/{number}/marks", { params: { path: { number: job.number } }, body });
      show(null);
      await done();
    } catch (error) {
      setWrong((error as Error).message);
      if (error instanceof Problem) {
        const shown = error.code === "wrong-designator" ? error.facts.typed : error.facts.reference;
        show(typeof shown === "string" ? shown : null);
      }
    }
  };
  return (
    <form
      onSubmit={submit}
      onFocus={() => setCovered(true)}
      onBlur={(event) => {
        if (!event.currentTarget.contains(event.relatedTarget)) setCovered(false);
      }}
    >
      {covered && (
        <p className="mb-2 text-soft">
          <Trans>The names on screen are covered while you answer: read it off the board.</Trans>
        </p>
      )}
      <div className="flex items-center gap-3">
        <label className="flex flex-1 items-center gap-3">
          <span>
            <Trans>
              Printed beside the chip you mark <kbd className="key">m</kbd>
            </Trans>
          </span>
          <input
            ref={field}
            className={`field w-28 font-mono text-xl font-bold uppercase ${whole ? "" : "text-soft"}`}
            aria-label={t`Designator printed beside the chip you mark`}
            value={typed}
            maxLength={80}
            autoComplete="off"
            onChange={(event) => {
              setTyped(event.target.value);
              setWrong("");
              show(null);
            }}
          />
        </label>
        <button
          type="submit"
          className={`button ${job.next.what === "mark" ? "border-next" : ""}`}
          disabled={!typed.trim() || (!!question.data?.text && answer === "")}
        >
          <Trans>Mark this chip</Trans>
        </button>
      </div>
      {question.data?.text && (
        <fieldset className="mt-2 flex items-center gap-4">
          <legend className="float-left mr-2 flex-1">{question.data.text}</legend>
          {(["yes", "no"] as const).map((name) => (
            <label
              key={name}
              className={`flex min-h-11 items-center gap-2 rounded-md border-2 px-3 ${answer === name ? "border-ink font-bold" : "border-edge"}`}
            >
              <input
                type="radio"
                name="landmark"
                checked={answer === name}
                onChange={() => {
                  setAnswer(name);
                  setWrong("");
                }}
              />
              {name}
            </label>
          ))}
        </fieldset>
      )}
      {wrong && (
        <p role="alert" className="mt-2 border-l-4 border-suspect pl-3">
          {wrong}
        </p>
      )}
    </form>
  );
}
