import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import type { Shorts } from "../api/client";
import { ChooseFile, PHOTOGRAPHS } from "../shared/ChooseFile";
import { moment } from "../shared/words";
import type { Hunting } from "./useShorts";

interface InjectionLogProps {
  shorts: Shorts;
  hunting: Hunting;
  /** the side of the board that is seen */
  side: "front" | "back";
  mayWork: boolean;
}

type Fed = Shorts["injections"][number];

/** What was fed, what it says of the short, and where it glowed: clicked, or from a thermal picture. */
export function InjectionLog({ shorts, hunting, side, mayWork }: InjectionLogProps) {
  if (shorts.injections.length === 0) return null;
  const pictured = shorts.injections.some((injection) => injection.thermals.length > 0);
  return (
    <section aria-labelledby="log-title" data-testid="injection-log">
      <h3 id="log-title" className="text-lg font-bold">
        <Trans>Injection log</Trans>
      </h3>
      {pictured && (
        <label className="flex items-center gap-3">
          <Trans>thermal picture</Trans>
          <input
            type="range"
            min={0}
            max={1}
            step={0.05}
            className="flex-1"
            value={hunting.opacity}
            onChange={(event) => hunting.setOpacity(Number(event.target.value))}
          />
        </label>
      )}
      <ol aria-label={t`Injections`}>
        {[...shorts.injections].reverse().map((injection) => (
          <li key={injection.id} className="space-y-1 border-t border-rule py-2">
            <p className="flex flex-wrap items-baseline gap-x-4">
              <strong className="font-mono text-xl">
                {injection.volts} V × {injection.amps} A
              </strong>
              <span>
                <Trans>into {injection.rail}</Trans>
                {injection.ohms !== null && (
                  <Trans>
                    : the short is <strong className="font-mono">{injection.ohms.toPrecision(2)} Ω</strong>
                  </Trans>
                )}
                <Trans>
                  , <span className="font-mono">{injection.watts.toPrecision(2)}</span> W to see
                  {injection.point ? t`, at ${injection.point}` : ""}
                  {injection.wire ? t`, by a wire` : ""}
                  {injection.advised_v != null ? t`, above the ${injection.advised_v} V advised` : ""}
                </Trans>
              </span>
              <span className="text-soft">
                {injection.by}, {moment(injection.at)}
              </span>
            </p>
            {injection.note && <p>{injection.note}</p>}
            <Spots fed={injection} drawn={shorts.photo_mm === null} />
            {mayWork && (
              <Spot fed={injection} hunting={hunting} side={side} drawn={shorts.photo_mm === null} />
            )}
          </li>
        ))}
      </ol>
    </section>
  );
}

function Spots({ fed, drawn }: { fed: Fed; drawn: boolean }) {
  const glow = fed.glows.at(-1);
  if (glow && !glow.side)
    return (
      <p>
        <Trans>Nothing warmed that could be seen.</Trans>
      </p>
    );
  if (glow && !drawn)
    return (
      <p>
        <Trans>It glowed on the {glow.side}, where it is marked on the photograph.</Trans>
      </p>
    );
  if (glow)
    return (
      <p>
        <Trans>
          It glowed on the {glow.side}, {glow.x_mm.toFixed(0)} mm from the bracket and {glow.y_mm.toFixed(0)}{" "}
          mm up.
        </Trans>
      </p>
    );
  return (
    <p className="text-soft">
      <Trans>No warm spot recorded yet.</Trans>
    </p>
  );
}

interface SpotProps {
  fed: Fed;
  hunting: Hunting;
  side: "front" | "back";
  drawn: boolean;
}

function Spot({ fed, hunting, side, drawn }: SpotProps) {
  const thermal = fed.thermals.at(-1);
  const warm =
    thermal && typeof thermal.x_mm === "number" && typeof thermal.y_mm === "number"
      ? { side: thermal.side as "front" | "back", at: [thermal.x_mm, thermal.y_mm] as const }
      : null;
  const asking = hunting.glowOf === fed.id;
  return (
    <div className="flex flex-wrap items-center gap-3">
      <button
        type="button"
        className={`button ${asking ? "bg-tray" : ""}`}
        aria-pressed={asking}
        onClick={() => hunting.setGlowOf(asking ? null : fed.id)}
      >
        {asking ? t`Click on the ${drawn ? t`board` : t`photograph`} where it glows` : t`Where it glowed`}
      </button>
      <button type="button" className="button" onClick={() => void hunting.glow("", [0, 0], fed.id)}>
        <Trans>Nothing warmed</Trans>
      </button>
      {drawn && (
        <ChooseFile
          accept={PHOTOGRAPHS}
          testid="thermal-file"
          take={(files) => files[0] && void hunting.photograph(fed.id, side, files[0])}
        >
          <Trans>Thermal picture of the {side}</Trans>
        </ChooseFile>
      )}
      {warm && (
        <button
          type="button"
          className="button"
          onClick={() => void hunting.glow(warm.side, warm.at, fed.id)}
        >
          <Trans>Take its warmest place</Trans>
        </button>
      )}
      {thermal && !warm && (
        <span className="text-soft">
          <Trans>Nothing stands out on the picture.</Trans>
        </span>
      )}
    </div>
  );
}
