import { useQuery } from "@tanstack/react-query";
import { Circle, CircleCheck, CircleMinus } from "lucide-react";
import { type ReactNode, useState } from "react";
import { Link } from "react-router";
import { api, data } from "../api/client";
import { ReturnSettings } from "../library/ReturnSettings";
import { Money } from "../people/Money";
import { Loading, Trouble } from "../shared/states";
import { many } from "../shared/words";

const SKIPPED = "uvrix.setup.skipped";

/** The first hour of a new shop: four steps, each of which can be skipped and done later elsewhere. */
export function SetupPage() {
  const setup = useQuery({
    queryKey: ["setup"],
    staleTime: 0,
    queryFn: async () => data(await api.GET("/api/v1/setup")),
  });
  const [skipped, setSkipped] = useState<string[]>(() =>
    (localStorage.getItem(SKIPPED) ?? "").split(" ").filter(Boolean),
  );
  if (setup.isError) return <Trouble problem={setup.error} again={() => setup.refetch()} />;
  if (!setup.data) return <Loading what="Looking what is there" />;
  const { money, others, board_models, jobs } = setup.data;
  const skip = (name: string) => {
    const next = skipped.includes(name) ? skipped.filter((one) => one !== name) : [...skipped, name];
    localStorage.setItem(SKIPPED, next.join(" "));
    setSkipped(next);
  };
  const steps: SetupStepProps[] = [
    {
      name: "money",
      title: "Money and warranty",
      done: money && "set",
      later: "People › Money, Library › Proof protocol",
      children: (
        <>
          <p className="mb-2">
            By these Uvrix says when a repair costs more than the card is worth. The figures shown are where
            it starts, not advice.
          </p>
          <ReturnSettings />
          <div className="mt-4">
            <Money />
          </div>
        </>
      ),
    },
    {
      name: "people",
      title: "Who works here",
      done: others > 0 && (others === 1 ? "you and one other" : `you and ${others} others`),
      later: "People",
      children: (
        <p>
          Invite a technician or somebody for the front desk: each gets a link that serves once.{" "}
          <Link className="button-plain" to="/people">
            Invite people
          </Link>
        </p>
      ),
    },
    {
      name: "board",
      title: "The first board",
      done: board_models > 0 && many(board_models, "board model"),
      later: "Library",
      children: (
        <ul className="list-disc space-y-1 pl-5">
          <li>
            A pack from another shop or a board file:{" "}
            <Link className="button-plain" to="/library/pack">
              take in a pack
            </Link>
            ,{" "}
            <Link className="button-plain" to="/library">
              import a board
            </Link>
            .
          </li>
          <li>
            A photograph, straight from above:{" "}
            <Link className="button-plain" to="/library/new">
              draw it in five minutes
            </Link>
            .
          </li>
          <li>
            Nothing at hand: skip this. A card whose board nobody has drawn is worked on by its photographs
            and a{" "}
            <Link className="button-plain" to="/library/plans">
              bench plan
            </Link>
            ; what it teaches is kept for the next one.
          </li>
        </ul>
      ),
    },
    {
      name: "job",
      title: "The first job",
      done: jobs > 0 && many(jobs, "job"),
      later: "Shelf › New job",
      children: (
        <p>
          A serial, the customer’s name and what they say is enough.{" "}
          <Link className="button-plain" to="/jobs/new">
            Open the first job
          </Link>
        </p>
      ),
    },
  ];
  const open = steps.find((step) => !step.done && !skipped.includes(step.name));
  return (
    <main className="max-w-4xl space-y-3 p-6">
      <h1 className="text-3xl font-bold">Set up the shop</h1>
      <p className="text-soft">Four steps, under ten minutes. Each can be skipped and done later.</p>
      <ol>
        {steps.map((step) => (
          <SetupStep
            key={step.name}
            {...step}
            open={step === open}
            skipped={skipped.includes(step.name)}
            skip={() => skip(step.name)}
          />
        ))}
      </ol>
      {!open && (
        <p role="status" className="text-lg">
          That is all.{" "}
          <Link className="button-plain" to="/shelf">
            To the shelf
          </Link>
        </p>
      )}
    </main>
  );
}

interface SetupStepProps {
  name: string;
  title: string;
  /** what there is of it, where it is done */
  done: string | false;
  /** where it is done later */
  later: string;
  children: ReactNode;
}

function SetupStep({
  title,
  done,
  later,
  children,
  open,
  skipped,
  skip,
}: SetupStepProps & { open: boolean; skipped: boolean; skip: () => void }) {
  const Sign = done ? CircleCheck : skipped ? CircleMinus : Circle;
  const [wanted, setWanted] = useState(false);
  const shown = open || wanted;
  return (
    <li className={`border-t border-rule py-3 ${open ? "border-l-8 border-l-next bg-sheet pl-4" : "pl-6"}`}>
      <div className="flex min-h-11 items-center gap-3">
        <Sign aria-hidden className={done ? "text-good" : "text-soft"} />
        <h2 className="text-xl font-bold">{title}</h2>
        <span className="text-soft">{done || (skipped ? `skipped; later: ${later}` : "")}</span>
        {!open && (
          <button type="button" className="button-plain ml-auto" onClick={() => setWanted(!wanted)}>
            {wanted ? "Close" : "Open"}
          </button>
        )}
        {!done && (open || skipped) && (
          <button type="button" className={`button ${open ? "ml-auto" : ""}`} onClick={skip}>
            {skipped ? "Do it after all" : "Skip"}
          </button>
        )}
      </div>
      {shown && <div className="mt-2 max-w-3xl">{children}</div>}
    </li>
  );
}
