import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type FormEvent, useEffect, useState } from "react";
import { Link } from "react-router";
import { useCamera } from "../job/camera";
import { Cautions } from "../shared/Cautions";
import { Checkbox } from "../shared/Checkbox";
import { codeWords } from "../shared/codes";
import { NumberField, TextField } from "../shared/fields";
import { useKeys } from "../shared/keys";
import { useKinds } from "../shared/useKinds";
import { lifeAt, useStock } from "../stock/useStock";
import { DeclarePart } from "./DeclarePart";
import type { Before, Do, NewRework, ReworkData, Reworking } from "./useRework";

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

interface ReworkFormProps {
  number: number;
  rework: ReworkData;
  site: string;
  choose: (designator: string) => void;
  plan: { do: Do; alloy_off: string; alloy_on: string; chip_in: string };
  setPlan: (plan: ReworkFormProps["plan"]) => void;
  before: Before | undefined;
  reworking: Reworking;
  mayWork: boolean;
}

/** The step in hand: what to heed before, the shop's checklist with one key, then what was done. */
export function ReworkForm(props: ReworkFormProps) {
  const { rework, site, choose, plan, setPlan, before, mayWork } = props;
  const { acts } = useKinds();
  const [typed, setTyped] = useState(site);
  useEffect(() => setTyped(site), [site]);
  return (
    <section aria-labelledby="step-title" className="space-y-3">
      <form
        className="flex flex-wrap items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (typed.trim()) choose(typed.trim().toUpperCase());
        }}
      >
        <label>
          <span className="block text-soft">
            <Trans>site or part</Trans>
          </span>
          <input
            className="field w-32 font-mono text-2xl"
            maxLength={80}
            autoComplete="off"
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
            onBlur={() => typed.trim() && choose(typed.trim().toUpperCase())}
          />
        </label>
        <label>
          <span className="block text-soft">
            <Trans>to do</Trans>
          </span>
          <select
            className="field"
            value={plan.do}
            onChange={(event) => {
              const next = event.target.value as Do;
              const preset = rework.templates.find((template) => template.do === next)?.alloy_on;
              setPlan({ ...plan, do: next, alloy_on: preset || plan.alloy_on });
            }}
          >
            {acts
              .filter((act) => act.do !== "write")
              .map((act) => (
                <option key={act.do} value={act.do}>
                  {act.asked}
                </option>
              ))}
          </select>
        </label>
      </form>
      <h2 id="step-title" className="font-bold text-2xl">
        {plan.do === "bake" ? (
          t`The whole card in an oven`
        ) : site ? (
          <>
            <span className="font-mono">{site}</span>: {acts.find((act) => act.do === plan.do)?.asked}
          </>
        ) : (
          t`Choose a chip on the board, or type its designator`
        )}
      </h2>
      {plan.do === "bake" && mayWork && <Oven reworking={props.reworking} />}
      {plan.do !== "bake" && site && before && (
        <Heed
          key={site}
          before={before}
          number={props.number}
          chipIn={plan.chip_in}
          rework={rework}
          noteLot={mayWork ? props.reworking.noteLot : undefined}
        />
      )}
      {plan.do !== "bake" && site && mayWork && before && (
        <Entry key={`${site} ${plan.do} ${rework.events.length}`} {...props} heed={before} />
      )}
    </section>
  );
}

