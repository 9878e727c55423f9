import { useState } from "react";
import { Link } from "react-router";
import { Line } from "../shared/fields";
import { moment, sentence } from "../shared/words";
import { lifeAt } from "../stock/useStock";
import type { ReworkData, Reworking } from "./useRework";

interface ReworkHistoryProps {
  rework: ReworkData;
  withdraw: Reworking["withdraw"];
  mayWork: boolean;
}

/** Everything done to this card, newest first, over all its visits; chips that lie loose. */
export function ReworkHistory({ rework, withdraw, mayWork }: ReworkHistoryProps) {
  const [asked, setAsked] = useState<string | null>(null);
  const [reason, setReason] = useState("");
  return (
    <section aria-labelledby="history-title">
      {rework.loose.length > 0 && (
        <>
          <h3 className="font-bold text-lg">Loose</h3>
          <ul aria-label="Loose chips">
            {rework.loose.map((one) => (
              <li key={one.chip} className="border-rule border-t py-1">
                <Link className="font-bold font-mono underline underline-offset-3" to={lifeAt(one.chip)}>
                  {one.chip}
                </Link>
                , heated {one.cycles} times, in the open since {moment(one.since)}.
                {one.too_long_h !== null && (
                  <strong className="text-suspect">
                    {" "}
                    {Math.round(one.too_long_h)} hours: bake it before it is heated.
                  </strong>
                )}
              </li>
            ))}
          </ul>
        </>
      )}
      <h3 id="history-title" className="mt-4 font-bold text-lg">
        What was done
      </h3>
      {rework.events.length === 0 && <p className="text-soft">Nothing was heated on this card yet.</p>}
      <ol aria-label="What was done">
        {[...rework.events].reverse().map((one) => (
          <li key={one.id} className="border-rule border-t py-2" data-rework={one.do}>
            <p>
              <strong className="font-mono">{one.site || one.chip}</strong> <strong>{one.words}</strong>
              {one.chip_in && (
                <>
                  ,{" "}
                  <Link className="underline underline-offset-3 font-mono" to={lifeAt(one.chip_in)}>
                    {one.chip_in}
                  </Link>{" "}
                  on
                </>
              )}
              .{" "}
              {sentence(
                [
                  one.alloy_off && `${one.alloy_off} off`,
                  one.alloy_on && `${one.alloy_on} on`,
                  one.preheat_c && `preheat ${one.preheat_c} °C`,
                  ...one.air.map(
                    (air) =>
                      `${air.phase}${air.celsius ? ` ${air.celsius} °C` : ""}${air.seconds ? ` ${air.seconds} s` : ""}`,
                  ),
                  one.balls &&
                    `balls by ${one.balls}${one.ball_mm ? ` ${one.ball_mm} mm` : ""}${one.ball_count ? `, ${one.ball_count}` : ""}`,
                  one.shields.length > 0 && `shields on ${one.shields.join(" ")}`,
                  one.moved && `moved: ${one.moved}`,
                  one.minutes && `${one.minutes} min`,
                ]
                  .filter(Boolean)
                  .join(", "),
              )}{" "}
              {sentence(one.result)} {sentence(one.note)}
            </p>
            <p className="flex items-center gap-2 text-soft">
              {one.job_label}, {one.by}, {moment(one.at)}.
              {mayWork && (
                <button
                  type="button"
                  className="button-plain"
                  aria-expanded={asked === one.id}
                  onClick={() => setAsked(asked === one.id ? null : one.id)}
                >
                  Take back
                </button>
              )}
            </p>
            {asked === one.id && (
              <p className="flex items-end gap-2">
                <Line says="why it did not happen" value={reason} set={setReason} />
                <button
                  type="button"
                  className="button"
                  disabled={!reason.trim()}
                  onClick={async () => {
                    if (await withdraw(one.id, reason.trim())) setAsked(null);
                  }}
                >
                  Take it back
                </button>
              </p>
            )}
          </li>
        ))}
      </ol>
    </section>
  );
}
