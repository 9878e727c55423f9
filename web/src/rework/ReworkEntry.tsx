import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { useCamera } from "../job/camera";
import { Checkbox } from "../shared/Checkbox";
import { SelectField, TextField } from "../shared/fields";
import { FormNumber, FormSelect, FormText, FormTicks } from "../shared/formFields";
import { useKeys } from "../shared/keys";
import { numberOf } from "../shared/numbers";
import { useCodeWords, useKinds } from "../shared/useKinds";
import { airOf, phasesOf } from "./air";
import { BallsAtHand } from "./BallsAtHand";
import { DeclarePart } from "./DeclarePart";
import type { ReworkFormProps } from "./ReworkForm";
import type { Before, Do, NewRework } from "./useRework";

const SOLDERS = ["", "leaded", "lead-free", "low-melt"] as const;
const CORNERS = {
  "": t`look`,
  "upper left": t`upper left`,
  "upper right": t`upper right`,
  "lower left": t`lower left`,
  "lower right": t`lower right`,
  none: t`it has none`,
} as const;
type Corner = keyof typeof CORNERS;
const LIFTS: readonly Do[] = ["remove", "swap"];
const PLACES: readonly Do[] = ["place", "swap"];
const HANDS: readonly Do[] = ["reball", "baked"];

interface Fields {
  chip: string;
  pin1: Corner;
  noPhoto: string;
  shields: string[];
  preheat: string;
  air: string;
  minutes: string;
  balls: "" | "stencil" | "hand";
  ballMm: string;
  ballCount: string;
  moved: string;
  result: string;
  way: NonNullable<NewRework["way"]>;
  cures: string;
  note: string;
  despite: string;
}
const BLANK: Fields = {
  chip: "",
  pin1: "",
  noPhoto: "",
  shields: [],
  preheat: "",
  air: "",
  minutes: "",
  balls: "",
  ballMm: "",
  ballCount: "",
  moved: "",
  result: "",
  way: "",
  cures: "",
  note: "",
  despite: "",
};

