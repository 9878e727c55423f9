import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { Link, useSearchParams } from "react-router";
import { api } from "../api/client";
import { keyOf } from "../queries/keys";
import { pinoutsQuery } from "../queries/library";
import { FormError } from "../shared/FormError";
import { TextField } from "../shared/fields";
import { FormSelect, FormText } from "../shared/formFields";
import { useKeeping } from "../shared/keeping";
import { LoadError, Loading } from "../shared/states";
import { optionsOf, useCodeWords, useKinds } from "../shared/useKinds";
import { day } from "../shared/words";
import { mayWorkAtBench, useSession } from "../signin/session";
import { type Pinout, PinoutDrawing } from "./PinoutDrawing";

// parts that have more than two pins of their own
const CHIPS = ["converter", "controller", "gate", "diode", "transistor", "supervisor", "power-stage"];
const SIDES = [t`pins left`, t`pins bottom`, t`pins right`, t`pins top`];
const key = (marking: string) => marking.replaceAll(/\s/g, "").toLowerCase();

/** The shop's notes on small chips, by what is printed on them; offered wherever that marking appears. */
export function PinoutsPage() {
  const codeWords = useCodeWords();
  const [query, setQuery] = useSearchParams();
  const [search, setSearch] = useState("");
  const session = useSession();
  const mayWork = mayWorkAtBench(session.data?.person);
  const pinouts = useQuery(pinoutsQuery());
  if (pinouts.isError) return <LoadError problem={pinouts.error} again={() => pinouts.refetch()} />;
  if (!pinouts.data) return <Loading what={t`Reading the pinouts`} />;
  const marking = query.get("marking");
  const job = query.get("job") ?? "";
  const chosen = pinouts.data.find((pinout) => key(pinout.marking) === key(marking ?? ""));
  const shown = pinouts.data.filter((pinout) => key(pinout.marking).includes(key(search)));
  const choose = (next: string | null) => {
    if (next === null) query.delete("marking");
    else query.set("marking", next);
    setQuery(query);
  };
  return (
    <main className="p-6">
      <Link className="button-plain -ml-2" to="/library">
        <Trans>Library</Trans>
      </Link>
      <h1 className="font-bold text-3xl">
        <Trans>Pinouts by marking</Trans>
      </h1>
      <p>
        <Trans>
          What the shop has learned of small chips. Noted once, shown wherever the marking appears.
        </Trans>
      </p>
      <div className="mt-4 grid gap-8 lg:grid-cols-[20rem_1fr]">
        <nav aria-label={t`Markings`}>
          <TextField label={t`marking`} value={search} onChange={setSearch} mono />
          <ul className="mt-2">
            {shown.map((row) => (
              <li key={row.marking} className="border-rule border-t">
                <button
                  type="button"
                  className={`grid min-h-11 w-full grid-cols-[6rem_1fr] items-center gap-2 px-2 text-left ${row === chosen ? "bg-tray" : ""}`}
                  aria-pressed={row === chosen}
                  onClick={() => choose(row.marking)}
                >
                  <strong className="font-mono text-lg">{row.marking}</strong>
                  <span className="text-soft">
                    <Trans>
                      {codeWords(row.kind)}, {row.pins.length} pins
                    </Trans>
                  </span>
                </button>
              </li>
            ))}
            {shown.length === 0 && (
              <li className="py-2 text-soft">
                <Trans>No marking like that yet.</Trans>
              </li>
            )}
          </ul>
          {mayWork && (
            <button type="button" className="button mt-2" onClick={() => choose(search.trim())}>
              <Trans>A new marking</Trans>
            </button>
          )}
        </nav>
        <div>
          {chosen && (
            <>
              <PinoutDrawing pinout={chosen} />
              <p>
                {chosen.seen.length > 0
                  ? t`Sits on ${chosen.seen.join(", ")}.`
                  : t`On no board that is drawn yet.`}{" "}
                <span className="text-soft">
                  {chosen.by}, {day(chosen.at)}.
                </span>
              </p>
            </>
          )}
          {mayWork && marking !== null && (
            <PinoutForm
              key={`${marking} ${chosen?.edition ?? 0}`}
              pinout={chosen}
              marking={marking}
              job={job}
              saved={choose}
            />
          )}
          {marking === null && (
            <p className="text-soft">
              <Trans>Choose a marking, or note a new one.</Trans>
            </p>
          )}
        </div>
      </div>
    </main>
  );
}

interface PinoutFormProps {
  pinout: Pinout | undefined;
  marking: string;
  job: string;
  saved: (marking: string) => void;
}

