import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { Circle, CircleCheck, CircleMinus } from "lucide-react";
import { type ReactNode, useState } from "react";
import { Link } from "react-router";
import { ReturnSettings } from "../library/ReturnSettings";
import { Money } from "../people/Money";
import { setupQuery } from "../queries/shop";
import { LoadError, Loading } from "../shared/states";

const SKIPPED = "uvrix.setup.skipped";

/** The first hour of a new shop: four steps, each of which can be skipped and done later elsewhere. */
export function SetupPage() {
  const setup = useQuery(setupQuery());
  const [skipped, setSkipped] = useState<string[]>(() =>
    (localStorage.getItem(SKIPPED) ?? "").split(" ").filter(Boolean),
  );
  if (setup.isError) return <LoadError problem={setup.error} again={() => setup.refetch()} />;
  if (!setup.data) return <Loading what={t`Looking what is there`} />;
  const { money, others, board_models, jobs } = setup.data;
  const skip = (name: string) => {
    const next = skipped.includes(name) ? skipped.filter((word) => word !== name) : [...skipped, name];
    localStorage.setItem(SKIPPED, next.join(" "));
    setSkipped(next);
  };
  const steps: SetupStepProps[] = [
    {
      name: "money",
      title: t`Money and warranty`,
      done: money && "set",
      later: t`People › Money, Library › Proof protocol`,
      children: (
        <>
          <p className="mb-2">
            <Trans>
              By these Uvrix says when a repair costs more than the card is worth. The figures shown are where
              it starts, not advice.
            </Trans>
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
      title: t`Who works here`,
      done: others > 0 && (others === 1 ? t`you and one other` : t`you and ${others} others`),
      later: t`People`,
      children: (
        <p>
          <Trans>
            Invite a technician or somebody for the front desk: each gets a link that serves once.{" "}
            <Link className="button-plain" to="/people">
              Invite people
            </Link>
          </Trans>
        </p>
      ),
    },
    {
      name: "board",
      title: t`The first board`,
      done: board_models > 0 && plural(board_models, { one: "# board model", other: "# board models" }),
      later: t`Library`,
      children: (
        <ul className="list-disc space-y-1 pl-5">
          <li>
            <Trans>
              A pack from another shop or a board file:{" "}
              <Link className="button-plain" to="/library/pack">
                take in a pack
              </Link>
              ,{" "}
              <Link className="button-plain" to="/library">
                import a board
              </Link>
              .
            </Trans>
          </li>
          <li>
            <Trans>
              A photograph, straight from above:{" "}
              <Link className="button-plain" to="/library/new">
                draw it in five minutes
              </Link>
              .
            </Trans>
          </li>
          <li>
            <Trans>
              Nothing at hand: skip this. A card whose board nobody has drawn is worked on by its photographs
              and a{" "}
              <Link className="button-plain" to="/library/plans">
                bench plan
              </Link>
              ; what it teaches is kept for the next one.
            </Trans>
          </li>
        </ul>
      ),
    },
    {
      name: "job",
      title: t`The first job`,
      done: jobs > 0 && plural(jobs, { one: "# job", other: "# jobs" }),
      later: t`Shelf › New job`,
      children: (
        <p>
          <Trans>
            A serial, the customer’s name and what they say is enough.{" "}
            <Link className="button-plain" to="/jobs/new">
              Open the first job
            </Link>
          </Trans>
        </p>
      ),
    },
  ];
  const open = steps.find((step) => !step.done && !skipped.includes(step.name));
  return (
    <main className="max-w-4xl space-y-3 p-6">
      <h1 className="text-3xl font-bold">
        <Trans>Set up the shop</Trans>
      </h1>
      <p className="text-soft">
        <Trans>Four steps, under ten minutes. Each can be skipped and done later.</Trans>
      </p>
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
          <Trans>
            That is all.{" "}
            <Link className="button-plain" to="/shelf">
              To the shelf
            </Link>
          </Trans>
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
        <span className="text-soft">{done || (skipped ? t`skipped; later: ${later}` : "")}</span>
        {!open && (
          <button type="button" className="button-plain ml-auto" onClick={() => setWanted(!wanted)}>
            {wanted ? t`Close` : t`Open`}
          </button>
        )}
        {!done && (open || skipped) && (
          <button type="button" className={`button ${open ? "ml-auto" : ""}`} onClick={skip}>
            {skipped ? t`Do it after all` : t`Skip`}
          </button>
        )}
      </div>
      {shown && <div className="mt-2 max-w-3xl">{children}</div>}
    </li>
  );
}
