import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type FormEvent, useState } from "react";
import { Mark } from "../ohms/Mark";
import { MORNING } from "../ohms/Meters";
import type { Meter } from "../ohms/useMeter";
import { LoadError, Loading } from "../shared/states";
import { moment } from "../shared/words";
import { mayWorkAtBench, useSession } from "../signin/session";
import { StandardForm } from "./StandardForm";
import { Supplies } from "./Supplies";
import { TeachMeter } from "./TeachMeter";
import { type Kind, type MeterCheck, type Standard, useChecks, useMeters } from "./useMeters";

const ASKS: Record<Kind, (standard: Standard) => string> = {
  leads: () => t`Hold the leads together`,
  resistor: (standard) => t`Across the reference resistor, ${standard.resistor_ohms ?? ""} Ω`,
  card: (standard) => t`${standard.point} of ${standard.card}, unplugged and discharged`,
};

/** The shop's meters: the morning check of each, and the lines that they print. */
export function MetersPage() {
  const { meters, standard, problem, check, setStandard, setMeter } = useMeters();
  const session = useSession();
  const mayWork = mayWorkAtBench(session.data?.person);
  if (meters.isError) return <LoadError problem={meters.error} again={() => meters.refetch()} />;
  if (standard.isError) return <LoadError problem={standard.error} again={() => standard.refetch()} />;
  if (!meters.data || !standard.data) return <Loading what={t`Reading the meters`} />;
  const held = standard.data;
  return (
    <main className="max-w-5xl space-y-8 p-6">
      <div>
        <h1 className="font-bold text-3xl">
          <Trans>Meters, this morning</Trans>
        </h1>
        <p>
          <Trans>
            Leads together, a resistor that is known, a card that is known: so a bad lead is found here, and
            not on a customer’s board. The leads’ own ohms are taken off every reading from then on.
          </Trans>
        </p>
      </div>
      {problem && (
        <p role="alert" className="border-suspect border-l-4 pl-3">
          <Trans>{problem} What you entered is kept here.</Trans>
        </p>
      )}
      {meters.data.length === 0 && (
        <p>
          <Trans>No meter yet: at Ohms, choose “a new meter …”.</Trans>
        </p>
      )}
      {meters.data.map((meter) => (
        <OneMeter
          key={meter.id}
          meter={meter}
          standard={held}
          check={check}
          mayWork={mayWork}
          set={setMeter}
        />
      ))}
      <Supplies mayWork={session.data?.person?.role === "lead"} />
      <StandardForm standard={held} set={setStandard} lead={session.data?.person?.role === "lead"} />
    </main>
  );
}

interface OneMeterProps extends ChecksProps {
  set: ReturnType<typeof useMeters>["setMeter"];
}

function OneMeter({ meter, standard, check, mayWork, set }: OneMeterProps) {
  const checks = useChecks(meter.id);
  const kinds = standard.kinds.filter((kind) => today(checks.data ?? [], kind));
  const word =
    meter.morning === "open" && kinds.length > 0
      ? t`${kinds.length} of ${standard.kinds.length} checked today`
      : MORNING[meter.morning];
  return (
    <section
      id={`meter-${meter.id}`}
      aria-label={meter.name}
      className="border-rule border-t pt-4"
      data-testid={`meter-${meter.name}`}
    >
      <h2 className="flex flex-wrap items-baseline gap-3 font-bold text-2xl">
        {meter.name}
        <span className={meter.morning === "failed" ? "text-suspect" : "font-normal text-lg text-soft"}>
          {word}
        </span>
      </h2>
      <p className="text-soft">
        <Trans>
          Leads {meter.lead_ohms} Ω{meter.address ? t`; answers at ${meter.address}` : t`; read by eye`}.
        </Trans>
      </p>
      <Checks meter={meter} standard={standard} check={check} mayWork={mayWork} />
      {mayWork && meter.address?.startsWith("serial:") && <TeachMeter meter={meter} set={set} />}
    </section>
  );
}

/** The newest check of a kind that was made today. */
function today(rows: readonly MeterCheck[], kind: Kind) {
  const day = new Date().toDateString();
  return rows.find((row) => row.kind === kind && new Date(row.at).toDateString() === day);
}

interface ChecksProps {
  meter: Meter;
  standard: Standard;
  check: (meter: number, kind: Kind, value: string) => Promise<boolean>;
  mayWork: boolean;
}

/** What was checked today stands with its verdict; the next to check has the field, and Enter goes on. */
function Checks({ meter, standard, check, mayWork }: ChecksProps) {
  const checks = useChecks(meter.id);
  const rows = checks.data ?? [];
  const newest = (kind: Kind) => today(rows, kind);
  const older = rows.filter((row) => newest(row.kind) !== row);
  return (
    <>
      <ul className="mt-2 space-y-2" aria-label={t`Checks of ${meter.name}`}>
        {standard.kinds.map((kind) => {
          const one = newest(kind);
          return (
            <li key={kind} className="grid items-center gap-3 md:grid-cols-[18rem_14rem_1fr]">
              <strong>{ASKS[kind](standard)}</strong>
              {mayWork && (
                <CheckField
                  key={one?.id ?? ""}
                  kind={kind}
                  again={!!one}
                  take={(value) => check(meter.id, kind, value)}
                />
              )}
              {one && (
                <span className="flex items-center gap-2">
                  <Mark verdict={one.passed ? "within" : "high"} />
                  <span>
                    <strong>{one.passed ? t`right` : t`not right`}.</strong> {one.says} {one.by},{" "}
                    {moment(one.at)}.
                  </span>
                </span>
              )}
            </li>
          );
        })}
      </ul>
      {older.length > 0 && (
        <details className="mt-2">
          <summary className="cursor-pointer py-1 text-soft underline underline-offset-3">
            <Trans>{older.length} earlier</Trans>
          </summary>
          <ul aria-label={t`Earlier checks of ${meter.name}`}>
            {older.map((entry) => (
              <li key={entry.id} className="border-rule border-t py-1">
                {moment(entry.at)}: <strong>{entry.passed ? t`right` : t`not right`}.</strong> {entry.says}{" "}
                {entry.by}.
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}

function CheckField({
  kind,
  again,
  take,
}: {
  kind: Kind;
  again: boolean;
  take: (value: string) => Promise<boolean>;
}) {
  const [value, setValue] = useState("");
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (value.trim()) await take(value.trim());
  };
  return (
    <form onSubmit={submit} className="flex items-center gap-2">
      <input
        className="field w-28 font-mono"
        aria-label={t`What it shows: ${kind}`}
        placeholder={t`as shown`}
        maxLength={40}
        value={value}
        onChange={(event) =>
          setValue(event.target.value === "o" ? "OL" : event.target.value.replace(",", "."))
        }
      />
      <button type="submit" className="button" disabled={!value.trim()}>
        {again ? t`Again` : t`Check`}
      </button>
    </form>
  );
}