interface Noted {
  name: string;
  use: string;
  note: string;
}

const MOST_PINS = 64;
const NOTHING: Noted = { name: "", use: "", note: "" };

function PinoutForm({ pinout, marking, job, saved }: PinoutFormProps) {
  const { pin_uses: uses } = useKinds();
  const codeWords = useCodeWords();
  const { control, register, handleSubmit, watch } = useForm({
    defaultValues: {
      name: pinout?.marking ?? marking,
      kind: (pinout?.kind ?? "converter") as string,
      sides: (pinout?.sides ?? [4, 0, 4, 0]).map(String),
      // by the pin's number; nothing has number 0
      pins: Array.from({ length: MOST_PINS + 1 }, (_, number): Noted => {
        const noted = pinout?.pins.find((pin) => pin.pin === number);
        return noted ? { name: noted.name ?? "", use: noted.use ?? "", note: noted.note ?? "" } : NOTHING;
      }),
      note: pinout?.note ?? "",
    },
  });
  const { name, kind, sides, pins, note } = watch();
  const { problem, keep } = useKeeping([keyOf("converter")], () => saved(name.trim()));
  const counts = sides.map((side) => (side.trim() === "" ? 0 : Number(side)));
  const many = counts.reduce((sum, count) => sum + (Number.isInteger(count) && count >= 0 ? count : 0), 0);
  const submit = handleSubmit(async () => {
    const noted = Array.from({ length: many }, (_, at) => ({ pin: at + 1, ...NOTHING, ...pins[at + 1] }))
      .filter((entry) => entry.name || entry.use || entry.note)
      .map((entry) => ({
        pin: entry.pin,
        name: entry.name,
        note: entry.note,
        ...(entry.use ? { use: entry.use } : {}),
      }));
    const document = {
      ...(pinout?.document as Record<string, unknown> | undefined),
      format: "uvrix-pinout",
      version: 1,
      marking: name.trim(),
      ...(kind ? { kind } : {}),
      sides: counts,
      pins: noted,
      note: note.trim(),
    };
    const body = { document, base: pinout?.edition ?? 0, job };
    await keep(() => api.PUT("/api/v1/pinouts", { body }), pinoutsQuery().queryKey);
  });
  return (
    <form onSubmit={submit} className="mt-4 space-y-3" data-testid="pinout-form">
      <h2 className="font-bold text-xl">{pinout ? t`Change it` : t`Note its pins`}</h2>
      <FormError problem={problem} />
      <div className="flex flex-wrap items-end gap-3">
        <FormText control={control} name="name" label={t`marking`} mono wide="w-32" maxLength={80} />
        <FormSelect
          control={control}
          name="kind"
          label={t`kind`}
          options={[["", t`not known`], ...CHIPS.map((chip) => [chip as string, codeWords(chip)] as const)]}
        />
        {SIDES.map((side, at) => (
          <label key={side}>
            <span className="block text-soft">{side}</span>
            <input className="field w-16 font-mono" inputMode="numeric" {...register(`sides.${at}`)} />
          </label>
        ))}
      </div>
      <p className="text-soft">
        <Trans>Pin 1 at the upper left, seen from above; counted down the left side and on round.</Trans>
      </p>
      <ol aria-label={t`Pins`} className="max-w-3xl">
        {Array.from({ length: Math.min(many, MOST_PINS) }, (_, at) => at + 1).map((pin) => (
          <li key={pin} className="grid grid-cols-[2rem_8rem_10rem_1fr] items-center gap-2 py-0.5">
            <span className="font-mono">{pin}</span>
            <input
              className="field w-full font-mono"
              aria-label={t`Pin ${pin}, name`}
              maxLength={20}
              {...register(`pins.${pin}.name`)}
            />
            <Select className="field" aria-label={t`Pin ${pin}, use`} {...register(`pins.${pin}.use`)}>
              {[["", t`not known`] as const, ...optionsOf(uses)].map(([use, words]) => (
                <option key={use} value={use}>
                  {words}
                </option>
              ))}
            </Select>
            <input
              className="field w-full"
              aria-label={t`Pin ${pin}, note`}
              maxLength={120}
              {...register(`pins.${pin}.note`)}
            />
          </li>
        ))}
      </ol>
      <FormText control={control} name="note" label={t`note`} />
      <button type="submit" className="button" disabled={!name.trim() || many === 0}>
        <Trans>Save</Trans>
      </button>
    </form>
  );
}
