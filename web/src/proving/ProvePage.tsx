import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, type BoardDetail, type JobDetail, newId } from "../api/client";
import { StepPage } from "../job/StepPage";
import { useOrientation } from "../job/useOrientation";
import { WorkPanel } from "../job/WorkPanel";
import { proofQuery } from "../queries/job";
import { keyOf } from "../queries/keys";
import { ReworkBoard } from "../rework/ReworkBoard";
import { useRework } from "../rework/useRework";
import { ChooseFile } from "../shared/ChooseFile";
import { FormError } from "../shared/FormError";
import { NumberField, SelectField, TextField } from "../shared/fields";
import { useFilesFromAnywhere } from "../shared/files";
import { useKeeping } from "../shared/keeping";
import { decimalOf, numberOf } from "../shared/numbers";
import { LoadError, Loading } from "../shared/states";
import { moment } from "../shared/words";
import { useMayWork } from "../signin/session";
import { CheckRow } from "./CheckRow";
import { Columns } from "./Columns";
import { LogPlot } from "./LogPlot";
import { type Proof, useLogs, useProof } from "./useProof";

/** A job at Prove: what was heated on the board with the run below it; beside them the protocol, check by check. */
export function ProvePage() {
  return <StepPage step="Prove">{(job, model) => <AtProve job={job} model={model} />}</StepPage>;
}

function AtProve({ job, model }: { job: JobDetail; model: BoardDetail }) {
  const mayWork = useMayWork(job);
  const proof = useProof(job.number);
  const { rework } = useRework(job.number);
  const { orientation, setOrientation } = useOrientation(job, mayWork);
  const logs = useLogs(job.number);
  const [phase, setPhase] = useState<"before" | "after">("after");
  const [load, setLoad] = useState("stress");
  const [shown, setShown] = useState<string | null>(null);
  const go = useNavigate();
  const take = (files: File[]) => {
    for (const file of files) void logs.send(file, phase, load.trim());
  };
  const over = useFilesFromAnywhere(take);
  if (proof.isError) return <LoadError problem={proof.error} again={() => proof.refetch()} />;
  if (!proof.data || !rework.data) return <Loading what={t`Judging what proves it`} />;
  const data = proof.data;
  const newest = [...data.logs].reverse();
  const log =
    newest.find((entry) => entry.id === shown) ??
    newest.find((entry) => entry.phase === "after") ??
    newest[0];
  const passed = data.checks.filter((check) => check.judged === "passed" || check.waived).length;
  return (
    <div className="grid min-h-0 flex-1 grid-rows-[44rem_auto] lg:grid-cols-[58%_1fr] lg:grid-rows-1">
      <div className="grid min-h-0 grid-rows-[1fr_auto]">
        {model.drawing ? (
          <ReworkBoard
            drawing={model.drawing}
            orientation={orientation}
            setOrientation={setOrientation}
            title={t`Board of ${job.label}`}
            rework={rework.data}
            site=""
            before={undefined}
            choose={(site) => go(`/jobs/${job.number}/rework?site=${encodeURIComponent(site)}`)}
          />
        ) : (
          <p className="p-8 text-center text-soft">
            <Trans>This board is not drawn yet; it is proven all the same.</Trans>
          </p>
        )}
        <div className="border-rule border-t bg-sheet p-3">
          {log ? (
            <LogPlot log={log} logs={data.logs} show={setShown} />
          ) : (
            <p className="p-4 text-soft">
              {mayWork
                ? t`No log yet. Drop the test computer’s CSV anywhere on this page, from rest through the load.`
                : t`No log.`}
            </p>
          )}
        </div>
      </div>
      <WorkPanel job={job} step="Prove">
        <section aria-labelledby="proof-title">
          <h2 id="proof-title" className="font-bold text-3xl">
            {data.proven ? t`Proven` : t`${passed} of ${data.checks.length} proven`}
          </h2>
          <p className="text-soft">
            {data.since
              ? t`What counts is what came after ${moment(data.since)}, when it was last worked on.`
              : t`Nothing was heated in this visit: everything of it counts.`}
          </p>
          <ol aria-label={t`Protocol`} className="mt-2">
            {data.checks.map((check) => (
              <CheckRow key={check.id} check={check} job={job} mayWork={mayWork} />
            ))}
          </ol>
        </section>
        {mayWork && (
          <section
            aria-labelledby="logs-title"
            className={`rounded-lg border-2 border-dashed p-3 ${over ? "border-ink bg-tray" : "border-edge"}`}
          >
            <h3 id="logs-title" className="font-bold text-lg">
              <Trans>Logs and what the test computer says</Trans>
            </h3>
            <div className="flex flex-wrap items-end gap-3">
              <SelectField
                label={t`taken`}
                value={phase}
                onChange={setPhase}
                options={[
                  ["after", t`after the repair`],
                  ["before", t`before the repair`],
                ]}
              />
              <TextField
                label={t`under which load`}
                value={load}
                onChange={setLoad}
                wide="w-40"
                maxLength={120}
              />
              <ChooseFile
                take={take}
                accept=".csv,.json,text/csv,application/json"
                multiple
                testid="proof-log"
              >
                <Trans>Choose CSV or JSON</Trans>
              </ChooseFile>
            </div>
            {logs.sending && <p role="status">{logs.sending}</p>}
            <FormError problem={logs.problem} />
            {logs.unknown && (
              <Columns
                unknown={logs.unknown}
                said={() => logs.unknown && void logs.send(logs.unknown.file, phase, load.trim())}
                forget={logs.forget}
              />
            )}
          </section>
        )}
        {mayWork && <Figures job={job} />}
        <BeforeAfter proof={data} />
        {mayWork && <SendBack job={job} proof={data} />}
        <Faults proof={data} />
      </WorkPanel>
    </div>
  );
}

