import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { Link } from "react-router";
import { api, type JobDetail, newId } from "../api/client";
import type { components } from "../api/schema";
import { keyOf } from "../queries/keys";
import { Cautions } from "../shared/Cautions";
import { FormError } from "../shared/FormError";
import { SelectField, TextField } from "../shared/fields";
import { FormNumber, FormSelect, FormText } from "../shared/formFields";
import { useKeeping } from "../shared/keeping";
import { numberOf } from "../shared/numbers";
import { LoadError, Loading } from "../shared/states";
import { optionsOf, useKinds } from "../shared/useKinds";
import { day } from "../shared/words";
import { type ReturnData, useReturn } from "./useReturn";

type Cause = NonNullable<components["schemas"]["NewComebackRequest"]["cause"]>;

// checks of the proof that are shown without being asked for
const FEW = 4;
const blockersFirst = (entry: ReturnData["items"][number], other: ReturnData["items"][number]) =>
  Number(other.blocks) - Number(entry.blocks);

/** What is to be settled before the card leaves; then letting it go. */
export function ReturnCheck({ job, lead }: { job: JobDetail; lead: boolean }) {
  const [noFix, setNoFix] = useState(false);
  const [letting, setLetting] = useState("");
  const found = useReturn(job.number, noFix);
  if (found.isError) return <LoadError problem={found.error} again={() => found.refetch()} />;
  if (!found.data) return <Loading what={t`Checking what is to be settled`} />;
  const data = found.data;
  if (data.returned) return <Gone data={data} job={job} />;
  const blocking = data.items.filter((item) => item.blocks);
  const checks = data.items.filter((item) => item.key.startsWith("proof:"));
  const open = checks.filter((check) => check.blocks);
  const row = (entry: ReturnData["items"][number]) => (
    <li key={entry.key} className="border-rule border-t py-1.5" data-item={entry.key}>
      <p className="flex items-baseline gap-3">
        <span aria-hidden className="w-4 shrink-0 font-bold">
          {entry.blocks ? "✗" : "✓"}
        </span>
        <span className="min-w-0 flex-1">
          <strong className={entry.blocks ? "" : "font-normal"}>{entry.words}</strong>{" "}
          <span className="text-soft">{entry.settled ? t`settled` : entry.waived ? "" : entry.why}</span>
          {entry.waived && (
            <span className="block">
              <Trans>Let go by {entry.waived}</Trans>
            </span>
          )}
        </span>
        {lead && entry.blocks && (
          <button
            type="button"
            className="button-plain shrink-0"
            aria-expanded={letting === entry.key}
            onClick={() => setLetting(letting === entry.key ? "" : entry.key)}
          >
            <Trans>Waive it</Trans>
          </button>
        )}
        {entry.blocks && entry.step && entry.step !== "return" && (
          <Link className="button-plain shrink-0" to={`/jobs/${job.number}/${entry.step}`}>
            <Trans>Settle it</Trans>
          </Link>
        )}
        {entry.blocks && entry.step === "return" && (
          <Link className="button-plain shrink-0" to={`/jobs/${job.number}/return/customer`}>
            <Trans>Ask again</Trans>
          </Link>
        )}
      </p>
      {letting === entry.key && <Waive job={job} item={entry.key} />}
    </li>
  );
  return (
    <>
      <Back data={data} job={job} />
      <section aria-labelledby="check-title" data-testid="return-check">
        <h2 id="check-title" className="font-bold text-3xl">
          {blocking.length === 0 ? t`It may leave` : t`It may not leave: ${blocking.length} unsettled`}
        </h2>
        <ul aria-label={t`To be settled`} className="mt-2">
          {data.items
            .filter((item) => !item.key.startsWith("proof:"))
            .sort(blockersFirst)
            .map(row)}
        </ul>
        {checks.length > 0 && (
          <details open={open.length > 0 && open.length <= FEW} className="border-rule border-t py-1.5">
            <summary className="cursor-pointer">
              <strong>
                {open.length === 0
                  ? t`All ${checks.length} checks of the proof`
                  : t`${open.length} of ${checks.length} checks of the proof`}
              </strong>{" "}
              <span className="text-soft">{open.length === 0 ? t`settled` : t`not passed`}</span>
            </summary>
            <ul aria-label={t`Proof`}>{checks.sort(blockersFirst).map(row)}</ul>
          </details>
        )}
      </section>
      <Cautions of={["static", "waste"]} />
      <LetGo job={job} data={data} noFix={noFix} setNoFix={setNoFix} blocked={blocking.length > 0} />
    </>
  );
}

