import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, data, type Habits, type Problem } from "../api/client";
import { ACTIONS } from "../shared/actions";
import { Loading, Trouble } from "../shared/states";
import { useKinds } from "../shared/useKinds";
import { moment, times } from "../shared/words";
import { useSession } from "../signin/session";

type Set = Habits["set"];

const SCHOOLS = [
  ["reball-first", "Reball first", "A failing chip is reballed and tested again before a new one is spent."],
  [
    "replace-at-once",
    "Replace at once",
    "A failing chip is replaced; no second heat cycle for a doubtful one.",
  ],
  ["by-numbers", "By the numbers", "Whichever has the better chance for its minutes and risk."],
] as const;
/** The shop's own times, risks and shares behind what to try next; what its outcomes taught stands beside. */
export function HabitsPage() {
  const habits = useQuery({
    queryKey: ["habits"],
    queryFn: async () => data(await api.GET("/api/v1/habits")),
  });
  const [said, setSaid] = useState("");
  if (habits.isPending) return <Loading what="Reading times and chances" />;
  if (habits.isError) return <Trouble problem={habits.error} again={() => habits.refetch()} />;
  return <HabitsForm key={habits.data.at ?? "usual"} habits={habits.data} said={said} say={setSaid} />;
}

interface HabitsFormProps {
  habits: Habits;
  said: string;
  say: (said: string) => void;
}

function HabitsForm({ habits, said, say }: HabitsFormProps) {
  const [set, setSet] = useState<Set>(habits.set);
  const [problem, setProblem] = useState<Problem | null>(null);
  const session = useSession();
  const isLead = session.data?.person?.role === "lead";
  const queries = useQueryClient();
  const save = async () => {
    setProblem(null);
    say("");
    try {
      data(await api.PUT("/api/v1/habits", { body: set }));
      await queries.invalidateQueries();
      say("Kept. Every job’s next step counts with it now.");
    } catch (error) {
      setProblem(error as Problem);
    }
  };
  const { causes, groups } = useKinds();
  const called = (name: string) => groups.find((group) => group.name === name)?.words ?? name;
  return (
    <main className="max-w-6xl space-y-6 p-6">
      <header>
        <Link className="button-plain -ml-2" to="/library">
          Library
        </Link>
        <h1 className="text-3xl font-bold">What to try next: times and chances</h1>
        <p className="text-soft">
          {habits.at
            ? `Set by ${habits.by}, ${moment(habits.at)}.`
            : "Usual practice’s orders of magnitude; nobody has set the shop’s own yet."}{" "}
          {!isLead && "The lead sets them."}
        </p>
      </header>
      <fieldset disabled={!isLead} className="space-y-6">
        <fieldset>
          <legend className="text-xl font-bold">School</legend>
          {SCHOOLS.map(([word, name, says]) => (
            <label key={word} className="flex min-h-11 items-center gap-3">
              <input
                type="radio"
                name="school"
                className="size-5"
                checked={set.school === word}
                onChange={() => setSet({ ...set, school: word })}
              />
              <span>
                <strong>{name}.</strong> {says}
              </span>
            </label>
          ))}
        </fieldset>
        <section>
          <h2 className="text-xl font-bold">Minutes and risk</h2>
          <table className="w-full text-left">
            <thead className="text-soft">
              <tr>
                <th className="font-normal">Action</th>
                <th className="font-normal">Minutes, set</th>
                <th className="font-normal">Done here</th>
                <th className="font-normal">Minutes, used</th>
                <th className="font-normal">Does harm, % of times</th>
              </tr>
            </thead>
            <tbody>
              {Object.entries(set.costs).map(([name, cost]) => (
                <tr key={name} className="h-14 border-t border-rule">
                  <th scope="row" className="py-2 font-semibold">
                    {ACTIONS[name] ?? name}
                  </th>
                  <td>
                    <Amount
                      label={`Minutes of ${ACTIONS[name] ?? name}`}
                      value={cost.minutes}
                      set={(minutes) =>
                        setSet({ ...set, costs: { ...set.costs, [name]: { ...cost, minutes } } })
                      }
                    />
                  </td>
                  <td>{times(habits.timed[name] ?? 0)}</td>
                  <td>{habits.used.costs[name]?.minutes}</td>
                  <td>
                    <Amount
                      label={`Risk of ${ACTIONS[name] ?? name}`}
                      value={Math.round(cost.risk * 1000) / 10}
                      set={(share) =>
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
              A harm costs, in minutes of work
              <Amount
                label="A harm costs"
                value={set.harm_minutes}
                set={(harm_minutes) => setSet({ ...set, harm_minutes })}
              />
            </p>
            <p className="flex items-center gap-2">
              A new chip costs, in minutes of work
              <Amount
                label="A new chip costs"
                value={set.part_minutes}
                set={(part_minutes) => setSet({ ...set, part_minutes })}
              />
            </p>
          </div>
        </section>
        <section>
          <h2 className="text-xl font-bold">What is behind it, in % of times</h2>
          <p className="text-soft">
            Set by the lead; from five own outcomes of a row on, what is used leans on them (second figure).
          </p>
          <div className="overflow-x-auto">
            <table className="w-full text-left">
              <thead className="text-soft">
                <tr>
                  <th className="font-normal">Finding</th>
                  {causes.map(({ name: cause, words: name }) => (
                    <th key={cause} className="px-1 font-normal">
                      {name}
                    </th>
                  ))}
                  <th className="font-normal">outcomes</th>
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
                          set={(share) =>
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
      {problem && (
        <p role="alert" className="border-l-4 border-suspect pl-3">
          {problem.message} What you entered is kept here.
        </p>
      )}
      {said && <p role="status">{said}</p>}
      {isLead && (
        <button type="button" className="button" onClick={() => void save()}>
          Set them
        </button>
      )}
    </main>
  );
}

function Amount({ label, value, set }: { label: string; value: number; set: (value: number) => void }) {
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <input
      className="field w-20 font-mono"
      inputMode="decimal"
      aria-label={label}
      value={typed ?? String(value)}
      onChange={(event) => {
        setTyped(event.target.value);
        const number = Number(event.target.value.replace(",", "."));
        if (event.target.value.trim() && Number.isFinite(number)) set(number);
      }}
      onBlur={() => setTyped(null)}
    />
  );
}