/** A reflow of the whole card: never advised, recorded as the heat that it was to every part. */
function Oven({ reworking }: { reworking: Reworking }) {
  const [minutes, setMinutes] = useState("");
  const [note, setNote] = useState("");
  const many = minutes.trim() ? Number(minutes.replace(",", ".")) : null;
  return (
    <form
      className="space-y-3"
      data-testid="oven"
      onSubmit={async (event) => {
        event.preventDefault();
        if (await reworking.enter({ do: "bake", minutes: many, note: note.trim() })) setNote("");
      }}
    >
      <p className="border-suspect border-l-4 pl-3 font-bold">
        <Trans>
          It heats every part of the card once more, those that were sound too, and rarely lasts. It is
          recorded as one cycle for every place, and the customer is told.
        </Trans>
      </p>
      <Cautions of={["fumes", "hot"]} />
      <div className="flex flex-wrap items-end gap-3">
        <NumberField label={t`minutes`} value={minutes} onChange={setMinutes} />
        <TextField label={t`note`} value={note} onChange={setNote} />
      </div>
      {reworking.problem && (
        <p role="alert" className="border-suspect border-l-4 pl-3">
          {reworking.problem.message}
        </p>
      )}
      <button type="submit" className="button border-next" disabled={Number.isNaN(many)}>
        <Trans>Done: the whole card was in an oven</Trans>
      </button>
    </form>
  );
}

/** What stands near, how often it was heated, what alloys mean, and the cautions of this work. */
function Heed({
  before,
  number,
  chipIn,
  rework,
  noteLot,
}: {
  before: Before;
  number: number;
  chipIn: string;
  rework: ReworkData;
  noteLot: Reworking["noteLot"] | undefined;
}) {
  const [asked, setAsked] = useState(false);
  const [lot, setLot] = useState("");
  const { site } = before;
  const shields = before.neighbours.filter((neighbour) => neighbour.shield);
  return (
    <div className="space-y-2" data-testid="heed">
      <p>
        {site.chip ? (
          <Trans>
            <Link className="button-plain -ml-2 font-bold font-mono" to={lifeAt(site.chip)}>
              {site.chip}
            </Link>{" "}
            is on it, heated {site.chip_cycles} of {rework.chip_cycles} times;{" "}
          </Trans>
        ) : (
          <strong>
            <Trans>empty;</Trans>{" "}
          </strong>
        )}
        <Trans>
          the place {site.cycles} of {rework.site_cycles}
          {site.warmed > 0 ? t`, warmed by neighbours ${site.warmed} times` : ""}.{" "}
          {site.chip ? (site.lot ? t`Lot ${site.lot}. ` : t`Lot not read. `) : ""}
        </Trans>
        {site.chip && noteLot && (
          <button
            type="button"
            className="button-plain"
            aria-expanded={asked}
            onClick={() => setAsked(!asked)}
          >
            {site.lot ? t`Another lot` : t`Note its lot`}
          </button>
        )}
        {site.lot && (
          <Link
            className="button-plain"
            to={`/stock/lots?job=${number}&failed=${encodeURIComponent(site.designator)}`}
          >
            <Trans>One chip or all of them</Trans>
          </Link>
        )}
      </p>
      {asked && site.chip && noteLot && (
        <form
          className="flex items-end gap-2"
          onSubmit={async (event) => {
            event.preventDefault();
            if (lot.trim() && (await noteLot(site.chip ?? "", lot.trim()))) setAsked(false);
          }}
        >
          <TextField
            label={t`vendor, type and date code as printed`}
            value={lot}
            onChange={setLot}
            mono
            wide="w-56"
            maxLength={60}
          />
          <button type="submit" className="button" disabled={!lot.trim()}>
            <Trans>Note it</Trans>
          </button>
        </form>
      )}
      {before.fits && <Fit fits={before.fits} chip={chipIn} />}
      {before.warnings.map((warning) => (
        <p key={warning} className="border-suspect border-l-4 pl-3 font-bold">
          {warning}
        </p>
      ))}
      {shields.length > 0 && (
        <p className="border-ink border-l-4 pl-3">
          <Trans>
            <strong>Shield {shields.map((shield) => shield.designator).join(", ")}</strong> before it is
            heated.
          </Trans>
        </p>
      )}
      <details>
        <summary className="cursor-pointer py-1 underline underline-offset-3">
          <Trans>{before.neighbours.length} near it</Trans>
        </summary>
        <ul aria-label={t`Neighbours`}>
          {before.neighbours.map((neighbour) => (
            <li
              key={neighbour.designator}
              className="grid grid-cols-[4rem_6rem_1fr] gap-2 border-rule border-t py-1"
            >
              <strong className="font-mono">{neighbour.designator}</strong>
              <span className="text-soft">{codeWords(neighbour.kind)}</span>
              <span>
                {neighbour.why}
                {neighbour.cycles + neighbour.warmed > 0 &&
                  t` Heated ${neighbour.cycles}, warmed ${neighbour.warmed} times.`}
              </span>
            </li>
          ))}
        </ul>
      </details>
      <Cautions of={before.cautions} />
    </div>
  );
}

