import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import { api } from "../api/client";
import { keyOf } from "../queries/keys";
import { reworkSettingsQuery } from "../queries/library";
import { FormError } from "../shared/FormError";
import { TextField } from "../shared/fields";
import { useKeeping } from "../shared/keeping";
import { decimalOf } from "../shared/numbers";
import { LoadError, Loading } from "../shared/states";
import { useKinds } from "../shared/useKinds";
import { useSession } from "../signin/session";

interface Template {
  name: string;
  do: string;
  steps: string[];
  preheat_c?: number;
  [key: string]: unknown;
}

interface Settings {
  near_mm: number;
  shield_mm: number;
  site_cycles: number;
  chip_cycles: number;
  open_hours: number;
  soak_c?: [number, number];
  pads: Record<string, number>;
  alloys: Record<string, Record<string, number>>;
  templates: Template[];
  [key: string]: unknown;
}

const LIMITS = [
  ["near_mm", t`near means within, mm`],
  ["shield_mm", t`shield what is within, mm`],
  ["site_cycles", t`heatings of a place at most`],
  ["chip_cycles", t`heatings of a chip at most`],
  ["open_hours", t`bake chips that lay open for, h`],
] as const;
const PADS = [
  ["signals_fixable", t`torn signals, fixable up to`],
  ["signals_marginal", t`torn signals, marginal up to`],
  ["share_fixable", t`share of supply or ground gone, fixable`],
  ["share_marginal", t`share of supply or ground gone, marginal`],
] as const;
const ALLOY = [
  ["reference_c", t`melts, °C`],
  ["min_peak_c", t`peak from`],
  ["max_peak_c", t`peak to`],
  ["min_above_s", t`above for, s`],
  ["max_above_s", t`at most, s`],
  ["max_ramp_c_per_s", t`rise, °C/s`],
] as const;

/** What the shop allows and does at Rework: distances, cycles, the pad rule, alloys, templates; the lead sets it. */
export function ReworkSettingsPage() {
  const session = useSession();
  const settings = useQuery(reworkSettingsQuery());
  if (settings.isError) return <LoadError problem={settings.error} again={() => settings.refetch()} />;
  if (!settings.data) return <Loading what={t`Reading the settings`} />;
  return (
    <main className="max-w-5xl p-6">
      <Link className="button-plain -ml-2" to="/library">
        <Trans>Library</Trans>
      </Link>
      <h1 className="font-bold text-3xl">
        <Trans>Rework: what this shop allows</Trans>
      </h1>
      <p className="text-soft">
        <Trans>Set-points differ between shops: these are yours. What is built in is usual practice.</Trans>
      </p>
      <SettingsForm
        key={JSON.stringify(settings.data.document)}
        start={settings.data.document as Settings}
        lead={session.data?.person?.role === "lead"}
      />
    </main>
  );
}

