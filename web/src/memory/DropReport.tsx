import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import type { JobDetail } from "../api/client";
import type { TeachFrom } from "../library/TeachReader";
import { ChooseFile } from "../shared/ChooseFile";
import { useKeys } from "../shared/keys";
import { size } from "../shared/words";
import { type Dropped, useDroppedReports } from "./dropped";
import { holdReport, takeHeldReport } from "./held";

const SAMPLE_BYTES = 390_000;

/** Where a tester's report comes in: dropped anywhere on the page, pasted, or chosen. */
export function DropReport({ job, first }: { job: JobDetail; first: boolean }) {
  const [condition, setCondition] = useState("");
  const { dropped, take, answer, dismiss, over } = useDroppedReports(job, condition);
  const chooser = useRef<HTMLInputElement>(null);
  const navigate = useNavigate();
  const teach = async (entry: Dropped) => {
    const sample = (await entry.file.slice(0, SAMPLE_BYTES).text()).replaceAll("\0", "�");
    const from: TeachFrom = {
      sample,
      name: entry.file.name.replace(/\.[^.]*$/, ""),
      model: job.board_model,
      job: job.number,
    };
    holdReport(entry.file, job.number);
    navigate("/library/readers/teach", { state: from });
  };
  useEffect(() => {
    const held = takeHeldReport(job.number);
    if (held) take([held]);
  }, [job.number, take]);
  useKeys({ d: () => chooser.current?.click() });
  return (
    <section
      aria-label={t`Drop a report`}
      className={`rounded-lg border-2 border-dashed p-4 ${over ? "border-ink bg-tray" : "border-edge"} ${first ? "py-8" : ""}`}
    >
      {first && (
        <h2 className="mb-1 text-2xl font-bold">
          <Trans>Drop the tester’s report here</Trans>
        </h2>
      )}
      <p className={first ? "mb-4" : "mb-2 font-semibold"}>
        {first
          ? t`Uvrix reads its own CSV and JSON lines and what you taught it, counts round the core, and shows which chip on this board is failing.`
          : t`Drop or paste another run`}
      </p>
      <div className="flex flex-wrap items-end gap-3">
        <label className="min-w-0 flex-1">
          <span className="block text-soft">
            <Trans>Condition</Trans>
          </span>
          <input
            className="field w-full"
            list="conditions"
            placeholder={t`as the report says`}
            maxLength={200}
            value={condition}
            onChange={(event) => setCondition(event.target.value)}
          />
          <datalist id="conditions">
            {["cold", "warm", t`flexed up`, t`flexed down`, "after-rework"].map((word) => (
              <option key={word} value={word} />
            ))}
          </datalist>
        </label>
        <ChooseFile take={take} multiple input={chooser} testid="report-file">
          <Trans>
            Choose a file <kbd className="key">d</kbd>
          </Trans>
        </ChooseFile>
      </div>
      <div role="status" aria-live="polite">
        {dropped.map((entry) => (
          <Progress key={entry.id} one={entry} answer={answer} dismiss={dismiss} teach={teach} />
        ))}
      </div>
    </section>
  );
}

interface ProgressProps {
  one: Dropped;
  answer: (id: string, reply: Partial<Dropped>) => void;
  dismiss: (id: string) => void;
  teach: (one: Dropped) => void;
}

function Progress({ one, answer, dismiss, teach }: ProgressProps) {
  const title = (
    <strong>
      {one.file.name} ({size(one.file.size)})
    </strong>
  );
  if (one.state === "waiting")
    return (
      <p className="mt-3">
        {title} <Trans>waits its turn.</Trans>
      </p>
    );
  if (one.state === "sending")
    return (
      <div className="mt-3">
        {title} {one.sent < 1 ? t`is sent, ${Math.round(one.sent * 100)} %` : t`is sent; reading its rows …`}
        <progress
          className="block h-3 w-full"
          max={1}
          {...(one.sent < 1 ? { value: one.sent } : {})}
          aria-label={t`Sending ${one.file.name}`}
        />
      </div>
    );
  if (one.state === "done")
    return (
      <p className="mt-3 border-l-4 border-good pl-3">
        {title}: {one.said}{" "}
        <button type="button" className="button-plain" onClick={() => dismiss(one.id)}>
          <Trans>Close</Trans>
        </button>
      </p>
    );
  const same = one.code === "same-file";
  const board = one.code === "other-board";
  const partly = one.code === "mostly-unread";
  const asks = same || board || partly;
  return (
    <div role="alert" className={`mt-3 border-l-4 pl-3 ${asks ? "border-next" : "border-suspect"}`}>
      <p>
        {title}: {one.said} {!asks && t`Nothing of it was stored; the runs here are as they were.`}
      </p>
      <div className="mt-2 flex flex-wrap gap-2">
        {same && (
          <button type="button" className="button" onClick={() => answer(one.id, { another: true })}>
            <Trans>Another run, add it</Trans>
          </button>
        )}
        {board && (
          <button type="button" className="button" onClick={() => answer(one.id, { boardConfirmed: true })}>
            <Trans>Read it for this card</Trans>
          </button>
        )}
        {(one.code === "no-reader" || partly) && (
          <button type="button" className="button" onClick={() => teach(one)}>
            <Trans>Teach a reader from it</Trans>
          </button>
        )}
        {partly && (
          <button type="button" className="button" onClick={() => answer(one.id, { partly: true })}>
            <Trans>Read what is known</Trans>
          </button>
        )}
        {one.code === "away" && (
          <button type="button" className="button" onClick={() => answer(one.id, {})}>
            <Trans>Send it again</Trans>
          </button>
        )}
        <button type="button" className="button" onClick={() => dismiss(one.id)}>
          {same ? t`The same run, leave it` : board ? t`Leave it` : t`Close`}
        </button>
      </div>
    </div>
  );
}
