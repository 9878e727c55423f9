import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { Link } from "react-router";
import type { Practice } from "../api/client";
import { SelectField } from "../shared/fields";
import { count, moment } from "../shared/words";
import { useSession } from "../signin/session";
import { ENDED_WORDS, HELP_WORDS } from "./help";
import { OverTime } from "./OverTime";

type Round = Practice["rounds"][number];

/** One's own cards over time, newest first; the lead sees everybody's. */
export function Rounds({ rounds }: { rounds: readonly Round[] }) {
  const session = useSession();
  const lead = session.data?.person?.role === "lead";
  const people = [...new Set(rounds.map((round) => round.by))].sort();
  const [who, setWho] = useState("");
  if (rounds.length === 0)
    return (
      <p>
        <Trans>No practice card yet. Start one: its debrief will stand here.</Trans>
      </p>
    );
  const shown = rounds.filter((round) => !who || round.by === who);
  return (
    <section className="space-y-4" aria-label={t`History`}>
      {lead && people.length > 1 && (
        <SelectField
          label={t`person`}
          value={who}
          onChange={setWho}
          options={[["", t`everyone`] as const, ...people.map((name) => [name, name] as const)]}
        />
      )}
      <OverTime rounds={shown} />
      <table className="w-full [&_td]:py-1 [&_td]:pr-4 [&_th]:pr-4" data-testid="rounds">
        <thead>
          <tr className="border-rule border-b text-left">
            <th>
              <Trans>card</Trans>
            </th>
            {lead && (
              <th>
                <Trans>who</Trans>
              </th>
            )}
            <th>
              <Trans>subject</Trans>
            </th>
            <th>
              <Trans>started</Trans>
            </th>
            <th>
              <Trans>advice</Trans>
            </th>
            <th>
              <Trans>outcome</Trans>
            </th>
            <th>
              <Trans>minutes / advice</Trans>
            </th>
            <th>
              <Trans>damage</Trans>
            </th>
          </tr>
        </thead>
        <tbody>
          {shown.map((round) => (
            <tr key={round.number} className="border-rule border-b">
              <td>
                <Link
                  className="font-mono underline"
                  to={`/jobs/${round.number}/${round.ended ? "debrief" : "arrive"}`}
                >
                  {round.label}
                </Link>
              </td>
              {lead && <td>{round.by}</td>}
              <td>{round.name}</td>
              <td>{moment(round.begun_at)}</td>
              <td>
                {HELP_WORDS[round.help]}
                {round.asked > 0 && ` (${round.asked})`}
              </td>
              <td>
                {ENDED_WORDS[round.ended]}
                {round.right !== null && `, ${round.right ? t`right` : t`wrong`}`}
              </td>
              <td className="font-mono">
                {round.minutes === null
                  ? ""
                  : `${count(Math.round(round.minutes))} / ${count(Math.round(round.advice_minutes ?? 0))}`}
              </td>
              <td className="font-mono">{round.ended ? round.harm : ""}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