function SettingsForm({ start, lead }: { start: Settings; lead: boolean }) {
  const { acts } = useKinds();
  const [now, setNow] = useState(start);
  const [alloy, setAlloy] = useState("");
  const [said, setSaid] = useState("");
  const { problem, keep } = useKeeping([keyOf("rework"), keyOf("before"), keyOf("pads")]);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const templates = now.templates.filter((template) => template.steps.length > 0);
    const body = { document: { ...now, templates } };
    setSaid("");
    const kept = await keep(
      () => api.PUT("/api/v1/rework-settings", { body }),
      reworkSettingsQuery().queryKey,
    );
    if (kept) setSaid(t`Saved.`);
  };
  const number = (label: string, value: number | undefined, onChange: (value: number) => void) => (
    <NumberBox key={label} label={label} value={value} onChange={onChange} disabled={!lead} />
  );
  return (
    <form onSubmit={submit} className="mt-4 space-y-6" data-testid="rework-settings">
      <fieldset className="flex flex-wrap gap-3">
        <legend className="font-bold text-xl">
          <Trans>Heat</Trans>
        </legend>
        {LIMITS.map(([key, label]) => number(label, now[key], (value) => setNow({ ...now, [key]: value })))}
        {number(t`soak from, °C`, now.soak_c?.[0], (value) =>
          setNow({ ...now, soak_c: [value, now.soak_c?.[1] ?? 0] }),
        )}
        {number(t`soak to, °C`, now.soak_c?.[1], (value) =>
          setNow({ ...now, soak_c: [now.soak_c?.[0] ?? 0, value] }),
        )}
      </fieldset>
      <fieldset className="flex flex-wrap gap-3">
        <legend className="font-bold text-xl">
          <Trans>Pads</Trans>
        </legend>
        {PADS.map(([key, label]) =>
          number(label, now.pads[key], (value) => setNow({ ...now, pads: { ...now.pads, [key]: value } })),
        )}
      </fieldset>
      <fieldset>
        <legend className="font-bold text-xl">
          <Trans>Alloys</Trans>
        </legend>
        {Object.entries(now.alloys).map(([name, limits]) => (
          <div key={name} className="flex flex-wrap items-end gap-3 border-rule border-t py-2">
            <strong className="w-32 font-mono">{name}</strong>
            {ALLOY.map(([key, label]) =>
              number(label, limits[key], (value) =>
                setNow({ ...now, alloys: { ...now.alloys, [name]: { ...limits, [key]: value } } }),
              ),
            )}
          </div>
        ))}
        {lead && (
          <p className="flex items-end gap-2">
            <TextField
              label={t`another alloy`}
              value={alloy}
              onChange={setAlloy}
              wide="w-40"
              maxLength={40}
            />
            <button
              type="button"
              className="button"
              disabled={!alloy.trim() || alloy.trim() in now.alloys}
              onClick={() => {
                const limits = Object.fromEntries(ALLOY.map(([key]) => [key, 0]));
                setNow({ ...now, alloys: { ...now.alloys, [alloy.trim()]: limits } });
                setAlloy("");
              }}
            >
              <Trans>Add it</Trans>
            </button>
          </p>
        )}
      </fieldset>
      <fieldset>
        <legend className="font-bold text-xl">
          <Trans>Templates</Trans>
        </legend>
        {now.templates.map((template, at) => {
          const change = (part: Partial<Template>) =>
            setNow({
              ...now,
              templates: now.templates.map((other, place) => (place === at ? { ...other, ...part } : other)),
            });
          return (
            <div
              // biome-ignore lint/suspicious/noArrayIndexKey: templates have no identity while they are typed
              key={at}
              className="grid gap-3 border-rule border-t py-2 md:grid-cols-[14rem_12rem_1fr]"
            >
              <label>
                <span className="block text-soft">
                  <Trans>name</Trans>
                </span>
                <input
                  className="field w-full"
                  maxLength={80}
                  disabled={!lead}
                  value={template.name}
                  onChange={(event) => change({ name: event.target.value })}
                />
              </label>
              <label>
                <span className="block text-soft">
                  <Trans>for</Trans>
                </span>
                <Select
                  className="field w-full"
                  disabled={!lead}
                  value={template.do}
                  onChange={(event) => change({ do: event.target.value })}
                >
                  {acts.map((act) => (
                    <option key={act.do} value={act.do}>
                      {act.asked}
                    </option>
                  ))}
                </Select>
              </label>
              <label>
                <span className="block text-soft">
                  <Trans>steps, separated by semicolons; none takes it out</Trans>
                </span>
                <input
                  className="field w-full"
                  disabled={!lead}
                  defaultValue={template.steps.join("; ")}
                  onBlur={(event) =>
                    change({
                      steps: event.target.value
                        .split(";")
                        .map((step) => step.trim())
                        .filter(Boolean),
                    })
                  }
                />
              </label>
            </div>
          );
        })}
        {lead && (
          <button
            type="button"
            className="button mt-2"
            onClick={() =>
              setNow({
                ...now,
                templates: [...now.templates, { name: "new", do: "remove", steps: ["first"] }],
              })
            }
          >
            <Trans>Another template</Trans>
          </button>
        )}
      </fieldset>
      {said && <p role="status">{said}</p>}
      <FormError problem={problem} />
      {lead ? (
        <button type="submit" className="button">
          <Trans>Save</Trans>
        </button>
      ) : (
        <p className="text-soft">
          <Trans>The lead sets them.</Trans>
        </p>
      )}
    </form>
  );
}

interface NumberBoxProps {
  label: string;
  value: number | undefined;
  onChange: (value: number) => void;
  disabled: boolean;
}

/** A figure that may be typed with a comma; what is no number is not taken. */
function NumberBox({ label, value, onChange, disabled }: NumberBoxProps) {
  const [typed, setTyped] = useState(String(value ?? ""));
  return (
    <label>
      <span className="block text-soft">{label}</span>
      <input
        className="field w-28 font-mono"
        inputMode="decimal"
        disabled={disabled}
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value);
          const next = decimalOf(event.target.value);
          if (event.target.value.trim() && Number.isFinite(next)) onChange(next);
        }}
      />
    </label>
  );
}
