import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { Link } from "react-router";
import { TakeBack } from "../shared/TakeBack";
import { useKinds, wordsOf } from "../shared/useKinds";
import { moment, sentence } from "../shared/words";
import { lifeAt } from "../stock/useStock";
import type { ReworkData } from "./useRework";

interface ReworkHistoryProps {
  rework: ReworkData;
  mayWork: boolean;
}

/** Everything done to this card, newest first, over all its visits; chips that lie loose. */
export function ReworkHistory({ rework, mayWork }: ReworkHistoryProps) {
  const { came_of } = useKinds();
  return (
    <section aria-labelledby="history-title">
      {rework.loose.length > 0 && (
        <>
          <h3 className="font-bold text-lg">
            <Trans>Loose</Trans>
          </h3>
          <ul aria-label={t`Loose chips`}>
            {rework.loose.map((entry) => (
              <li key={entry.chip} className="border-rule border-t py-1">
                <Trans>
                  <Link className="font-bold font-mono underline underline-offset-3" to={lifeAt(entry.chip)}>
                    {entry.chip}
                  </Link>
                  , heated {entry.cycles} times, in the open since {moment(entry.since)}.
                </Trans>
                {entry.too_long_h !== null && (
                  <strong className="text-suspect">
                    <Trans> {Math.round(entry.too_long_h)} hours: bake it before it is heated.</Trans>
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
        {[...rework.events].reverse().map((event) => (
          <li key={event.id} className="border-rule border-t py-2" data-rework={event.do}>
            <p>
              <strong className="font-mono">{event.site || event.chip}</strong> <strong>{event.words}</strong>
              {event.chip_in && (
                <Trans>
                  ,{" "}
                  <Link className="underline underline-offset-3 font-mono" to={lifeAt(event.chip_in)}>
                    {event.chip_in}
                  </Link>{" "}
                  on
                </Trans>
              )}
              {event.drawer && (
                <Trans>
                  , one of{" "}
                  <Link className="underline underline-offset-3 font-mono" to={lifeAt(event.drawer)}>
                    {event.drawer}
                  </Link>{" "}
                  on
                </Trans>
              )}
              .{" "}
              {sentence(
                [
                  event.rails.length > 0 && t`for ${event.rails.join(" ")}`,
                  event.node &&
                    t`for ${event.node}${event.came_of ? `: ${wordsOf(came_of, event.came_of)}` : ""}`,
                  event.rating,
                  event.alloy_off && t`${event.alloy_off} off`,
                  event.alloy_on && t`${event.alloy_on} on`,
                  event.preheat_c && t`preheat ${event.preheat_c} °C`,
                  ...event.air.map(
                    (air) =>
                      `${air.phase}${air.celsius ? ` ${air.celsius} °C` : ""}${air.seconds ? ` ${air.seconds} s` : ""}`,
                  ),
                  event.balls &&
                    t`balls by ${event.balls}${event.ball_mm ? t` ${event.ball_mm} mm` : ""}${event.ball_count ? `, ${event.ball_count}` : ""}`,
                  event.shields.length > 0 && t`shields on ${event.shields.join(" ")}`,
                  event.moved && t`moved: ${event.moved}`,
                  event.minutes && t`${event.minutes} min`,
                ]
                  .filter(Boolean)
                  .join(", "),
              )}{" "}
              {sentence(event.result)} {sentence(event.note)}
            </p>
            <p className="flex flex-wrap items-center gap-2 text-soft">
              {event.job_label}
              {event.step !== "rework" && t`, at ${sentence(event.step).slice(0, -1)}`}, {event.by},{" "}
              {moment(event.at)}.{mayWork && <TakeBack act={event.id} />}
            </p>
          </li>
        ))}
      </ol>
    </section>
  );
}
