import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, type ReactNode, useEffect, useRef, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { api, data, newId } from "../api/client";
import { keyOf } from "../queries/keys";
import { boardModelsQuery } from "../queries/library";
import { cardQuery, parcelsQuery } from "../queries/shop";
import { useKeeping } from "../shared/keeping";
import { day } from "../shared/words";
import { WhichBoard } from "./WhichBoard";
import { type Customer, WhichCustomer } from "./WhichCustomer";

const KEPT = "uvrix-new-job";
const UNKNOWN = "?";
const BLANK = {
  entry: "",
  serial: "",
  board_model: "",
  new_board: "",
  customer: "",
  contact: "",
  complaint: "",
  place: "",
  express: false,
  parcel: null as string | null,
};
type Draft = typeof BLANK;

/** What was typed before, else the serial of a card that is known to come. */
function keptDraft(serial: string): Draft {
  const kept = localStorage.getItem(KEPT);
  return kept ? { ...BLANK, ...JSON.parse(kept) } : { ...BLANK, entry: newId(), serial };
}

/** The short form. What is typed is kept in the browser until the job is open. */
export function NewJob() {
  const [params] = useSearchParams();
  const [draft, setDraft] = useState(() => keptDraft(params.get("serial") ?? ""));
  const { problem, busy, keep, forget } = useKeeping([
    keyOf("board-models"),
    keyOf("shelf"),
    keyOf("parcels"),
  ]);
  const first = useRef<HTMLInputElement>(null);
  const navigate = useNavigate();
  const queries = useQueryClient();
  useEffect(() => first.current?.focus(), []);
  const models = useQuery(boardModelsQuery());
  const change = (part: Partial<Draft>) => {
    const next = { ...draft, ...part };
    setDraft(next);
    forget();
    localStorage.setItem(KEPT, JSON.stringify(next));
  };
  const parcels = useQuery({ ...parcelsQuery(), enabled: params.has("parcel") });
  const parcel = parcels.data?.find((entry) => entry.id === params.get("parcel"));
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when the announcement is known
  useEffect(() => {
    if (!parcel || draft.parcel === parcel.id) return;
    const { serial = "", board_model, customer, contact = "", complaint = "", express = false } = parcel;
    const told = { serial, board_model, customer, contact, complaint, express };
    change({ ...BLANK, entry: newId(), ...told, parcel: parcel.id });
  }, [parcel]);
  const known = useQuery({ ...cardQuery(draft.serial), enabled: draft.serial.length >= 4 });
  const card = known.data;
  const model = draft.board_model || card?.board_model || "";
  const submit = (event: FormEvent) => {
    event.preventDefault();
    return open({});
  };
  const open = async (who: { customer_id?: number; another_customer?: boolean }) => {
    const { new_board, ...entered } = draft;
    const job = await keep(async () => {
      const board =
        model === UNKNOWN
          ? data(await api.POST("/api/v1/unknown-boards", { body: { name: new_board.trim() } })).slug
          : model;
      const body = { ...entered, ...who, serial: draft.serial.trim(), board_model: board };
      return api.POST("/api/v1/jobs", { body });
    });
    if (!job || job === "kept") return;
    localStorage.removeItem(KEPT);
    queries.removeQueries({ queryKey: keyOf("card") });
    navigate(`/jobs/${job.number}/arrive`);
  };
  const already = problem?.code === "already-here" ? Number(problem.facts.job) : null;
  return (
    <main className="max-w-3xl p-6">
      <h1 className="mb-4 text-3xl font-bold">
        <Trans>New job</Trans>
      </h1>
      <form
        onSubmit={submit}
        className="grid gap-x-6 lg:grid-cols-2 gap-y-4 rounded-lg border border-rule bg-sheet p-6"
      >
        <Labelled label={t`Serial of the card`}>
          <input
            ref={first}
            className="field w-full font-mono"
            required
            maxLength={80}
            value={draft.serial}
            onChange={(e) => change({ serial: e.target.value })}
          />
        </Labelled>
        <Labelled label={t`Board model, from the board itself`}>
          <Select
            className="field w-full"
            required
            value={model}
            onChange={(e) => change({ board_model: e.target.value })}
          >
            <option value="">{t`Choose`}</option>
            {model && model !== UNKNOWN && !models.data?.some(({ slug }) => slug === model) && (
              <option value={model}>{model}</option>
            )}
            {models.data?.map((entry) => (
              <option key={entry.slug} value={entry.slug}>
                {entry.edition === 0
                  ? t`${entry.name}, not drawn yet`
                  : t`${entry.name}, revision ${entry.revision || "–"} (${entry.sites} chips)`}
              </option>
            ))}
            <option value={UNKNOWN}>{t`not in the library yet …`}</option>
          </Select>
        </Labelled>
        <WhichBoard choose={(slug) => change({ board_model: slug })} />
        {model === UNKNOWN && (
          <Labelled label={t`What is printed on the board, as a name for it`}>
            <input
              className="field w-full"
              required
              maxLength={80}
              value={draft.new_board}
              onChange={(e) => change({ new_board: e.target.value })}
            />
          </Labelled>
        )}
        {card && card.jobs.length > 0 && (
          <p role="status" className="lg:col-span-2 border-l-4 border-ink pl-3">
            <Trans>
              This card was here before:{" "}
              {card.jobs
                .map((job) => t`${job.label} on ${day(job.opened_at)}, “${job.complaint}”`)
                .join("; ")}
              .
            </Trans>
          </p>
        )}
        <Labelled label={t`Customer`}>
          <input
            className="field w-full"
            required
            maxLength={120}
            value={draft.customer}
            onChange={(e) => change({ customer: e.target.value })}
          />
        </Labelled>
        <Labelled label={t`Reached at`}>
          <input
            className="field w-full"
            maxLength={200}
            value={draft.contact}
            onChange={(e) => change({ contact: e.target.value })}
          />
        </Labelled>
        <Labelled label={t`Complaint, in the customer’s words`} wide>
          <textarea
            className="field w-full"
            rows={3}
            required
            maxLength={4000}
            value={draft.complaint}
            onChange={(e) => change({ complaint: e.target.value })}
          />
        </Labelled>
        <Labelled label={t`Shelf place`}>
          <input
            className="field w-full font-mono"
            maxLength={20}
            value={draft.place}
            onChange={(e) => change({ place: e.target.value })}
          />
        </Labelled>
        <label className="flex items-center gap-3 self-end pb-2">
          <input
            type="checkbox"
            className="size-6"
            checked={draft.express}
            onChange={(e) => change({ express: e.target.checked })}
          />
          <span className="font-semibold">
            <Trans>Express</Trans>
          </span>
        </label>
        {problem?.code === "which-customer" && (
          <WhichCustomer
            asked={problem.message}
            customers={problem.facts.customers as Customer[]}
            choose={(who) => void open(who)}
          />
        )}
        {problem && problem.code !== "which-customer" && (
          <p role="alert" className="lg:col-span-2 border-l-4 border-suspect pl-3">
            <Trans>{problem.message} Everything you entered is kept. </Trans>
            {already !== null && (
              <Link className="button-plain" to={`/jobs/${already}/memory`}>
                <Trans>Open that job</Trans>
              </Link>
            )}
          </p>
        )}
        <div className="lg:col-span-2 flex gap-3">
          <button type="submit" className="button" disabled={busy}>
            {busy ? t`Opening …` : t`Open the job`}
          </button>
          <button
            type="button"
            className="button-plain"
            onClick={() => {
              localStorage.removeItem(KEPT);
              setDraft({ ...BLANK, entry: newId() });
              forget();
            }}
          >
            <Trans>Clear the form</Trans>
          </button>
        </div>
      </form>
    </main>
  );
}

function Labelled({ label, wide, children }: { label: string; wide?: boolean; children: ReactNode }) {
  return (
    // biome-ignore lint/a11y/noLabelWithoutControl: the control is the child
    <label className={wide ? "lg:col-span-2 block" : "block"}>
      <span className="mb-1 block font-semibold">{label}</span>
      {children}
    </label>
  );
}
