import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import type { ReactNode } from "react";
import type { BallMapData, Chips } from "../api/client";
import { Mark, VERDICTS } from "../ohms/Mark";
import { SAYS, type State } from "./useChips";

interface PeersTableProps {
  chips: Chips;
  state: State;
  signals: ReadonlyMap<string, string>;
  choose: (chip: string, pin: string) => void;
  /** the ball map's order of pins */
  order: readonly string[];
  /** the way back to the drawing */
  children: ReactNode;
}

/** Every pin that was read by every chip: the odd one carries its mark. */
export function PeersTable({ chips, state, signals, choose, order, children }: PeersTableProps) {
  const balls = chips.balls.filter((ball) => ball.state === state);
  const columns = [...new Set(balls.map((ball) => ball.chip))].sort(byName);
  const at = new Map(order.map((pin, index) => [pin, index]));
  const pins = [...new Set(balls.map((ball) => ball.pin))].sort(
    (name, other) => (at.get(name) ?? 999) - (at.get(other) ?? 999) || byName(name, other),
  );
  const cells = new Map(balls.map((ball) => [`${ball.chip} ${ball.pin}`, ball]));
  // millivolts in columns are compared at a glance
  const volts = balls.every((ball) => ball.quantity === "diode");
  if (balls.length === 0)
    return (
      <div className="p-8 text-center">
        <p className="mb-4 text-soft">
          <Trans>
            Nothing was read {SAYS[state]} yet. Choose a chip and read its data lines: from three chips on,
            the odd one shows.
          </Trans>
        </p>
        {children}
      </div>
    );
  return (
    <section aria-label={t`Same pin, other chip`} className="h-full overflow-auto bg-sheet p-4">
      <div className="flex items-center justify-between gap-4">
        <h2 className="font-bold text-xl">
          <Trans>Same pin, other chip, {SAYS[state]}</Trans>
          {volts && (
            <span className="font-normal text-base text-soft">
              {" "}
              <Trans>in millivolts</Trans>
            </span>
          )}
        </h2>
        {children}
      </div>
      <table className="mt-2 border-separate border-spacing-0 font-mono" data-testid="peers">
        <thead>
          <tr>
            <th className="sticky top-0 left-0 z-10 bg-sheet px-2 py-1 text-left">
              <Trans>pin</Trans>
            </th>
            {columns.map((chip) => (
              <th key={chip} scope="col" className="sticky top-0 bg-sheet px-2 py-1 text-right">
                {chip}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {pins.map((pin) => (
            <tr key={pin}>
              <th scope="row" className="sticky left-0 border-rule border-t bg-sheet px-2 text-left">
                {pin} <span className="font-normal text-soft">{signals.get(pin)}</span>
              </th>
              {columns.map((chip) => (
                <Cell key={chip} one={cells.get(`${chip} ${pin}`)} volts={volts} choose={choose} />
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Cell({
  one,
  volts,
  choose,
}: {
  one: Chips["balls"][number] | undefined;
  volts: boolean;
  choose: (chip: string, pin: string) => void;
}) {
  if (!one) return <td className="border-rule border-t" />;
  const said = volts && one.value != null ? (1000 * one.value).toFixed(0) : one.shown;
  const odd = one.verdict !== "within" && one.verdict !== "no-reference";
  return (
    <td className={`border-rule border-t p-0 text-right ${odd ? "bg-suspect-wash font-bold" : ""}`}>
      <button
        type="button"
        className="flex min-h-9 w-full items-center justify-end gap-1 px-2"
        onClick={() => choose(one.chip, one.pin)}
        aria-label={`${one.chip} ${one.pin} ${said}${volts ? " mV" : ""}, ${VERDICTS[one.verdict]}`}
      >
        {odd && <Mark verdict={one.verdict} size={16} />}
        {said}
      </button>
    </td>
  );
}

export function byName(one: string, other: string): number {
  return one.localeCompare(other, "en", { numeric: true });
}

/** Which signal each ball of a map carries. */
export function signalsOf(map: BallMapData | undefined): ReadonlyMap<string, string> {
  return new Map(map?.balls.map((ball) => [ball.ball, ball.signal]) ?? []);
}