function Waive({ job, item }: { job: JobDetail; item: string }) {
  const [reason, setReason] = useState("");
  const keeping = useKeeping([
    keyOf("return", job.number),
    keyOf("owed", job.number),
    keyOf("proof", job.number),
  ]);
  return (
    <form
      className="ml-7 flex items-end gap-2"
      onSubmit={async (event) => {
        event.preventDefault();
        const params = { path: { number: job.number } };
        const body = { key: item, reason: reason.trim() };
        await keeping.keep(() => api.POST("/api/v1/jobs/{number}/return/waivers", { params, body }));
      }}
    >
      <TextField label={t`reason`} value={reason} onChange={setReason} maxLength={400} />
      <button type="submit" className="button" disabled={!reason.trim() || keeping.busy}>
        <Trans>Waive it</Trans>
      </button>
      <FormError problem={keeping.problem} />
    </form>
  );
}

interface LetGoProps {
  job: JobDetail;
  data: ReturnData;
  noFix: boolean;
  setNoFix: (noFix: boolean) => void;
  blocked: boolean;
}

function LetGo({ job, data, noFix, setNoFix, blocked }: LetGoProps) {
  const { control, handleSubmit, watch } = useForm<{
    found: string;
    done: string;
    handling: string;
    why: string;
    way: "parcel" | "collected" | "donor";
    tracking: string;
    price: string;
    days: string;
  }>({
    defaultValues: {
      found: "",
      done: "",
      handling: "",
      why: "",
      way: "parcel",
      tracking: "",
      price: "",
      days: String(data.warranty_days),
    },
  });
  const { found, done, handling, why, way, tracking, price, days } = watch();
  const keeping = useKeeping([
    keyOf("return", job.number),
    keyOf("job", String(job.number)),
    keyOf("shelf"),
    keyOf("donors"),
  ]);
  const money = numberOf(price);
  const warranty = Number(days);
  const submit = handleSubmit(async () => {
    const body = {
      id: newId(),
      way: noFix ? way : way === "donor" ? ("parcel" as const) : way,
      found: found.trim(),
      done: done.trim(),
      handling: handling.trim(),
      no_fix: noFix ? why.trim() : "",
      tracking: tracking.trim(),
      price: money,
      warranty_days: noFix ? 0 : warranty,
    };
    const params = { path: { number: job.number } };
    await keeping.keep(() => api.POST("/api/v1/jobs/{number}/return", { params, body }));
  });
  const wrong = Number.isNaN(money) || !Number.isInteger(warranty) || warranty < 0;
  return (
    <form onSubmit={submit} className="space-y-3 border-rule border-t pt-4" data-testid="let-go">
      <h3 className="font-bold text-lg">
        <Trans>Release the card</Trans>
      </h3>
      <SelectField
        label={t`how it ends`}
        value={noFix ? "no" : "yes"}
        onChange={(next) => setNoFix(next === "no")}
        options={[
          ["yes", t`repaired`],
          ["no", t`it cannot be repaired`],
        ]}
      />
      {noFix && (
        <FormText control={control} name="why" label={t`why it cannot be repaired`} maxLength={400} />
      )}
      <FormText control={control} name="found" label={t`what was found, in plain words`} maxLength={4000} />
      {!noFix && (
        <>
          <FormText
            control={control}
            name="done"
            label={t`what was done, beside the steps of Rework`}
            maxLength={4000}
          />
          <FormText
            control={control}
            name="handling"
            label={t`what is weak, how to handle it`}
            maxLength={2000}
          />
        </>
      )}
      <div className="flex flex-wrap items-end gap-3">
        <FormSelect
          control={control}
          name="way"
          label={t`it goes`}
          options={[
            ["parcel", t`by parcel`],
            ["collected", t`collected here`],
            ...(noFix ? ([["donor", t`stays as a donor`]] as const) : []),
          ]}
        />
        {way === "parcel" && (
          <FormText
            control={control}
            name="tracking"
            label={t`number of the parcel`}
            mono
            wide="w-44"
            maxLength={80}
          />
        )}
        <FormNumber control={control} name="price" label={t`price`} />
        {!noFix && <FormNumber control={control} name="days" label={t`days of warranty`} />}
        <button
          type="submit"
          className="button"
          disabled={blocked || !found.trim() || (noFix && !why.trim()) || wrong || keeping.busy}
        >
          {way === "donor" && noFix ? t`Keep it as a donor` : t`It leaves`}
        </button>
      </div>
      {wrong && (
        <p role="alert" className="border-suspect border-l-4 pl-3">
          <Trans>
            Price and days: found “{price}” and “{days}”, expected numbers.
          </Trans>
        </p>
      )}
      {blocked && (
        <p className="text-soft">
          <Trans>First settle what stands above, or have the lead let it go.</Trans>
        </p>
      )}
      <FormError problem={keeping.problem} />
    </form>
  );
}