function Figures({ job }: { job: JobDetail }) {
  const [what, setWhat] = useState<"score" | "noise">("score");
  const [phase, setPhase] = useState<"before" | "after">("after");
  const [value, setValue] = useState("");
  const keeping = useKeeping([]);
  const number = decimalOf(value);
  const params = { path: { number: job.number } };
  return (
    <form
      className="flex flex-wrap items-end gap-3"
      data-testid="proof-figures"
      onSubmit={async (event) => {
        event.preventDefault();
        const body = { id: newId(), what, phase, value: number };
        if (
          await keeping.keep(
            () => api.POST("/api/v1/jobs/{number}/proof/figures", { params, body }),
            proofQuery(job.number).queryKey,
          )
        )
          setValue("");
      }}
    >
      <SelectField
        label={t`figure`}
        value={what}
        onChange={setWhat}
        options={[
          ["score", t`score`],
          ["noise", t`noise, dB`],
        ]}
      />
      <SelectField
        label={t`taken`}
        value={phase}
        onChange={setPhase}
        options={[
          ["after", t`after`],
          ["before", t`before`],
        ]}
      />
      <NumberField label={t`value`} value={value} onChange={setValue} />
      <button
        type="submit"
        className="button"
        disabled={!value.trim() || Number.isNaN(number) || keeping.busy}
      >
        <Trans>Keep it</Trans>
      </button>
      <FormError problem={keeping.problem} />
    </form>
  );
}

