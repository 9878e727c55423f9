import { t } from "@lingui/core/macro";
import { Plural, Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api } from "../api/client";
import { practiceDayQuery } from "../queries/practice";
import { Checkbox } from "../shared/Checkbox";
import { FormError } from "../shared/FormError";
import { SelectField } from "../shared/fields";
import { useKeeping } from "../shared/keeping";
import { count, day } from "../shared/words";
import { HELP } from "./help";
import { type Help, useBeginning } from "./useBeginning";

/** The same card for the whole shop; who has ended theirs sees how it went for the others, without names. */
export function OfTheDay() {
  const found = useQuery(practiceDayQuery());
  const beginning = useBeginning();
  const naming = useKeeping([practiceDayQuery().queryKey]);
  const [help, setHelp] = useState<Help>("off");
  const today = found.data;
  if (!today) return null;
  const named = (on: boolean) =>
    naming.keep(() =>
      api.PUT("/api/v1/jobs/{number}/practice/named", {
        params: { path: { number: today.number ?? 0 } },
        body: { named: on },
      }),
    );
  return (
    <section
      className="space-y-4 rounded-md border border-rule bg-sheet p-5"
      aria-labelledby="day-title"
      data-testid="of-the-day"
    >
      <h2 id="day-title" className="font-bold text-xl">
        <Trans>Card of the day, {day(today.day)}</Trans>
      </h2>
      <p className="text-lg">{today.name}</p>
      {today.number === null ? (
        <form
          className="flex flex-wrap items-end gap-4"
          onSubmit={(event) => {
            event.preventDefault();
            void beginning.begin({ source: "day", help });
          }}
        >
          <SelectField label={t`advice`} value={help} onChange={setHelp} options={HELP} />
          <button type="submit" className="button" disabled={beginning.busy}>
            <Trans>Start</Trans>
          </button>
          <FormError problem={beginning.problem} />
        </form>
      ) : (
        <p>
          <Link className="underline" to={`/jobs/${today.number}/${today.ended ? "debrief" : "arrive"}`}>
            {today.ended ? t`Your debrief` : t`Resume`}
          </Link>
        </p>
      )}
      {!today.ended && (
        <p className="text-soft">
          <Plural
            value={today.others}
            _0="Nobody has finished it yet."
            one="# colleague has finished it."
            other="# colleagues have finished it."
          />{" "}
          <Trans>Results are shown once you have finished yours.</Trans>
        </p>
      )}
      {today.ended && (
        <>
          <table className="w-full [&_td]:py-1 [&_td]:pr-4 [&_th]:pr-4">
            <thead>
              <tr className="border-rule border-b text-left">
                <th>
                  <Trans>who</Trans>
                </th>
                <th>
                  <Trans>minutes</Trans>
                </th>
                <th>
                  <Trans>outcome</Trans>
                </th>
                <th>
                  <Trans>damage</Trans>
                </th>
              </tr>
            </thead>
            <tbody>
              {today.advice_minutes !== null && (
                <tr className="border-rule border-b">
                  <td>
                    <Trans>the advice</Trans>
                  </td>
                  <td className="font-mono">{count(Math.round(today.advice_minutes))}</td>
                  <td>{today.advice_right ? t`right` : t`wrong`}</td>
                  <td className="font-mono">0</td>
                </tr>
              )}
              {today.rounds.map((round, at) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: rounds bear no names, and their order is the row
                <tr key={at} className={`border-rule border-b ${round.mine ? "font-bold" : ""}`}>
                  <td>{round.mine ? t`you` : round.by || t`a colleague`}</td>
                  <td className="font-mono">{count(Math.round(round.minutes))}</td>
                  <td>{round.right ? t`right` : t`wrong`}</td>
                  <td className="font-mono">{round.harm}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <Checkbox
            label={t`Show my name to the others`}
            checked={today.named}
            onChange={(on) => void named(on)}
          />
          <FormError problem={naming.problem} />
        </>
      )}
    </section>
  );
}
