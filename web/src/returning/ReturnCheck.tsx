import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import { api, type JobDetail, newId } from "../api/client";
import { Cautions } from "../shared/Cautions";
import { Figure, Line, Pick } from "../shared/fields";
import { useKeeping } from "../shared/keeping";
import { Loading, Trouble } from "../shared/states";
import { Wrong } from "../shared/Wrong";
import { day } from "../shared/words";
import { type ReturnData, returnKey, useReturn } from "./useReturn";

const CAUSES = [
  ["", "not known yet"],
  ["material", "our own material"],
  ["same", "the same fault again"],
  ["new", "a new fault"],
] as const;

// checks of the proof that are shown without being asked for
const FEW = 4;
const blockersFirst = (one: ReturnData["items"][number], other: ReturnData["items"][number]) =>
  Number(other.blocks) - Number(one.blocks);

/** What is to be settled before the card leaves; then letting it go. */
export function ReturnCheck({ job, lead }: { job: JobDetail; lead: boolean }) {
  const [noFix, setNoFix] = useState(false);
  const [letting, setLetting] = useState("");
  const found = useReturn(job.number, noFix);
  if (found.isError) return <Trouble problem={found.error} again={() => found.refetch()} />;
  if (!found.data) return <Loading what="Checking what is to be settled" />;
  const data = found.data;
  if (data.returned) return <Gone data={data} job={job} />;
  const blocking = data.items.filter((one) => one.blocks);
  const checks = data.items.filter((one) => one.key.startsWith("proof:"));
  const open = checks.filter((one) => one.blocks);
  const row = (one: ReturnData["items"][number]) => (
    <li key={one.key} className="border-rule border-t py-1.5" data-item={one.key}>
      <p className="flex items-baseline gap-3">
        <span aria-hidden className="w-4 shrink-0 font-bold">
          {one.blocks ? "✗" : "✓"}
        </span>
        <span className="min-w-0 flex-1">
          <strong className={one.blocks ? "" : "font-normal"}>{one.words}</strong>{" "}
          <span className="text-soft">{one.settled ? "settled" : one.waived ? "" : one.why}</span>
          {one.waived && <span className="block">Let go by {one.waived}</span>}
        </span>
        {lead && one.blocks && (
          <button
            type="button"
            className="button-plain shrink-0"
            aria-expanded={letting === one.key}
            onClick={() => setLetting(letting === one.key ? "" : one.key)}
          >
            Waive it
          </button>
        )}
        {one.blocks && one.step && one.step !== "return" && (
          <Link className="button-plain shrink-0" to={`/jobs/${job.number}/${one.step}`}>
            Settle it
          </Link>
        )}
        {one.blocks && one.step === "return" && (
          <Link className="button-plain shrink-0" to={`/jobs/${job.number}/return/customer`}>
            Ask again
          </Link>
        )}
      </p>
      {letting === one.key && <Waive job={job} item={one.key} />}
    </li>
  );
  return (
    <>
      <Back data={data} job={job} />
      <section aria-labelledby="check-title" data-testid="return-check">
        <h2 id="check-title" className="font-bold text-3xl">
          {blocking.length === 0 ? "It may leave" : `It may not leave: ${blocking.length} unsettled`}
        </h2>
        <ul aria-label="To be settled" className="mt-2">
          {data.items
            .filter((one) => !one.key.startsWith("proof:"))
            .sort(blockersFirst)
            .map(row)}
        </ul>
        {checks.length > 0 && (
          <details open={open.length > 0 && open.length <= FEW} className="border-rule border-t py-1.5">
            <summary className="cursor-pointer">
              <strong>
                {open.length === 0
                  ? `All ${checks.length} checks of the proof`
                  : `${open.length} of ${checks.length} checks of the proof`}
              </strong>{" "}
              <span className="text-soft">{open.length === 0 ? "settled" : "not passed"}</span>
            </summary>
            <ul aria-label="Proof">{checks.sort(blockersFirst).map(row)}</ul>
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
  const keeping = useKeeping([returnKey(job.number), ["owed", job.number], ["proof", job.number]]);
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
      <Line says="reason" value={reason} set={setReason} maxLength={400} />
      <button type="submit" className="button" disabled={!reason.trim() || keeping.busy}>
        Waive it
      </button>
      <Wrong problem={keeping.problem} />
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
  const [found, setFound] = useState("");
  const [done, setDone] = useState("");
  const [handling, setHandling] = useState("");
  const [why, setWhy] = useState("");
  const [way, setWay] = useState<"parcel" | "collected" | "donor">("parcel");
  const [tracking, setTracking] = useState("");
  const [price, setPrice] = useState("");
  const [days, setDays] = useState(String(data.warranty_days));
  const keeping = useKeeping([returnKey(job.number), ["job", String(job.number)], ["shelf"], ["donors"]]);
  const money = price.trim() === "" ? null : Number(price.replace(",", "."));
  const warranty = Number(days);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
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
  };
  const wrong = Number.isNaN(money) || !Number.isInteger(warranty) || warranty < 0;
  return (
    <form onSubmit={submit} className="space-y-3 border-rule border-t pt-4" data-testid="let-go">
      <h3 className="font-bold text-lg">Release the card</h3>
      <Pick
        says="how it ends"
        value={noFix ? "no" : "yes"}
        set={(next) => setNoFix(next === "no")}
        words={[
          ["yes", "repaired"],
          ["no", "it cannot be repaired"],
        ]}
      />
      {noFix && <Line says="why it cannot be repaired" value={why} set={setWhy} maxLength={400} />}
      <Line says="what was found, in plain words" value={found} set={setFound} maxLength={4000} />
      {!noFix && (
        <>
          <Line
            says="what was done, beside the steps of Rework"
            value={done}
            set={setDone}
            maxLength={4000}
          />
          <Line says="what is weak, how to handle it" value={handling} set={setHandling} maxLength={2000} />
        </>
      )}
      <div className="flex flex-wrap items-end gap-3">
        <Pick
          says="it goes"
          value={way}
          set={setWay}
          words={[
            ["parcel", "by parcel"],
            ["collected", "collected here"],
            ...(noFix ? ([["donor", "stays as a donor"]] as const) : []),
          ]}
        />
        {way === "parcel" && (
          <Line
            says="number of the parcel"
            value={tracking}
            set={setTracking}
            mono
            wide="w-44"
            maxLength={80}
          />
        )}
        <Figure says="price" value={price} set={setPrice} />
        {!noFix && <Figure says="days of warranty" value={days} set={setDays} />}
        <button
          type="submit"
          className="button"
          disabled={blocked || !found.trim() || (noFix && !why.trim()) || wrong || keeping.busy}
        >
          {way === "donor" && noFix ? "Keep it as a donor" : "It leaves"}
        </button>
      </div>
      {wrong && (
        <p role="alert" className="border-suspect border-l-4 pl-3">
          Price and days: found “{price}” and “{days}”, expected numbers.
        </p>
      )}
      {blocked && <p className="text-soft">First settle what stands above, or have the lead let it go.</p>}
      <Wrong problem={keeping.problem} />
    </form>
  );
}

const WAYS: Record<string, string> = {
  parcel: "Left by parcel",
  collected: "Collected",
  donor: "Stays here as a donor",
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
        {day(gone.at)}, {gone.by}. {gone.tracking && `Parcel ${gone.tracking}. `}
        {gone.no_fix ? `Not repaired: ${gone.no_fix}` : `Warranty of ${gone.warranty_days} days.`}
      </p>
      <p className="mt-2 flex gap-3">
        <a
          className="button grid place-items-center"
          href={`/api/v1/jobs/${job.number}/report.pdf`}
          target="_blank"
          rel="noreferrer"
        >
          Report as PDF
        </a>
        <Link className="button grid place-items-center" to={`/jobs/${job.number}/return/customer`}>
          Write to the customer
        </Link>
      </p>
    </section>
  );
}

function Back({ data, job }: { data: ReturnData; job: JobDetail }) {
  const queries = useQueryClient();
  const keeping = useKeeping([returnKey(job.number)]);
  const [cause, setCause] = useState<(typeof CAUSES)[number][0]>(
    (data.comeback?.cause ?? "") as (typeof CAUSES)[number][0],
  );
  const [words, setWords] = useState(data.comeback?.words ?? "");
  const before = data.in_warranty ?? data.earlier[0];
  if (!before) return null;
  return (
    <section aria-labelledby="back-title" className="border-ink border-l-4 pl-3" data-testid="comeback">
      <h3 id="back-title" className="font-bold text-lg">
        {data.in_warranty ? "Came back in warranty" : "Was here before"}
      </h3>
      <p>
        <Link className="button-plain -ml-2" to={`/jobs/${before.number}`}>
          {before.label}
        </Link>{" "}
        “{before.complaint}”, left {day(before.closed_at)}
        {before.warranty_until && `, warranty until ${day(before.warranty_until)}`}.
      </p>
      <form
        className="flex flex-wrap items-end gap-3"
        onSubmit={async (event) => {
          event.preventDefault();
          const params = { path: { number: job.number } };
          const body = { id: newId(), of: before.number, cause, words: words.trim() };
          await keeping.keep(() => api.POST("/api/v1/jobs/{number}/comeback", { params, body }));
          await queries.invalidateQueries({ queryKey: ["timeline"] });
        }}
      >
        <Pick says="its cause" value={cause} set={setCause} words={CAUSES} />
        <Line says="in words" value={words} set={setWords} maxLength={400} />
        <button type="submit" className="button" disabled={keeping.busy}>
          {data.comeback ? "Change it" : "It follows from that visit"}
        </button>
      </form>
      <Wrong problem={keeping.problem} />
    </section>
  );
}
