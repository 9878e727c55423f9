import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import type { Chips } from "../api/client";
import { Mark } from "../ohms/Mark";

interface OddBallsProps {
  chips: Chips;
  choose: (chip: string, pin: string) => void;
}

/** What stands out, chip by chip: what to lift, and what lifting said. */
export function OddBalls({ chips, choose }: OddBallsProps) {
  if (chips.odd.length === 0 && chips.split.length === 0 && chips.strangers.length === 0)
    return chips.balls.length === 0 ? null : (
      <p className="text-soft">
        <Trans>Nothing stands out so far.</Trans>
      </p>
    );
  return (
    <section aria-labelledby="odd-title" data-testid="odd">
      <h3 id="odd-title" className="text-lg font-bold">
        <Trans>What stands out</Trans>
      </h3>
      {chips.strangers.map((label) => (
        <p key={label} className="mt-1 border-l-4 border-suspect pl-3">
          {label}
        </p>
      ))}
      {chips.split.length > 0 && (
        <ul aria-label={t`Balls in two groups`}>
          {chips.split.map((entry) => (
            <li key={entry.pin} className="border-rule border-t py-2">
              <p className="flex flex-wrap items-baseline gap-x-3">
                <strong className="font-mono text-lg">
                  {entry.pin} {entry.signal}
                </strong>
                {entry.groups.map((group) => (
                  <span key={group.shown}>
                    <Trans>
                      <strong className="font-mono">{group.shown}</strong> at{" "}
                    </Trans>
                    {group.chips.map((chip) => (
                      <button
                        key={chip}
                        type="button"
                        className="button-plain px-1 font-mono"
                        onClick={() => choose(chip, entry.pin)}
                      >
                        {chip}
                      </button>
                    ))}
                  </span>
                ))}
              </p>
              <p>{entry.why}</p>
              <AfterLifting lifted={entry.lifted} choose={(chip) => choose(chip, entry.pin)} />
            </li>
          ))}
        </ul>
      )}
      <ul aria-label={t`Odd balls`}>
        {chips.odd.map((entry) => (
          <li key={`${entry.pin} ${entry.chips.join(" ")}`} className="border-rule border-t py-2">
            <p className="flex flex-wrap items-baseline gap-x-3">
              <Mark verdict={entry.verdict} size={18} />
              <strong className="font-mono text-lg">
                {entry.pin} {entry.signal}
              </strong>
              <span>
                <Trans>
                  <strong className="font-mono">{entry.shown}</strong> at {entry.chips.join(" and ")}, the
                  others <span className="font-mono">{entry.peers}</span>
                </Trans>
              </span>
            </p>
            {entry.shared && (
              <p>
                <Trans>
                  {entry.chips.join(" and ")} read alike: a line that they share. Lift one, measure the other
                  again.
                </Trans>
              </p>
            )}
            <AfterLifting lifted={entry.lifted} choose={(chip) => choose(chip, entry.pin)} />
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What became of a value once its chip was lifted, or what to lift. */
function AfterLifting({
  lifted,
  choose,
}: {
  lifted: Chips["odd"][number]["lifted"];
  choose: (chip: string) => void;
}) {
  return lifted.map((each) => (
    <p key={each.chip} data-answer={each.answer}>
      <button type="button" className="button-plain -ml-2" onClick={() => choose(each.chip)}>
        {each.chip}
      </button>{" "}
      <strong>{each.words}.</strong> {each.says}
    </p>
  ));
}