/** Whether the chip that comes fits here, and why. */
function Fit({ fits, chip }: { fits: NonNullable<Before["fits"]>; chip: string }) {
  const said = { yes: t`fits`, open: t`may fit`, no: t`does not fit` }[fits.judged];
  return (
    <div
      className={`border-l-4 pl-3 ${fits.judged === "no" ? "border-suspect" : "border-edge"}`}
      data-testid="fits"
    >
      <p>
        <strong>
          <span className="font-mono">{chip}</span> {said}.
        </strong>{" "}
        {fits.refused.length > 0 && t`Against it: ${fits.refused.join("; ")}. `}
        {fits.unknown.length > 0 && t`Not known: ${fits.unknown.join("; ")}. `}
        {fits.agrees.length > 0 && t`Agrees: ${fits.agrees.join(", ")}.`}
      </p>
    </div>
  );
}

function Entry({ rework, site, plan, setPlan, reworking, heed }: ReworkFormProps & { heed: Before }) {
  const { acts } = useKinds();
  const lifts = LIFTS.includes(plan.do);
  const template = rework.templates.find((entry) => entry.do === plan.do);
  const [done, setDone] = useState(0);
  const inHand = HANDS.includes(plan.do);
  const [chip, setChip] = useState(
    () => heed.site.chip ?? rework.loose.find((entry) => entry.chip.endsWith(`/${site}`))?.chip ?? "",
  );
  const [pin1, setPin1] = useState<Corner>("");
  const [noPhoto, setNoPhoto] = useState("");
  const [shields, setShields] = useState<string[]>(
    heed.neighbours.filter((neighbour) => neighbour.shield).map((neighbour) => neighbour.designator),
  );
  const [preheat, setPreheat] = useState(template?.preheat_c ? String(template.preheat_c) : "");
  const [air, setAir] = useState(() => airOf(template));
  const [minutes, setMinutes] = useState("");
  const [balls, setBalls] = useState<"" | "stencil" | "hand">("");
  const [ballMm, setBallMm] = useState("");
  const [ballCount, setBallCount] = useState("");
  const [moved, setMoved] = useState("");
  const [result, setResult] = useState("");
  const [way, setWay] = useState<NonNullable<NewRework["way"]>>("");
  const [cures, setCures] = useState("");
  const [note, setNote] = useState("");
  const [despite, setDespite] = useState("");
  const unfit = PLACES.includes(plan.do) && heed.fits?.judged === "no";
  const camera = useCamera();
  const steps = template?.steps ?? [];
  useKeys({ x: () => setDone(Math.min(done + 1, steps.length)) }, steps.length > 0);
  const number = (text: string) => (text.trim() ? Number(text.replace(",", ".")) : null);
  const wrong = (
    [
      ["preheat", preheat],
      ["minutes", minutes],
      ["size", ballMm],
      [t`balls taken`, ballCount],
      ["curing", cures],
    ] as const
  ).find(([, text]) => Number.isNaN(number(text)));
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const entry: NewRework = {
      do: plan.do,
      // a loose chip is worked on in the hand, not on its place
      site: inHand && heed.site.chip !== chip.trim() ? "" : site,
      chip: inHand ? chip.trim() : "",
      chip_in: PLACES.includes(plan.do) ? plan.chip_in.trim() : "",
      ...(plan.alloy_off ? { alloy_off: plan.alloy_off as "leaded" } : {}),
      ...(plan.alloy_on ? { alloy_on: plan.alloy_on as "leaded" } : {}),
      preheat_c: number(preheat),
      air: phasesOf(air),
      minutes: number(minutes),
      way: plan.do === "contact-repaired" ? way : "",
      cures_minutes: plan.do === "contact-repaired" ? number(cures) : null,
      balls,
      ball_mm: number(ballMm),
      ball_count: number(ballCount),
      shields,
      pin1: lifts ? pin1 : "",
      moved: moved.trim(),
      result: result.trim(),
      note: note.trim(),
      no_photo: noPhoto.trim(),
      despite: despite.trim(),
    };
    await reworking.enter(entry);
  };
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
                <TextField label={t`or why not`} value={noPhoto} onChange={setNoPhoto} />
              </>
            )}
            <label>
              <span className="block text-soft">
                <Trans>pin 1 lies, as the board lies</Trans>
              </span>
              <select
                className="field"
                value={pin1}
                onChange={(event) => setPin1(event.target.value as typeof pin1)}
              >
                {Object.entries(CORNERS).map(([one, words]) => (
                  <option key={one} value={one}>
                    {words}
                  </option>
                ))}
              </select>
            </label>
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
        <TextField
          label={t`it does not fit; why it is fitted all the same`}
          value={despite}
          onChange={setDespite}
        />
      )}
      <div className="flex flex-wrap items-end gap-3">
        {inHand && (
          <label>
            <span className="block text-soft">
              <Trans>which chip</Trans>
            </span>
            <input
              className="field w-44 font-mono"
              maxLength={120}
              list="loose-chips"
              value={chip}
              onChange={(event) => setChip(event.target.value)}
            />
          </label>
        )}
        {PLACES.includes(plan.do) && (
          <label>
            <span className="block text-soft">
              <Trans>chip that comes</Trans>
            </span>
            <input
              className="field w-44 font-mono"
              maxLength={120}
              list="loose-chips"
              value={plan.chip_in}
              onChange={(event) => setPlan({ ...plan, chip_in: event.target.value })}
            />
          </label>
        )}
        {(["alloy_off", "alloy_on"] as const).map((which) => (
          <label key={which}>
            <span className="block text-soft">{which === "alloy_off" ? t`solder off` : t`solder on`}</span>
            <select
              className="field"
              value={plan[which]}
              onChange={(event) => setPlan({ ...plan, [which]: event.target.value })}
            >
              {SOLDERS.map((name) => (
                <option key={name} value={name}>
                  {codeWords(name) || t`not recorded`}
                </option>
              ))}
            </select>
          </label>
        ))}
        <NumberField label={t`preheat, °C`} value={preheat} onChange={setPreheat} />
        <TextField label={t`air, as soak 150/60, lift 360/25`} value={air} onChange={setAir} />
        <NumberField label={t`minutes`} value={minutes} onChange={setMinutes} />
      </div>
      {plan.do === "contact-repaired" && (
        <div className="flex flex-wrap items-end gap-3">
          <label>
            <span className="block text-soft">
              <Trans>how it is held</Trans>
            </span>
            <select
              className="field"
              value={way}
              onChange={(event) => setWay(event.target.value as typeof way)}
            >
              <option value="">{t`not recorded`}</option>
              <option value="glued">{t`glued on`}</option>
              <option value="clamped">{t`glued and clamped`}</option>
              <option value="wired">{t`bridged by a wire`}</option>
            </select>
          </label>
          <NumberField label={t`cures for, minutes`} value={cures} onChange={setCures} />
          <p className="pb-2 text-soft">
            <Trans>As the sheet of the adhesive says; a timer is started with it.</Trans>
          </p>
        </div>
      )}
      {plan.do === "reball" && (
        <div className="flex flex-wrap items-end gap-3">
          <label>
            <span className="block text-soft">
              <Trans>balls</Trans>
            </span>
            <select
              className="field"
              value={balls}
              onChange={(event) => setBalls(event.target.value as typeof balls)}
            >
              <option value="">{t`not recorded`}</option>
              <option value="stencil">{t`by stencil`}</option>
              <option value="hand">{t`by hand`}</option>
            </select>
          </label>
          <NumberField label={t`size, mm`} value={ballMm} onChange={setBallMm} />
          <NumberField label={t`balls taken, with spare`} value={ballCount} onChange={setBallCount} />
          <BallsAtHand mm={number(ballMm)} stencil={balls === "stencil"} />
        </div>
      )}
      {heed.neighbours.some((neighbour) => !neighbour.behind) && (
        <fieldset>
          <legend className="text-soft">
            <Trans>shielded</Trans>
          </legend>
          <div className="flex flex-wrap gap-x-4">
            {heed.neighbours
              .filter((neighbour) => !neighbour.behind)
              .slice(0, 12)
              .map((neighbour) => (
                <Checkbox
                  key={neighbour.designator}
                  label={neighbour.designator}
                  checked={shields.includes(neighbour.designator)}
                  onChange={(on) =>
                    setShields(
                      on
                        ? [...shields, neighbour.designator]
                        : shields.filter((name) => name !== neighbour.designator),
                    )
                  }
                />
              ))}
          </div>
        </fieldset>
      )}
      <div className="flex flex-wrap items-end gap-3">
        <TextField label={t`what else moved, fell or was lost`} value={moved} onChange={setMoved} />
        <TextField label={t`result`} value={result} onChange={setResult} />
      </div>
      <TextField label={t`note`} value={note} onChange={setNote} />
      {wrong && (
        <p role="alert" className="border-suspect border-l-4 pl-3">
          <Trans>
            {wrong[0]}: found “{wrong[1]}”, expected a number.
          </Trans>
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

/** Whether stock has balls and a stencil of that size. */
function BallsAtHand({ mm, stencil }: { mm: number | null; stencil: boolean }) {
  const asked = mm !== null && !Number.isNaN(mm);
  const stock = useStock({ text: "", kind: "", place: "" });
  if (!asked || !stock.data) return null;
  const of = (kind: string) => stock.data.parts.filter((part) => part.kind === kind && part.ball_mm === mm);
  const pieces = of("balls").reduce((sum, entry) => sum + (entry.amount ?? 0), 0);
  return (
    <p className="w-full">
      {of("balls").length > 0
        ? t`${pieces} balls of ${mm} mm in stock.`
        : t`No balls of ${mm} mm are kept in stock.`}
      {stencil &&
        (of("stencil").length > 0
          ? t` Stencil: ${of("stencil")[0]?.where ?? ""}.`
          : t` No stencil for ${mm} mm in stock.`)}
    </p>
  );
}

/** A template's phases as they are typed. */
function airOf(template: ReworkData["templates"][number] | undefined): string {
  return (template?.air ?? [])
    .map((entry) => `${entry.phase} ${entry.celsius ?? ""}${entry.seconds ? `/${entry.seconds}` : ""}`.trim())
    .join(", ");
}

/** Phases of hot air from `soak 150/60, lift 360/25`: a name, degrees, seconds. */
function phasesOf(text: string): { phase: string; celsius: number | null; seconds: number | null }[] {
  return text
    .split(",")
    .map((name) => name.trim())
    .filter(Boolean)
    .map((name) => {
      const [, phase = name, celsius, seconds] =
        /^(.*?)\s*(\d+(?:\.\d+)?)?(?:\/(\d+(?:\.\d+)?))?$/.exec(name) ?? [];
      return {
        phase: (phase || "air").slice(0, 40),
        celsius: celsius ? Number(celsius) : null,
        seconds: seconds ? Number(seconds) : null,
      };
    });
}