const WAYS: Record<string, string> = {
  parcel: t`Left by parcel`,
  collected: t`Collected`,
  donor: t`Stays here as a donor`,
};

function Gone({ data, job }: { data: ReturnData; job: JobDetail }) {
  const gone = data.returned;
  if (!gone) return null;
  return (
    <section aria-labelledby="gone-title" data-testid="gone">
      <h2 id="gone-title" className="font-bold text-3xl">
        {WAYS[gone.way]}
      </h2>
      <p>
        {day(gone.at)}, {gone.by}. {gone.tracking && t`Parcel ${gone.tracking}. `}
        {gone.no_fix ? t`Not repaired: ${gone.no_fix}` : t`Warranty of ${gone.warranty_days ?? 0} days.`}
      </p>
      <p className="mt-2 flex gap-3">
        <a
          className="button grid place-items-center"
          href={`/api/v1/jobs/${job.number}/report.pdf`}
          target="_blank"
          rel="noreferrer"
        >
          <Trans>Report as PDF</Trans>
        </a>
        <Link className="button grid place-items-center" to={`/jobs/${job.number}/return/customer`}>
          <Trans>Write to the customer</Trans>
        </Link>
      </p>
    </section>
  );
}

function Back({ data, job }: { data: ReturnData; job: JobDetail }) {
  const { comebacks } = useKinds();
  const queries = useQueryClient();
  const keeping = useKeeping([keyOf("return", job.number)]);
  const [cause, setCause] = useState<Cause>((data.comeback?.cause ?? "") as Cause);
  const [words, setWords] = useState(data.comeback?.words ?? "");
  const before = data.in_warranty ?? data.earlier[0];
  if (!before) return null;
  return (
    <section aria-labelledby="back-title" className="border-ink border-l-4 pl-3" data-testid="comeback">
      <h3 id="back-title" className="font-bold text-lg">
        {data.in_warranty ? t`Came back in warranty` : t`Was here before`}
      </h3>
      <p>
        <Trans>
          <Link className="button-plain -ml-2" to={`/jobs/${before.number}`}>
            {before.label}
          </Link>{" "}
          “{before.complaint}”, left {day(before.closed_at)}
          {before.warranty_until ? t`, warranty until ${day(before.warranty_until)}` : ""}.
        </Trans>
      </p>
      <form
        className="flex flex-wrap items-end gap-3"
        onSubmit={async (event) => {
          event.preventDefault();
          const params = { path: { number: job.number } };
          const body = { id: newId(), of: before.number, cause, words: words.trim() };
          await keeping.keep(() => api.POST("/api/v1/jobs/{number}/comeback", { params, body }));
          await queries.invalidateQueries({ queryKey: keyOf("timeline") });
        }}
      >
        <SelectField
          label={t`its cause`}
          value={cause}
          onChange={setCause}
          options={[["", t`not known yet`], ...optionsOf<Cause>(comebacks)]}
        />
        <TextField label={t`in words`} value={words} onChange={setWords} maxLength={400} />
        <button type="submit" className="button" disabled={keeping.busy}>
          {data.comeback ? t`Change it` : t`It follows from that visit`}
        </button>
      </form>
      <FormError problem={keeping.problem} />
    </section>
  );
}
