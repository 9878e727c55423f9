import { t } from "@lingui/core/macro";
import { Plural, Trans } from "@lingui/react/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { api, newId } from "../api/client";
import { afterAct } from "../job/afterAct";
import { keyOf } from "../queries/keys";
import { boardModelsQuery } from "../queries/library";
import { cardsQuery } from "../queries/shop";
import { donorsQuery } from "../queries/stock";
import { Checkbox } from "../shared/Checkbox";
import { FormError } from "../shared/FormError";
import { SelectField, TextField } from "../shared/fields";
import { useKeeping } from "../shared/keeping";
import { LoadError, Loading } from "../shared/states";
import { listed } from "../shared/words";
import { mayWorkAtBench, useSession } from "../signin/session";
import type { Donor, DonorsData } from "./useStock";

const HALVES = [
  ["unknown", t`not known`],
  ["good", t`good`],
  ["dead", t`dead`],
] as const;
const JUDGED = {
  accepted: ["✓", t`accepted`],
  open: ["…", t`to be inspected`],
  refused: ["✗", t`refused`],
} as const;
const KEY = donorsQuery().queryKey;

/** Cards that give parts: inspected before they are trusted, and matched half by half. */
export function Donors() {
  const [query, setQuery] = useSearchParams();
  const session = useSession();
  const mayWork = mayWorkAtBench(session.data?.person);
  const donors = useQuery(donorsQuery());
  if (donors.isError) return <LoadError problem={donors.error} again={() => donors.refetch()} />;
  if (!donors.data) return <Loading what={t`Reading the donors`} />;
  const serial = query.get("card") ?? "";
  const chosen = donors.data.donors.find((donor) => donor.serial === serial);
  return (
    <div className="grid gap-8 lg:grid-cols-[26rem_1fr]">
      <section aria-label={t`Donor cards`}>
        <ul>
          {donors.data.donors.map((donor) => (
            <li key={donor.serial} className="border-rule border-t">
              <button
                type="button"
                aria-pressed={donor === chosen}
                className={`w-full px-2 py-2 text-left ${donor === chosen ? "bg-sheet shadow-[inset_4px_0_0_var(--color-ink)]" : ""}`}
                onClick={() => setQuery({ card: donor.serial })}
              >
                <strong className="font-mono text-lg">{donor.serial}</strong> {donor.model}
                <span className="block">
                  <span aria-hidden className="inline-block w-5 font-bold">
                    {JUDGED[donor.judged][0]}
                  </span>
                  <strong>{JUDGED[donor.judged][1]}</strong>
                  {donor.serves.length > 0 && t`, serves for ${listed(donor.serves)}`}
                </span>
                <span className="block text-soft">
                  {donor.origin}
                  {donor.gone.length > 0 && t`. Taken off: ${donor.gone.join(", ")}`}
                </span>
              </button>
            </li>
          ))}
          {donors.data.donors.length === 0 && (
            <li className="text-soft">
              <Trans>No donor yet. A card that nobody wants back can become one.</Trans>
            </li>
          )}
        </ul>
        {mayWork && <NewDonor taken={(card) => setQuery({ card })} />}
      </section>
      <div className="space-y-6">
        <Matches data={donors.data} mayWork={mayWork} />
        {chosen && <Inspect key={chosen.serial} donor={chosen} data={donors.data} mayWork={mayWork} />}
        {chosen && mayWork && <NewBoard key={`board of ${chosen.serial}`} donor={chosen.serial} />}
      </div>
    </div>
  );
}

function NewDonor({ taken }: { taken: (serial: string) => void }) {
  const [serial, setSerial] = useState("");
  const [model, setModel] = useState("");
  const [origin, setOrigin] = useState("");
  const keeping = useKeeping([KEY]);
  const models = useQuery(boardModelsQuery());
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const slug = model || models.data?.[0]?.slug || "";
    const body = { entry: newId(), serial: serial.trim(), board_model: slug, origin: origin.trim() };
    if (await keeping.keep(() => api.POST("/api/v1/stock/donors", { body }), KEY)) taken(serial.trim());
  };
  return (
    <form onSubmit={submit} className="mt-6 space-y-3 border-rule border-t pt-4" data-testid="new-donor">
      <h2 className="font-bold text-xl">
        <Trans>Take a card in as a donor</Trans>
      </h2>
      <div className="flex flex-wrap items-end gap-3">
        <TextField label={t`serial`} value={serial} onChange={setSerial} mono wide="w-40" maxLength={80} />
        <SelectField
          label={t`board model`}
          value={model || (models.data?.[0]?.slug ?? "")}
          onChange={setModel}
          options={(models.data ?? []).map((entry) => [entry.slug, entry.name] as const)}
        />
        <TextField label={t`where it came from`} value={origin} onChange={setOrigin} />
        <button type="submit" className="button" disabled={!serial.trim() || !origin.trim() || keeping.busy}>
          <Trans>Take it in</Trans>
        </button>
      </div>
      <FormError problem={keeping.problem} />
    </form>
  );
}

