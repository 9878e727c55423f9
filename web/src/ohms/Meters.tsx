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

const NEW = "a new meter …";
/** How a meter stands today; a bad lead is found here, not on a customer’s board. */
export const MORNING: Record<Meter["morning"], string> = {
  passed: "checked today",
  open: "not checked today",
  failed: "its check failed today",
};

/** Which meter and which lead on ground; its leads' own ohms and where it answers. */
export function Meters({ meters, usual, setUsual, set }: MetersProps) {
  const [editing, setEditing] = useState<Meter | null>(null);
  const meter = meters.find((one) => one.name === usual.meter);
  const blank = { id: 0, name: "", lead_ohms: 0, address: "", morning: "open" as const, taught: false };
  return (
    <section aria-label="Meter" className="space-y-2" data-testid="meters">
      <div className="flex flex-wrap items-end gap-3">
        <label>
          <span className="block text-soft">meter</span>
          <select
            className="field"
            aria-label="meter"
            value={meter?.name ?? ""}
            onChange={(event) => {
              if (event.target.value === NEW) setEditing(blank);
              else setUsual({ ...usual, meter: event.target.value });
            }}
          >
            <option value="">not recorded</option>
            {meters.map((one) => (
              <option key={one.id} value={one.name}>
                {one.name}
                {one.address && ", connected"}
              </option>
            ))}
            <option value={NEW}>{NEW}</option>
          </select>
        </label>
        <label>
          <span className="block text-soft">lead on ground</span>
          <select
            className="field"
            aria-label="lead on ground"
            value={usual.polarity}
            onChange={(event) => setUsual({ ...usual, polarity: event.target.value as Usual["polarity"] })}
          >
            <option value="">not recorded</option>
            <option value="black">black</option>
            <option value="red">red</option>
          </select>
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
            Leads {meter.lead_ohms} Ω
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
      <p>Hold the leads together: what the meter shows is theirs, and is taken off every ohm reading.</p>
      <div className="flex flex-wrap items-end gap-3">
        <label>
          <span className="block text-soft">name</span>
          <input
            className="field w-40"
            maxLength={40}
            value={name}
            disabled={meter.id !== 0}
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <label>
          <span className="block text-soft">leads, Ω</span>
          <input
            className="field w-24 font-mono"
            inputMode="decimal"
            value={leads}
            onChange={(event) => setLeads(event.target.value)}
          />
        </label>
        <label className="min-w-64 flex-1">
          <span className="block text-soft">where it answers, if it does</span>
          <input
            className="field w-full font-mono"
            maxLength={120}
            placeholder={lead ? "TCPIP0::host::5025::SOCKET or serial:/dev/ttyUSB0@9600" : "set by the lead"}
            disabled={!lead}
            value={address}
            onChange={(event) => setAddress(event.target.value)}
          />
        </label>
        <button type="submit" className="button" disabled={!name.trim() || !(ohms >= 0 && ohms <= 10)}>
          Keep it
        </button>
        <button type="button" className="button-plain" onClick={close}>
          Close
        </button>
      </div>
      {!(ohms >= 0 && ohms <= 10) && (
        <p role="alert">Found “{leads}” for the leads, expected ohms between 0 and 10.</p>
      )}
    </form>
  );
}
