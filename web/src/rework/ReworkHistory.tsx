import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { Link } from "react-router";
import { TakeBack } from "../shared/TakeBack";
import { moment, sentence } from "../shared/words";
import { lifeAt } from "../stock/useStock";
import type { ReworkData } from "./useRework";

interface ReworkHistoryProps {
  rework: ReworkData;
  mayWork: boolean;
}

const CAME_OF: Record<string, string> = {
  "no-change": t`no change`,
  "came-back": t`it came back`,
  another: t`it came back, and something else is missing now`,
};

/** Everything done to this card, newest first, over all its visits; chips that lie loose. */
export function ReworkHistory({ rework, mayWork }: ReworkHistoryProps) {
  return (
    <section aria-labelledby="history-title">
      {rework.loose.length > 0 && (
        <>
          <h3 className="font-bold text-lg">
            <Trans>Loose</Trans>
          </h3>
          <ul aria-label={t`Loose chips`}>
            {rework.loose.map((one) => (
              <li key={one.chip} className="border-rule border-t py-1">
                <Trans>
                  <Link className="font-bold font-mono underline underline-offset-3" to={lifeAt(one.chip)}>
                    {one.chip}
                  </Link>
                  , heated {one.cycles} times, in the open since {moment(one.since)}.
                </Trans>
                {one.too_long_h !== null && (
                  <strong className="text-suspect">
                    <Trans> {Math.round(one.too_long_h)} hours: bake it before it is heated.</Trans>
                  </strong>
                )}
              </li>
            ))}
          </ul>
        </>
      )}
      <h3 id="history-title" className="mt-4 font-bold text-lg">
        <Trans>What was done</Trans>
      </h3>
      {rework.events.length === 0 && (
        <p className="text-soft">
          <Trans>No work on this card yet.</Trans>
        </p>
      )}
      <ol aria-label={t`What was done`}>
        {[...rework.events].reverse().map((one) => (
          <li key={one.id} className="border-rule border-t py-2" data-rework={one.do}>
            <p>
              <strong className="font-mono">{one.site || one.chip}</strong> <strong>{one.words}</strong>
              {one.chip_in && (
                <Trans>
                  ,{" "}
                  <Link className="underline underline-offset-3 font-mono" to={lifeAt(one.chip_in)}>
                    {one.chip_in}
                  </Link>{" "}
                  on
                </Trans>
              )}
              {one.drawer && (
                <Trans>
                  , one of{" "}
                  <Link className="underline underline-offset-3 font-mono" to={lifeAt(one.drawer)}>
                    {one.drawer}
                  </Link>{" "}
                  on
                </Trans>
              )}
              .{" "}
              {sentence(
                [
                  one.rails.length > 0 && t`for ${one.rails.join(" ")}`,
                  one.node &&
                    t`for ${one.node}${one.came_of ? `: ${CAME_OF[one.came_of] ?? one.came_of}` : ""}`,
                  one.rating,
                  one.alloy_off && t`${one.alloy_off} off`,
                  one.alloy_on && t`${one.alloy_on} on`,
                  one.preheat_c && t`preheat ${one.preheat_c} °C`,
                  ...one.air.map(
                    (air) =>
                      `${air.phase}${air.celsius ? ` ${air.celsius} °C` : ""}${air.seconds ? ` ${air.seconds} s` : ""}`,
                  ),
                  one.balls &&
                    t`balls by ${one.balls}${one.ball_mm ? t` ${one.ball_mm} mm` : ""}${one.ball_count ? `, ${one.ball_count}` : ""}`,
                  one.shields.length > 0 && t`shields on ${one.shields.join(" ")}`,
                  one.moved && t`moved: ${one.moved}`,
                  one.minutes && t`${one.minutes} min`,
                ]
                  .filter(Boolean)
                  .join(", "),
              )}{" "}
              {sentence(one.result)} {sentence(one.note)}
            </p>
            <p className="flex flex-wrap items-center gap-2 text-soft">
              {one.job_label}
              {one.step !== "rework" && t`, at ${sentence(one.step).slice(0, -1)}`}, {one.by},{" "}
              {moment(one.at)}.{mayWork && <TakeBack act={one.id} />}
            </p>
          </li>
        ))}
      </ol>
    </section>
  );
}