const names = (text: string) =>
  text
    .split(/[\s,]+/)
    .map((name) => name.trim().toUpperCase())
    .filter(Boolean);

function Inspect({ donor, data: donors, mayWork }: { donor: Donor; data: DonorsData; mayWork: boolean }) {
  const [answers, setAnswers] = useState<Record<string, boolean>>(donor.answers);
  const [missing, setMissing] = useState(donor.missing.join(" "));
  const [moved, setMoved] = useState(donor.moved.join(" "));
  const [repaired, setRepaired] = useState<string[]>(donor.repaired);
  const [halves, setHalves] = useState({ core: donor.core, board: donor.board, memory: donor.memory });
  const keeping = useKeeping([keyOf("stock")]);
  const off = [...new Set([...names(missing), ...names(moved)])];
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const params = { path: { serial: donor.serial } };
    const body = {
      entry: newId(),
      answers,
      missing: names(missing),
      moved: names(moved),
      repaired: repaired.filter((name) => off.includes(name)),
      ...halves,
    };
    await keeping.keep(() => api.POST("/api/v1/cards/{serial}/inspections", { params, body }), KEY);
  };
  return (
    <section aria-labelledby="inspect-title">
      <h2 id="inspect-title" className="font-bold text-2xl">
        <span className="font-mono">{donor.serial}</span>: {JUDGED[donor.judged][1]}
      </h2>
      <ul>
        {donor.why.map((name) => (
          <li key={name} className={donor.judged === "refused" ? "border-suspect border-l-4 pl-3" : ""}>
            {name}
          </li>
        ))}
      </ul>
      <p>
        <Link className="button-plain -ml-2" to={`/jobs/${donor.job}/rework`}>
          <Trans>Take parts off it at Rework</Trans>
        </Link>
        <Link className="button-plain" to={`/jobs/${donor.job}/ohms`}>
          <Trans>Read it cold</Trans>
        </Link>
      </p>
      <form onSubmit={submit} className="mt-2 space-y-3" data-testid="inspection">
        <fieldset disabled={!mayWork}>
          <legend className="text-soft">
            <Trans>Looked at; a no speaks against it</Trans>
          </legend>
          <ul>
            {donors.questions.map((question) => (
              <li
                key={question.key}
                className="flex flex-wrap items-center justify-between gap-2 border-rule border-t py-1"
              >
                <span>{question.words}</span>
                <span className="flex gap-2">
                  {([true, false] as const).map((yes) => (
                    <button
                      key={String(yes)}
                      type="button"
                      className="button"
                      aria-label={`${question.words}: ${yes ? "yes" : "no"}`}
                      aria-pressed={answers[question.key] === yes}
                      onClick={() => setAnswers({ ...answers, [question.key]: yes })}
                    >
                      {yes ? t`yes` : t`no`}
                    </button>
                  ))}
                </span>
              </li>
            ))}
          </ul>
        </fieldset>
        <div className="flex flex-wrap items-end gap-3">
          <TextField label={t`parts missing`} value={missing} onChange={setMissing} mono />
          <TextField label={t`parts moved or turned`} value={moved} onChange={setMoved} mono />
        </div>
        {off.length > 0 && (
          <fieldset>
            <legend className="text-soft">
              <Trans>put right already</Trans>
            </legend>
            <div className="flex flex-wrap gap-x-4">
              {off.map((word) => (
                <Checkbox
                  key={word}
                  label={word}
                  checked={repaired.includes(word)}
                  onChange={(on) =>
                    setRepaired(on ? [...repaired, word] : repaired.filter((name) => name !== word))
                  }
                />
              ))}
            </div>
          </fieldset>
        )}
        <div className="flex flex-wrap items-end gap-3">
          {(["core", "board", "memory"] as const).map((half) => (
            <SelectField
              key={half}
              label={half}
              value={halves[half]}
              onChange={(next) => setHalves({ ...halves, [half]: next })}
              options={HALVES}
            />
          ))}
          {mayWork && (
            <button type="submit" className="button" disabled={keeping.busy}>
              <Trans>Keep the inspection</Trans>
            </button>
          )}
        </div>
        <FormError problem={keeping.problem} />
      </form>
    </section>
  );
}

