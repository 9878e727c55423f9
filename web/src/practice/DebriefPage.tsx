import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import type { Debrief } from "../api/client";
import { debriefQuery } from "../queries/practice";
import { LoadError, Loading } from "../shared/states";
import { count, listed, sentence } from "../shared/words";
import { Discard } from "./Discard";
import { ENDED_WORDS } from "./help";

/** What it was, the thread beside what the advice would have done, and the habits that would have saved most. */
export function DebriefPage() {
  const number = Number(useParams().number);
  const found = useQuery(debriefQuery(number));
  if (found.isError) return <LoadError problem={found.error} again={() => found.refetch()} />;
  if (found.isPending) return <Loading what={t`Reading the debrief`} />;
  const told = found.data;
  return (
    <main className="space-y-6 p-6" data-testid="debrief">
      <header className="flex flex-wrap items-baseline gap-x-4">
        <h1 className="font-bold text-3xl">
          <Trans>Debrief of {told.label}</Trans>
        </h1>
        <p className="text-lg">{told.name}</p>
        <Link className="button-plain" to={`/jobs/${number}`}>
          <Trans>Open the job</Trans>
        </Link>
        <Link className="button-plain" to="/practice/rounds">
          <Trans>Practice history</Trans>
        </Link>
        <a className="button-plain" href={`/api/v1/jobs/${number}/practice/card`} download>
          <Trans>Export the card</Trans>
        </a>
        <Discard number={number} />
      </header>
      <div className="grid gap-6 lg:grid-cols-[1fr_1fr]">
        <section className="space-y-2 rounded-md border border-rule bg-sheet p-5" aria-labelledby="was-title">
          <h2 id="was-title" className="font-bold text-xl">
            {told.person.right ? t`Right outcome` : t`Wrong outcome`}
          </h2>
          <p className="text-2xl" data-testid="hidden">
            {told.hidden.length > 0 ? sentence(listed(told.hidden)) : t`Nothing was wrong with the card.`}
          </p>
          {!told.person.right && told.left.length > 0 && (
            <p className="border-suspect border-l-8 pl-3">
              <Trans>Still wrong when it left: {listed(told.left)}.</Trans>
            </p>
          )}
          <Costs told={told} />
        </section>
        <Habits told={told} />
      </div>
      <Moments told={told} />
    </main>
  );
}

function Costs({ told }: { told: Debrief }) {
  const rows = [
    [t`outcome`, ENDED_WORDS[told.person.ended], ENDED_WORDS[told.advice.ended]],
    [t`minutes`, count(Math.round(told.person.cost.minutes)), count(Math.round(told.advice.cost.minutes))],
    [t`steps`, count(told.person.steps), count(told.advice.steps)],
    [t`parts`, count(told.person.cost.parts), count(told.advice.cost.parts)],
    [t`heated`, count(told.person.cost.heats), count(told.advice.cost.heats)],
    [t`damage`, told.person.harm.join("; ") || t`none`, told.advice.harm.join("; ") || t`none`],
    [t`asked for advice`, count(told.asked), ""],
  ];
  return (
    <table className="w-full">
      <thead>
        <tr className="text-left text-soft">
          <th />
          <th>
            <Trans>you</Trans>
          </th>
          <th>
            <Trans>the advice</Trans>
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map(([name, mine, its]) => (
          <tr key={name} className="border-rule border-t align-top">
            <th className="pr-3 text-left font-normal text-soft">{name}</th>
            <td className="pr-3">{mine}</td>
            <td>{its}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Habits({ told }: { told: Debrief }) {
  return (
    <section className="space-y-3 rounded-md border border-rule bg-sheet p-5" aria-labelledby="habits-title">
      <h2 id="habits-title" className="font-bold text-xl">
        <Trans>What would have saved most</Trans>
      </h2>
      {told.habits.length === 0 && (
        <p>
          <Trans>Nothing to speak of: every step told something, and none did harm.</Trans>
        </p>
      )}
      <ol className="space-y-3">
        {told.habits.map((habit, at) => (
          <li key={habit.habit} className="grid grid-cols-[2rem_1fr_auto] gap-3 border-rule border-t pt-2">
            <span className="font-bold font-mono text-xl">{at + 1}</span>
            <span>
              {sentence(habit.words)}{" "}
              <span className="text-soft">
                <Trans>Step {listed(habit.numbers.map((number) => String(number + 1)))}.</Trans>
              </span>
            </span>
            <span className="whitespace-nowrap">{t`${count(Math.round(habit.minutes))} min`}</span>
          </li>
        ))}
      </ol>
    </section>
  );
}

/** Step by step: what was done, what it told and cost, and the advice at that point where the two parted. */
function Moments({ told }: { told: Debrief }) {
  const [all, setAll] = useState(true);
  const shown = told.moments.filter((moment) => all || !moment.as_advised || moment.harm);
  return (
    <section aria-labelledby="moments-title">
      <h2 id="moments-title" className="flex flex-wrap items-baseline gap-4 font-bold text-xl">
        <Trans>Step by step</Trans>
        <button type="button" className="button-plain font-normal text-base" onClick={() => setAll(!all)}>
          {all ? t`Only where you and the advice differ` : t`Every step`}
        </button>
      </h2>
      <table className="mt-2 w-full" data-testid="moments">
        <thead>
          <tr className="text-left text-soft">
            <th />
            <th>
              <Trans>you</Trans>
            </th>
            <th className="text-right">
              <Trans>min</Trans>
            </th>
            <th className="px-3 text-right">
              <Trans>bits told</Trans>
            </th>
            <th>
              <Trans>the advice at that point</Trans>
            </th>
          </tr>
        </thead>
        <tbody>
          {shown.map((moment) => (
            <tr key={moment.number} className="border-rule border-t align-top">
              <td className="pr-2 font-mono text-soft">{moment.number + 1}</td>
              <td className="py-1 pr-4">
                <span className={moment.as_advised ? "" : "font-bold"}>{moment.words}</span>
                {moment.harm && <p className="text-suspect">{sentence(moment.harm)}</p>}
                {moment.ruled_out && <p className="text-suspect">{sentence(moment.ruled_out)}</p>}
              </td>
              <td className="text-right font-mono">{tenths(moment.minutes)}</td>
              <td className="px-3 text-right font-mono">{tenths(moment.bits)}</td>
              <td className="py-1">
                {moment.as_advised ? (
                  <span className="text-soft">{t`the same`}</span>
                ) : (
                  <>
                    {sentence(moment.advice.says)} <span className="text-soft">{moment.advice.why}</span>
                    {moment.believed && (
                      <span className="text-soft">
                        {" "}
                        <Trans>Likeliest then: {moment.believed}.</Trans>
                      </span>
                    )}
                  </>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function tenths(value: number): string {
  return value.toLocaleString(undefined, { maximumFractionDigits: 1 });
}
