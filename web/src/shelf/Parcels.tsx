import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import { api, type ExpectedParcel, newId } from "../api/client";
import { parcelsQuery } from "../queries/shop";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";
import { LoadError, Loading } from "../shared/states";
import { dayOfYear, moment } from "../shared/words";

const BLANK = {
  customer: "",
  contact: "",
  complaint: "",
  serial: "",
  reference: "",
  due: "",
  express: false,
};

export function useParcels() {
  return useQuery(parcelsQuery());
}

/** Parcels that were announced: late ones first, what the courier says, and taking one in. */
export function Parcels() {
  const parcels = useParcels();
  const { problem, keep } = useKeeping([]);
  const enter = async (ask: () => Promise<{ data?: ExpectedParcel[] }>) =>
    (await keep(ask, parcelsQuery().queryKey)) !== null;
  return (
    <main className="p-6">
      <header className="mb-4 flex items-center gap-4">
        <h1 className="text-3xl font-bold">
          <Trans>Parcels to come</Trans>
        </h1>
        <Link to="/jobs/new" className="button ml-auto grid place-items-center">
          <Trans>A parcel that nobody announced</Trans>
        </Link>
      </header>
      {parcels.isPending && <Loading what={t`Asking what is on its way`} />}
      {parcels.isError && <LoadError problem={parcels.error} again={() => parcels.refetch()} />}
      <FormError problem={problem} />
      {parcels.data?.length === 0 && (
        <p className="rounded-md border border-rule bg-sheet p-6">
          <Trans>No parcel is announced. Announce one below when a customer says that it is sent.</Trans>
        </p>
      )}
      <ul className="border-t border-rule" aria-label={t`Parcels`}>
        {parcels.data?.map((parcel) => (
          <Row key={parcel.id} parcel={parcel} keep={enter} />
        ))}
      </ul>
      <Announce keep={enter} />
    </main>
  );
}

type Keep = (ask: () => Promise<{ data?: ExpectedParcel[] }>) => Promise<boolean>;

function Row({ parcel, keep }: { parcel: ExpectedParcel; keep: Keep }) {
  const [off, setOff] = useState(false);
  const [why, setWhy] = useState("");
  const last = parcel.events.at(-1);
  const callOff = async (event: FormEvent) => {
    event.preventDefault();
    await keep(() =>
      api.POST("/api/v1/parcels/{parcel}/called-off", {
        params: { path: { parcel: parcel.id } },
        body: { why: why.trim() },
      }),
    );
  };
  return (
    <li className="grid items-center gap-x-6 gap-y-2 border-b border-rule bg-sheet px-4 py-3 lg:grid-cols-[9rem_1fr_1fr_auto]">
      <p>
        <strong className={parcel.days_late > 0 ? "text-suspect" : ""}>
          {parcel.days_late > 0
            ? t`${parcel.days_late} ${plural(parcel.days_late, { one: "day", other: "days" })} late`
            : dayOfYear(parcel.due)}
        </strong>
        <br />
        {parcel.days_late > 0 && (
          <span className="text-soft">
            <Trans>due {dayOfYear(parcel.due)}</Trans>
          </span>
        )}
      </p>
      <p className="min-w-0">
        <strong>{parcel.customer}</strong>{" "}
        {parcel.express && (
          <strong>
            <Trans>express</Trans>
          </strong>
        )}
        <span className="block text-soft">
          {parcel.complaint && `“${parcel.complaint}”`} {parcel.model}{" "}
          <span className="font-mono">{parcel.serial}</span>
        </span>
      </p>
      <div>
        {last?.kind === "delivered" && (
          <strong>
            <Trans>Not checked in yet: find the parcel.</Trans>{" "}
          </strong>
        )}
        {last ? (
          <details>
            <summary className="cursor-pointer">
              {last.words} <span className="text-soft">{moment(last.at)}</span>
            </summary>
            <ol>
              {parcel.events.map((event) => (
                <li key={`${event.kind} ${event.at}`} className="text-soft">
                  {moment(event.at)}: {event.words}
                </li>
              ))}
            </ol>
          </details>
        ) : (
          <span className="text-soft">
            <Trans>No tracking reference.</Trans>
          </span>
        )}
        {parcel.reference && <span className="font-mono text-soft">{parcel.reference}</span>}
      </div>
      <p className="flex gap-2">
        <Link className="button grid place-items-center" to={`/jobs/new?parcel=${parcel.id}`}>
          <Trans>It has arrived</Trans>
        </Link>
        <button type="button" className="button-plain" aria-expanded={off} onClick={() => setOff(!off)}>
          <Trans>Not coming</Trans>
        </button>
      </p>
      {off && (
        <form onSubmit={callOff} className="flex items-end gap-2 lg:col-span-4">
          <label className="min-w-0 flex-1">
            <span className="block text-soft">
              <Trans>why it will not come</Trans>
            </span>
            <input
              className="field w-full"
              required
              maxLength={200}
              value={why}
              onChange={(event) => setWhy(event.target.value)}
            />
          </label>
          <button type="submit" className="button" disabled={!why.trim()}>
            <Trans>Remove it from the list</Trans>
          </button>
        </form>
      )}
    </li>
  );
}

function Announce({ keep }: { keep: Keep }) {
  const [entry, setEntry] = useState(BLANK);
  const change = (part: Partial<typeof BLANK>) => setEntry({ ...entry, ...part });
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const body = { id: newId(), ...entry };
    if (await keep(() => api.POST("/api/v1/parcels", { body }))) setEntry(BLANK);
  };
  return (
    <form
      onSubmit={submit}
      className="mt-6 grid gap-x-6 gap-y-3 rounded-lg border border-rule bg-sheet p-6 lg:grid-cols-3"
    >
      <h2 className="text-xl font-bold lg:col-span-3">
        <Trans>Announce a parcel</Trans>
      </h2>
      {(
        [
          ["customer", "customer", true],
          ["contact", t`reached at`, false],
          ["serial", t`serial, if it is known`, false],
          ["reference", t`tracking reference`, false],
        ] as const
      ).map(([name, label, needed]) => (
        <label key={name} className="block">
          <span className="block text-soft">{label}</span>
          <input
            className={`field w-full ${name === "serial" || name === "reference" ? "font-mono" : ""}`}
            required={needed}
            maxLength={80}
            value={entry[name]}
            onChange={(event) => change({ [name]: event.target.value })}
          />
        </label>
      ))}
      <label className="block">
        <span className="block text-soft">
          <Trans>expected on</Trans>
        </span>
        <input
          type="date"
          className="field w-full"
          required
          value={entry.due}
          onChange={(event) => change({ due: event.target.value })}
        />
      </label>
      <label className="flex items-center gap-3 self-end pb-2">
        <input
          type="checkbox"
          className="size-6"
          checked={entry.express}
          onChange={(event) => change({ express: event.target.checked })}
        />
        <Trans>express</Trans>
      </label>
      <label className="block lg:col-span-3">
        <span className="block text-soft">
          <Trans>complaint, in the customer’s words</Trans>
        </span>
        <input
          className="field w-full"
          maxLength={4000}
          value={entry.complaint}
          onChange={(event) => change({ complaint: event.target.value })}
        />
      </label>
      <p>
        <button type="submit" className="button" disabled={!entry.customer.trim() || !entry.due}>
          <Trans>Add to the list</Trans>
        </button>
      </p>
    </form>
  );
}
