import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, type Habits } from "../api/client";
import { habitsQuery } from "../queries/shop";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";
import { decimalOf } from "../shared/numbers";
import { LoadError, Loading } from "../shared/states";
import { useKinds, wordsOf } from "../shared/useKinds";
import { moment, times } from "../shared/words";
import { useSession } from "../signin/session";

type Set = Habits["set"];

const SCHOOLS = [
  [
    "reball-first",
    t`Reball first`,
    t`A failing chip is reballed and tested again before a new one is spent.`,
  ],
  [
    "replace-at-once",
    t`Replace at once`,
    t`A failing chip is replaced; no second heat cycle for a doubtful one.`,
  ],
  ["by-numbers", t`By the numbers`, t`Whichever has the better chance for its minutes and risk.`],
] as const;
/** The shop's own times, risks and shares behind what to try next; what its outcomes taught stands beside. */
export function HabitsPage() {
  const habits = useQuery(habitsQuery());
  const [said, setSaid] = useState("");
  if (habits.isPending) return <Loading what={t`Reading times and chances`} />;
  if (habits.isError) return <LoadError problem={habits.error} again={() => habits.refetch()} />;
  return <HabitsForm key={habits.data.at ?? "usual"} habits={habits.data} said={said} say={setSaid} />;
}

interface HabitsFormProps {
  habits: Habits;
  said: string;
  say: (said: string) => void;
}