function BeforeAfter({ proof }: { proof: Proof }) {
  if (proof.pairs.length === 0) return null;
  const shown = (value: number | null, unit: string) =>
    value === null ? t`not taken` : `${value.toFixed(value < 100 ? 1 : 0)} ${unit}`;
  return (
    <section aria-labelledby="pairs-title">
      <h3 id="pairs-title" className="font-bold text-lg">
        <Trans>Before and after</Trans>
      </h3>
      <table className="w-full">
        <thead>
          <tr className="text-left text-soft">
            <th className="font-normal">
              <Trans>figure</Trans>
            </th>
            <th className="font-normal">
              <Trans>before</Trans>
            </th>
            <th className="font-normal">
              <Trans>after</Trans>
            </th>
          </tr>
        </thead>
        <tbody>
          {proof.pairs.map((pair) => (
            <tr key={pair.name} className="border-rule border-t">
              <th className="py-1 pr-3 text-left font-normal">{pair.name}</th>
              <td className="font-mono">{shown(pair.before, pair.unit)}</td>
              <td className="font-bold font-mono">{shown(pair.after, pair.unit)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

const STEPS = [
  ["memory", t`Memory`],
  ["ohms", t`Ohms`],
  ["volts", t`Volts`],
  ["rework", t`Rework`],
  ["look", t`Look`],
] as const;

function SendBack({ job, proof }: { job: JobDetail; proof: Proof }) {
  const [open, setOpen] = useState(false);
  const [check, setCheck] = useState("stress");
  const [words, setWords] = useState("");
  const [minutes, setMinutes] = useState("");
  const [step, setStep] = useState<(typeof STEPS)[number][0]>("memory");
  const keeping = useKeeping([keyOf("job", String(job.number)), keyOf("shelf")]);
  const go = useNavigate();
  const number = numberOf(minutes);
  if (!open)
    return (
      <button type="button" className="button" onClick={() => setOpen(true)}>
        <Trans>It failed: send it back</Trans>
      </button>
    );
  return (
    <form
      className="space-y-3 border-suspect border-l-4 pl-3"
      data-testid="send-back"
      onSubmit={async (event) => {
        event.preventDefault();
        const params = { path: { number: job.number } };
        const body = { id: newId(), check_id: check, words: words.trim(), back_to: step, minutes: number };
        const kept = await keeping.keep(
          () => api.POST("/api/v1/jobs/{number}/proof/faults", { params, body }),
          proofQuery(job.number).queryKey,
        );
        if (kept) go(`/jobs/${job.number}/${step}`);
      }}
    >
      <h3 className="font-bold text-lg">
        <Trans>It goes back, and nothing entered is lost</Trans>
      </h3>
      {proof.near.length > 0 && (
        <p>
          <Trans>Nearest to what was heated: </Trans>
          {proof.near.slice(0, 3).map((entry, at) => (
            <span key={entry.designator}>
              {at > 0 && "; "}
              <strong className="font-mono">{entry.designator}</strong>, {entry.why}
            </span>
          ))}
          .
        </p>
      )}
      <div className="flex flex-wrap items-end gap-3">
        <SelectField
          label={t`during`}
          value={check}
          onChange={setCheck}
          options={proof.checks.map((entry) => [entry.id, entry.name] as const)}
        />
        <NumberField label={t`minutes into it`} value={minutes} onChange={setMinutes} />
        <SelectField label={t`back to`} value={step} onChange={setStep} options={STEPS} />
        <TextField label={t`what happened`} value={words} onChange={setWords} maxLength={400} />
        <button
          type="submit"
          className="button"
          disabled={!words.trim() || Number.isNaN(number) || keeping.busy}
        >
          <Trans>Send it back</Trans>
        </button>
      </div>
      <FormError problem={keeping.problem} />
    </form>
  );
}

function Faults({ proof }: { proof: Proof }) {
  if (proof.faults.length === 0) return null;
  return (
    <section aria-labelledby="faults-title">
      <h3 id="faults-title" className="font-bold text-lg">
        <Trans>Came back from here</Trans>
      </h3>
      <ul>
        {proof.faults.map((fault) => (
          <li key={fault.id} className="border-rule border-t py-1">
            <Trans>
              <strong>{fault.words}</strong>
              {fault.minutes != null ? t` after ${fault.minutes} min` : ""}, back to {fault.back_to}.{" "}
              {fault.suspects.length > 0
                ? t`Named: ${fault.suspects
                    .slice(0, 3)
                    .map((near) => `${near.designator}, ${near.why}`)
                    .join("; ")}. `
                : ""}
              <span className="text-soft">
                {fault.by}, {moment(fault.at)}
              </span>
            </Trans>
          </li>
        ))}
      </ul>
    </section>
  );
}
