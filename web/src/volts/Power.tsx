import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type FormEvent, useState } from "react";
import { Link, useParams } from "react-router";
import type { Volts } from "../api/client";
import { Cautions } from "../shared/Cautions";
import { Checkbox } from "../shared/Checkbox";
import { NumberField } from "../shared/fields";
import { decimalOf } from "../shared/numbers";
import { moment } from "../shared/words";
import { Curve, LogStart } from "./Start";
import type { Powering } from "./useVolts";

interface PowerProps {
  volts: Volts;
  powering: Powering;
  /** whether the card is in the shop under this job */
  here: boolean;
  mayWork: boolean;
}

const STATES = [
  ["off", t`Unplugged and discharged`],
  ["supply", t`On the bench supply`],
  ["computer", t`In the computer`],
] as const;

const TELLS: Partial<Record<Volts["draws"][number]["tells"], string>> = {
  idle: "text-good",
  limited: "",
  unknown: "",
};

/** How the card stands, what keeps it unpowered, the limit to begin with, and what it drew. Enter never powers. */
export function Power({ volts, powering, here, mayWork }: PowerProps) {
  const { number } = useParams();
  const [plugsIn, setPlugsIn] = useState(false);
  const [bare, setBare] = useState(false);
  const locked = volts.blocks.length > 0;
  const on = volts.power !== null && volts.power.state !== "off";
  const left = volts.starts.find((start) => start.left_on);
  // a supply that did not answer is switched off by hand: said once, and the next press is that
  const [byHand, setByHand] = useState(false);
  const say = async (state: (typeof STATES)[number][0]) => {
    const supply = volts.supplies.find((entry) => entry.name === left?.supply);
    if (state === "off" && on && supply && !byHand && !(await powering.supplyOff(supply.id))) {
      setByHand(true);
      return;
    }
    setByHand(false);
    await powering.power(state === "off" ? { state } : { state, plugs_in: plugsIn, bare });
  };
  return (
    <section aria-labelledby="power-title" data-testid="volt-power">
      <h3 id="power-title" className="font-bold text-2xl">
        {!here && t`No power: the card is not here`}
        {here && on && STATES.find(([state]) => state === volts.power?.state)?.[1]}
        {here && !on && (locked ? t`Power stays locked` : t`May be powered`)}
      </h3>
      {on && volts.power?.bare && (
        <p role="alert" className="border-suspect border-l-4 pl-3 font-bold">
          <Trans>
            Without its cooler, on since {moment(volts.power.at)}: seconds only. A finger by the core; switch
            off when it warms.
          </Trans>
        </p>
      )}
      {here && locked && (
        <>
          <ul>
            {volts.blocks.map((block) => (
              <li key={block.point} className="mt-1 border-suspect border-l-4 pl-3">
                {block.why}
              </li>
            ))}
          </ul>
          <p className="mt-1">
            <Link className="button-plain -ml-2" to={`/jobs/${number}/ohms/power`}>
              <Trans>To inputs and fuses</Trans>
            </Link>
          </p>
        </>
      )}
      {here && !locked && (
        <>
          {!on && (
            <p>
              <Trans>
                Supply first, its limit at <strong>{volts.limit_amps} A</strong>: {volts.limit_why}
              </Trans>
            </p>
          )}
          <Cautions of={["powered", "mains"]} />
          {mayWork && !on && (
            <div className="mt-1">
              {volts.plugs > 0 && (
                <Checkbox
                  label={volts.plugs === 1 ? t`the plug is in` : t`all ${volts.plugs} plugs are in`}
                  checked={plugsIn}
                  onChange={setPlugsIn}
                />
              )}
              <Checkbox label={t`it stands without its cooler`} checked={bare} onChange={setBare} />
            </div>
          )}
        </>
      )}
      {mayWork && (
        <p className="mt-2 flex flex-wrap gap-2">
          {STATES.map(([state, label]) => (
            <button
              key={state}
              type="button"
              className="button"
              aria-pressed={volts.power?.state === state}
              disabled={state !== "off" && (locked || (!on && volts.plugs > 0 && !plugsIn))}
              onKeyDown={(event) => event.key === "Enter" && event.preventDefault()}
              onClick={() => void say(state)}
            >
              {state === "off" && byHand ? t`Supply off by hand, unplugged and discharged` : label}
            </button>
          ))}
        </p>
      )}
      {volts.power?.state === "supply" && mayWork && (
        <>
          {volts.supplies.length > 0 && <LogStart volts={volts} powering={powering} />}
          {volts.starts[0] && <Curve start={volts.starts[0]} />}
          <DrawForm draw={powering.draw} limit={volts.limit_amps} />
        </>
      )}
      {volts.draws.length > 0 && (
        <ul className="mt-3" aria-label={t`What it drew`}>
          {[...volts.draws].reverse().map((draw) => (
            <li key={draw.id} className="border-rule border-t py-1">
              <strong className={TELLS[draw.tells] ?? "text-suspect"}>{draw.says}</strong>{" "}
              <span className="text-soft">
                <Trans>
                  at {draw.volts} V{draw.limit_amps ? t`, limit ${draw.limit_amps} A` : ""}. {draw.note}{" "}
                  {draw.by}, {moment(draw.at)}.
                </Trans>
              </span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

function DrawForm({ draw, limit }: { draw: Powering["draw"]; limit: number }) {
  const [amps, setAmps] = useState("");
  const [volts, setVolts] = useState("12");
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (await draw({ volts: decimalOf(volts), amps: decimalOf(amps), limit_amps: limit || null }))
      setAmps("");
  };
  return (
    <form onSubmit={submit} className="mt-3 flex flex-wrap items-end gap-3">
      <label>
        <span className="block text-soft">
          <Trans>it draws, A</Trans>
        </span>
        <input
          className="field w-28 font-mono text-2xl"
          inputMode="decimal"
          value={amps}
          onChange={(event) => setAmps(event.target.value)}
        />
      </label>
      <NumberField label={t`at, V`} value={volts} onChange={setVolts} wide="w-20" />
      <button type="submit" className="button" disabled={!amps.trim() || !(decimalOf(amps) >= 0)}>
        <Trans>Store</Trans>
      </button>
    </form>
  );
}
