import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import type { Ohms } from "../api/client";
import { useSession } from "../signin/session";
import type { Usual } from "./useUsual";

type Meter = Ohms["meters"][number];

interface MetersProps {
  meters: readonly Meter[];
  usual: Usual;
  setUsual: (usual: Usual) => void;
  set: (meter: { name: string; lead_ohms: number; address: string }) => Promise<boolean>;
}

const NEW = t`a new meter …`;
/** How a meter stands today; a bad lead is found here, not on a customer’s board. */
export const MORNING: Record<Meter["morning"], string> = {
  passed: t`checked today`,
  open: t`not checked today`,
  failed: t`its check failed today`,
};

/** Which meter and which lead on ground; its leads' own ohms and where it answers. */
export function Meters({ meters, usual, setUsual, set }: MetersProps) {
  const [editing, setEditing] = useState<Meter | null>(null);
  const meter = meters.find((entry) => entry.name === usual.meter);
  const blank = { id: 0, name: "", lead_ohms: 0, address: "", morning: "open" as const, taught: false };
  return (
    <section aria-label={t`Meter`} className="space-y-2" data-testid="meters">
      <div className="flex flex-wrap items-end gap-3">
        <label>
          <span className="block text-soft">
            <Trans>meter</Trans>
          </span>
          <Select
            className="field"
            aria-label={t`meter`}
            value={meter?.name ?? ""}
            onChange={(event) => {
              if (event.target.value === NEW) setEditing(blank);
              else setUsual({ ...usual, meter: event.target.value });
            }}
          >
            <option value="">{t`not recorded`}</option>
            {meters.map((entry) => (
              <option key={entry.id} value={entry.name}>
                {entry.name}
                {entry.address && t`, connected`}
              </option>
            ))}
            <option value={NEW}>{NEW}</option>
          </Select>
        </label>
        <label>
          <span className="block text-soft">
            <Trans>lead on ground</Trans>
          </span>
          <Select
            className="field"
            aria-label={t`lead on ground`}
            value={usual.polarity}
            onChange={(event) => setUsual({ ...usual, polarity: event.target.value as Usual["polarity"] })}
          >
            <option value="">{t`not recorded`}</option>
            <option value="black">{t`black`}</option>
            <option value="red">{t`red`}</option>
          </Select>
        </label>
        {meter && (
          <Link
            to={`/meters#meter-${meter.id}`}
            className={`min-h-11 content-center ${meter.morning === "failed" ? "border-suspect border-l-4 pl-2 font-bold" : "button-plain"}`}
          >
            {MORNING[meter.morning]}
          </Link>
        )}
        {meter && (
          <button type="button" className="button" onClick={() => setEditing(editing ? null : meter)}>
            <Trans>Leads {meter.lead_ohms} Ω</Trans>
          </button>
        )}
      </div>
      {editing && (
        <OneMeter
          key={editing.name}
          meter={editing}
          close={() => setEditing(null)}
          keep={async (next) => {
            if (!(await set(next))) return;
            setUsual({ ...usual, meter: next.name });
            setEditing(null);
          }}
        />
      )}
    </section>
  );
}

interface OneMeterProps {
  meter: Meter;
  keep: (meter: { name: string; lead_ohms: number; address: string }) => Promise<void>;
  close: () => void;
}

function OneMeter({ meter, keep, close }: OneMeterProps) {
  const lead = useSession().data?.person?.role === "lead";
  const [name, setName] = useState(meter.name);
  const [leads, setLeads] = useState(String(meter.lead_ohms || ""));
  const [address, setAddress] = useState(meter.address ?? "");
  const ohms = Number(leads.replace(",", ".") || "0");
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void keep({ name: name.trim(), lead_ohms: ohms, address: address.trim() });
  };
  return (
    <form onSubmit={submit} className="space-y-2 border-l-4 border-edge bg-tray px-3 py-2">
      <p>
        <Trans>
          Hold the leads together: what the meter shows is theirs, and is taken off every ohm reading.
        </Trans>
      </p>
      <div className="flex flex-wrap items-end gap-3">
        <label>
          <span className="block text-soft">
            <Trans>name</Trans>
          </span>
          <input
            className="field w-40"
            maxLength={40}
            value={name}
            disabled={meter.id !== 0}
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <label>
          <span className="block text-soft">
            <Trans>leads, Ω</Trans>
          </span>
          <input
            className="field w-24 font-mono"
            inputMode="decimal"
            value={leads}
            onChange={(event) => setLeads(event.target.value)}
          />
        </label>
        <label className="min-w-64 flex-1">
          <span className="block text-soft">
            <Trans>where it answers, if it does</Trans>
          </span>
          <input
            className="field w-full font-mono"
            maxLength={120}
            placeholder={lead ? "TCPIP0::host::5025::SOCKET or serial:/dev/ttyUSB0@9600" : t`set by the lead`}
            disabled={!lead}
            value={address}
            onChange={(event) => setAddress(event.target.value)}
          />
        </label>
        <button type="submit" className="button" disabled={!name.trim() || !(ohms >= 0 && ohms <= 10)}>
          <Trans>Keep it</Trans>
        </button>
        <button type="button" className="button-plain" onClick={close}>
          <Trans>Close</Trans>
        </button>
      </div>
      {!(ohms >= 0 && ohms <= 10) && (
        <p role="alert">
          <Trans>Found “{leads}” for the leads, expected ohms between 0 and 10.</Trans>
        </p>
      )}
    </form>
  );
}