function HabitsForm({ habits, said, say }: HabitsFormProps) {
  const [set, setSet] = useState<Set>(habits.set);
  const { problem, keep } = useKeeping([[]], () => say(t`Kept. Every job’s next step counts with it now.`));
  const session = useSession();
  const isLead = session.data?.person?.role === "lead";
  const save = async () => {
    say("");
    await keep(() => api.PUT("/api/v1/habits", { body: set }));
  };
  const { actions, causes, groups } = useKinds();
  const called = (name: string) => groups.find((group) => group.name === name)?.words ?? name;
  return (
    <main className="max-w-6xl space-y-6 p-6">
      <header>
        <Link className="button-plain -ml-2" to="/library">
          <Trans>Library</Trans>
        </Link>
        <h1 className="text-3xl font-bold">
          <Trans>What to try next: times and chances</Trans>
        </h1>
        <p className="text-soft">
          {habits.at
            ? t`Set by ${habits.by ?? ""}, ${moment(habits.at)}.`
            : t`Usual practice’s orders of magnitude; nobody has set the shop’s own yet.`}{" "}
          {!isLead && t`The lead sets them.`}
        </p>
      </header>
      <fieldset disabled={!isLead} className="space-y-6">
        <fieldset>
          <legend className="text-xl font-bold">
            <Trans>School</Trans>
          </legend>
          {SCHOOLS.map(([word, name, label]) => (
            <label key={word} className="flex min-h-11 items-center gap-3">
              <input
                type="radio"
                name="school"
                className="size-5"
                checked={set.school === word}
                onChange={() => setSet({ ...set, school: word })}
              />
              <span>
                <strong>{name}.</strong> {label}
              </span>
            </label>
          ))}
        </fieldset>
        <section>
          <h2 className="text-xl font-bold">
            <Trans>Minutes and risk</Trans>
          </h2>
          <table className="w-full text-left">
            <thead className="text-soft">
              <tr>
                <th className="font-normal">
                  <Trans>Action</Trans>
                </th>
                <th className="font-normal">
                  <Trans>Minutes, set</Trans>
                </th>
                <th className="font-normal">
                  <Trans>Done here</Trans>
                </th>
                <th className="font-normal">
                  <Trans>Minutes, used</Trans>
                </th>
                <th className="font-normal">
                  <Trans>Does harm, % of times</Trans>
                </th>
              </tr>
            </thead>
            <tbody>
              {Object.entries(set.costs).map(([name, cost]) => (
                <tr key={name} className="h-14 border-t border-rule">
                  <th scope="row" className="py-2 font-semibold">
                    {wordsOf(actions, name)}
                  </th>
                  <td>
                    <Amount
                      label={t`Minutes of ${wordsOf(actions, name)}`}
                      value={cost.minutes}
                      onChange={(minutes) =>
                        setSet({ ...set, costs: { ...set.costs, [name]: { ...cost, minutes } } })
                      }
                    />
                  </td>
                  <td>{times(habits.timed[name] ?? 0)}</td>
                  <td>{habits.used.costs[name]?.minutes}</td>
                  <td>
                    <Amount
                      label={t`Risk of ${wordsOf(actions, name)}`}
                      value={Math.round(cost.risk * 1000) / 10}
                      onChange={(share) =>
                        setSet({ ...set, costs: { ...set.costs, [name]: { ...cost, risk: share / 100 } } })
                      }
                    />
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <div className="mt-3 flex flex-wrap gap-6">
            <p className="flex items-center gap-2">
              <Trans>A harm costs, in minutes of work</Trans>
              <Amount
                label={t`A harm costs`}
                value={set.harm_minutes}
                onChange={(harm_minutes) => setSet({ ...set, harm_minutes })}
              />
            </p>
            <p className="flex items-center gap-2">
              <Trans>A new chip costs, in minutes of work</Trans>
              <Amount
                label={t`A new chip costs`}
                value={set.part_minutes}
                onChange={(part_minutes) => setSet({ ...set, part_minutes })}
              />
            </p>
          </div>
        </section>
        <section>
          <h2 className="text-xl font-bold">
            <Trans>What is behind it, in % of times</Trans>
          </h2>
          <p className="text-soft">
            <Trans>
              Set by the lead; from five own outcomes of a row on, what is used leans on them (second figure).
            </Trans>
          </p>
          <div className="overflow-x-auto">
            <table className="w-full text-left">
              <thead className="text-soft">
                <tr>
                  <th className="font-normal">
                    <Trans>Finding</Trans>
                  </th>
                  {causes.map(({ name: cause, words: name }) => (
                    <th key={cause} className="px-1 font-normal">
                      {name}
                    </th>
                  ))}
                  <th className="font-normal">
                    <Trans>outcomes</Trans>
                  </th>
                </tr>
              </thead>
              <tbody>
                {Object.entries(set.shares).map(([group, shares]) => (
                  <tr key={group} className="h-14 border-t border-rule">
                    <th scope="row" className="py-1 font-semibold">
                      {called(group)}
                    </th>
                    {causes.map(({ name: cause, words: name }) => (
                      <td key={cause} className="px-1">
                        <Amount
                          label={`${called(group)}: ${name}`}
                          value={Math.round((shares[cause] ?? 0) * 1000) / 10}
                          onChange={(share) =>
                            setSet({
                              ...set,
                              shares: { ...set.shares, [group]: { ...shares, [cause]: share / 100 } },
                            })
                          }
                        />
                        {(habits.outcomes[group] ?? 0) >= 5 && (
                          <span className="block text-soft">
                            {Math.round((habits.used.shares[group]?.[cause] ?? 0) * 100)}
                          </span>
                        )}
                      </td>
                    ))}
                    <td>{habits.outcomes[group] ?? 0}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </section>
      </fieldset>
      <FormError problem={problem} />
      {said && <p role="status">{said}</p>}
      {isLead && (
        <button type="button" className="button" onClick={() => void save()}>
          <Trans>Set them</Trans>
        </button>
      )}
    </main>
  );
}

function Amount({
  label,
  value,
  onChange,
}: {
  label: string;
  value: number;
  onChange: (value: number) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <input
      className="field w-20 font-mono"
      inputMode="decimal"
      aria-label={label}
      value={typed ?? String(value)}
      onChange={(event) => {
        setTyped(event.target.value);
        const number = decimalOf(event.target.value);
        if (event.target.value.trim() && Number.isFinite(number)) onChange(number);
      }}
      onBlur={() => setTyped(null)}
    />
  );
}