function Matches({ data: donors, mayWork }: { data: DonorsData; mayWork: boolean }) {
  const [open, setOpen] = useState("");
  return (
    <section aria-labelledby="matches-title">
      <h2 id="matches-title" className="font-bold text-xl">
        <Trans>Halves that make one card</Trans>
      </h2>
      <p className="text-soft">
        <Trans>A dead board with a live core, and a live board with a dead core.</Trans>
      </p>
      <ol>
        {donors.matches.map((match) => {
          const key = `${match.core_from} ${match.board_from}`;
          return (
            <li key={key} className="border-rule border-t py-2">
              <p>
                <strong>
                  <Trans>
                    {match.together} of <span className="font-mono">{match.core_from}</span> onto the board of{" "}
                    <span className="font-mono">{match.board_from}</span>
                  </Trans>
                </strong>
                {!match.sure && t`, not sure`}
              </p>
              <ul className="text-soft">
                {match.why.map((why) => (
                  <li key={why}>{why}</li>
                ))}
              </ul>
              {mayWork && (
                <button
                  type="button"
                  className="button mt-1"
                  aria-expanded={open === key}
                  onClick={() => setOpen(open === key ? "" : key)}
                >
                  <Trans>Record the move as a set</Trans>
                </button>
              )}
              {open === key && <MoveSet from={match.core_from} to={match.board_from} />}
            </li>
          );
        })}
        {donors.matches.length === 0 && (
          <li className="text-soft">
            <Trans>None. Say of inspected cards which half is dead, and they are matched here.</Trans>
          </li>
        )}
      </ol>
    </section>
  );
}

/** A card on the bench whose own board is beyond repair: its core and memory onto this one. */
function NewBoard({ donor }: { donor: string }) {
  const [serial, setSerial] = useState("");
  const [from, setFrom] = useState("");
  return (
    <section aria-labelledby="new-board-title">
      <h2 id="new-board-title" className="font-bold text-xl">
        <Trans>Put a card’s core and memory on this board</Trans>
      </h2>
      <p className="text-soft">
        <Trans>
          For a card on the bench whose own board is beyond repair. Its job then goes on with this board.
        </Trans>
      </p>
      <form
        className="flex flex-wrap items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          setFrom(serial.trim());
        }}
      >
        <TextField
          label={t`serial of the card on the bench`}
          value={serial}
          onChange={setSerial}
          mono
          wide="w-48"
          maxLength={80}
        />
        <button type="submit" className="button" disabled={!serial.trim()}>
          <Trans>Choose it</Trans>
        </button>
      </form>
      {from && <MoveSet key={from} from={from} to={donor} />}
    </section>
  );
}

function MoveSet({ from, to }: { from: string; to: string }) {
  const [sites, setSites] = useState("");
  const [reason, setReason] = useState("");
  const [stays, setStays] = useState(false);
  const [moved, setMoved] = useState<string[]>([]);
  const keeping = useKeeping([KEY, keyOf("stock")]);
  const client = useQueryClient();
  const navigate = useNavigate();
  const cards = useQuery(cardsQuery(from, to));
  const job = (at: 0 | 1) => cards.data?.[at].jobs[0]?.number;
  const open = cards.data?.[0].jobs.find((entry) => !entry.closed_at);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const giver = open?.number ?? job(0);
    const taker = job(1);
    if (giver === undefined || taker === undefined) return;
    const along = open !== undefined && !stays;
    const body = {
      entry: newId(),
      giver,
      taker,
      sites: names(sites),
      reason: reason.trim(),
      goes_along: along,
    };
    const answer = await keeping.keep(() => api.POST("/api/v1/stock/set-moves", { body }));
    if (!answer || answer === "kept") return;
    for (const number of [giver, taker]) afterAct(client, number);
    if (along) navigate(`/jobs/${giver}/case`);
    else setMoved(answer.moved);
  };
  if (moved.length > 0)
    return (
      <p role="status">
        <Trans>
          <Plural value={moved.length} one="# part" other="# parts" /> moved:{" "}
          <span className="font-mono">{moved.join(", ")}</span>. Both cards show it.
        </Trans>
      </p>
    );
  return (
    <form onSubmit={submit} className="mt-2 flex flex-wrap items-end gap-3" data-testid="move-set">
      <TextField label={t`core and places, as U1 U11 U12`} value={sites} onChange={setSites} mono />
      <TextField
        label={t`where both boards are photographed, pin 1 seen`}
        value={reason}
        onChange={setReason}
        maxLength={150}
      />
      {open && (
        <Checkbox
          label={t`${open.label} goes on with the board ${to}: its tests, proof and report are of that board. ${from} becomes a donor.`}
          checked={!stays}
          onChange={(on) => setStays(!on)}
        />
      )}
      <button
        type="submit"
        className="button"
        disabled={names(sites).length === 0 || !reason.trim() || keeping.busy || !cards.data}
      >
        <Trans>Move them</Trans>
      </button>
      <div className="w-full">
        {cards.isError && <LoadError problem={cards.error} again={() => cards.refetch()} />}
        <FormError problem={keeping.problem} />
      </div>
    </form>
  );
}