/** What was done at a place: before lifting, the checklist, solder and heat, balls, shields, and what came of it. */
export function ReworkEntry({
  rework,
  site,
  plan,
  setPlan,
  reworking,
  heed,
}: ReworkFormProps & { heed: Before }) {
  const { acts } = useKinds();
  const codeWords = useCodeWords();
  const lifts = LIFTS.includes(plan.do);
  const template = rework.templates.find((entry) => entry.do === plan.do);
  const [done, setDone] = useState(0);
  const inHand = HANDS.includes(plan.do);
  const proposed: Fields = {
    ...BLANK,
    chip: heed.site.chip ?? rework.loose.find((entry) => entry.chip.endsWith(`/${site}`))?.chip ?? "",
    shields: heed.neighbours.filter((neighbour) => neighbour.shield).map((neighbour) => neighbour.designator),
    preheat: template?.preheat_c ? String(template.preheat_c) : "",
    air: airOf(template),
  };
  const { control, handleSubmit, watch, formState } = useForm<Fields>({
    mode: "onChange",
    defaultValues: proposed,
    // what somebody else does to the card meanwhile changes what is proposed, never what was entered
    values: proposed,
    resetOptions: { keepDirtyValues: true },
  });
  const { pin1, balls, ballMm } = watch();
  const unfit = PLACES.includes(plan.do) && heed.fits?.judged === "no";
  const camera = useCamera();
  const steps = template?.steps ?? [];
  useKeys({ x: () => setDone(Math.min(done + 1, steps.length)) }, steps.length > 0);
  const wrong = Object.values(formState.errors)[0]?.message;
  const submit = handleSubmit(async (typed) => {
    const entry: NewRework = {
      do: plan.do,
      // a loose chip is worked on in the hand, not on its place
      site: inHand && heed.site.chip !== typed.chip.trim() ? "" : site,
      chip: inHand ? typed.chip.trim() : "",
      chip_in: PLACES.includes(plan.do) ? plan.chip_in.trim() : "",
      ...(plan.alloy_off ? { alloy_off: plan.alloy_off as "leaded" } : {}),
      ...(plan.alloy_on ? { alloy_on: plan.alloy_on as "leaded" } : {}),
      preheat_c: numberOf(typed.preheat),
      air: phasesOf(typed.air),
      minutes: numberOf(typed.minutes),
      way: plan.do === "contact-repaired" ? typed.way : "",
      cures_minutes: plan.do === "contact-repaired" ? numberOf(typed.cures) : null,
      balls: typed.balls,
      ball_mm: numberOf(typed.ballMm),
      ball_count: numberOf(typed.ballCount),
      shields: typed.shields,
      pin1: lifts ? typed.pin1 : "",
      moved: typed.moved.trim(),
      result: typed.result.trim(),
      note: typed.note.trim(),
      no_photo: typed.noPhoto.trim(),
      despite: typed.despite.trim(),
    };
    await reworking.enter(entry);
  });
  return (
    <form onSubmit={submit} className="space-y-3" data-testid="rework-form">
      {lifts && (
        <div className="border-next border-l-8 bg-next-wash px-4 py-3" data-testid="before-lifting">
          <p className="font-bold">
            <Trans>Before it is lifted</Trans>
          </p>
          <div className="mt-1 flex flex-wrap items-end gap-3">
            {heed.photographed ? (
              <p>
                <Trans>Photographed.</Trans>
              </p>
            ) : (
              <>
                <button type="button" className="button" onClick={() => camera(site)}>
                  <Trans>Photograph {site}</Trans>
                </button>
                <FormText control={control} name="noPhoto" label={t`or why not`} />
              </>
            )}
            <FormSelect
              control={control}
              name="pin1"
              label={t`pin 1 lies, as the board lies`}
              options={Object.entries(CORNERS) as [Corner, string][]}
            />
          </div>
        </div>
      )}
      {steps.length > 0 && (
        <div>
          <p className="text-soft">
            <Trans>
              {template?.name}; <kbd className="key">x</kbd> ticks the next
            </Trans>
          </p>
          <ol aria-label={t`Checklist`} className="flex flex-wrap gap-x-4">
            {steps.map((step, at) => (
              <li key={step}>
                <Checkbox label={step} checked={at < done} onChange={(on) => setDone(on ? at + 1 : at)} />
              </li>
            ))}
          </ol>
        </div>
      )}
      {unfit && (
        <FormText
          control={control}
          name="despite"
          label={t`it does not fit; why it is fitted all the same`}
        />
      )}
      <div className="flex flex-wrap items-end gap-3">
        {inHand && (
          <FormText
            control={control}
            name="chip"
            label={t`which chip`}
            mono
            wide="w-44"
            maxLength={120}
            list="loose-chips"
          />
        )}
        {PLACES.includes(plan.do) && (
          <TextField
            label={t`chip that comes`}
            mono
            wide="w-44"
            maxLength={120}
            list="loose-chips"
            value={plan.chip_in}
            onChange={(chip_in) => setPlan({ ...plan, chip_in })}
          />
        )}
        {(["alloy_off", "alloy_on"] as const).map((which) => (
          <SelectField
            key={which}
            label={which === "alloy_off" ? t`solder off` : t`solder on`}
            value={plan[which]}
            onChange={(alloy) => setPlan({ ...plan, [which]: alloy })}
            options={SOLDERS.map((name) => [name as string, codeWords(name) || t`not recorded`] as const)}
          />
        ))}
        <FormNumber control={control} name="preheat" label={t`preheat, °C`} />
        <FormText control={control} name="air" label={t`air, as soak 150/60, lift 360/25`} />
        <FormNumber control={control} name="minutes" label={t`minutes`} />
      </div>
      {plan.do === "contact-repaired" && (
        <div className="flex flex-wrap items-end gap-3">
          <FormSelect
            control={control}
            name="way"
            label={t`how it is held`}
            options={[
              ["", t`not recorded`],
              ["glued", t`glued on`],
              ["clamped", t`glued and clamped`],
              ["wired", t`bridged by a wire`],
            ]}
          />
          <FormNumber control={control} name="cures" label={t`cures for, minutes`} />
          <p className="pb-2 text-soft">
            <Trans>As the sheet of the adhesive says; a timer is started with it.</Trans>
          </p>
        </div>
      )}
      {plan.do === "reball" && (
        <div className="flex flex-wrap items-end gap-3">
          <FormSelect
            control={control}
            name="balls"
            label={t`balls`}
            options={[
              ["", t`not recorded`],
              ["stencil", t`by stencil`],
              ["hand", t`by hand`],
            ]}
          />
          <FormNumber control={control} name="ballMm" label={t`size, mm`} />
          <FormNumber control={control} name="ballCount" label={t`balls taken, with spare`} />
          <BallsAtHand mm={numberOf(ballMm)} stencil={balls === "stencil"} />
        </div>
      )}
      {heed.neighbours.some((neighbour) => !neighbour.behind) && (
        <fieldset>
          <legend className="text-soft">
            <Trans>shielded</Trans>
          </legend>
          <div className="flex flex-wrap gap-x-4">
            <FormTicks
              control={control}
              name="shields"
              names={heed.neighbours
                .filter((neighbour) => !neighbour.behind)
                .slice(0, 12)
                .map((neighbour) => neighbour.designator)}
            />
          </div>
        </fieldset>
      )}
      <div className="flex flex-wrap items-end gap-3">
        <FormText control={control} name="moved" label={t`what else moved, fell or was lost`} />
        <FormText control={control} name="result" label={t`result`} />
      </div>
      <FormText control={control} name="note" label={t`note`} />
      {wrong && (
        <p role="alert" className="border-suspect border-l-4 pl-3">
          {wrong}
        </p>
      )}
      {reworking.problem && (
        <p role="alert" className="border-suspect border-l-4 pl-3">
          <Trans>{reworking.problem.message} What you entered is kept here.</Trans>
        </p>
      )}
      {reworking.problem?.code === "unknown-part" && <DeclarePart site={site} declare={reworking.declare} />}
      <datalist id="loose-chips">
        {rework.loose.map((entry) => (
          <option key={entry.chip} value={entry.chip} />
        ))}
      </datalist>
      <button type="submit" className="button border-next" disabled={(lifts && !pin1) || !!wrong}>
        <Trans>
          Done: {acts.find((act) => act.do === plan.do)?.asked} {site}
        </Trans>
      </button>
    </form>
  );
}
