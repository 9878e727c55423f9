import { Trans } from "@lingui/react/macro";
import type { Ohms } from "../api/client";
import { moment } from "../shared/words";

interface GateProps {
  power: Ohms["power"];
  off: () => Promise<boolean>;
  mayWork: boolean;
}

/** Unplugged and discharged is confirmed before the first reading; power is never said by Enter or the pedal. */
export function Gate({ power, off, mayWork }: GateProps) {
  if (power?.state === "off")
    return (
      <p className="text-soft">
        <Trans>
          Unplugged and discharged: {power.by}, {moment(power.at)}
        </Trans>
      </p>
    );
  return (
    <section
      aria-labelledby="gate-title"
      className="border-l-8 border-next bg-next-wash px-4 py-3"
      data-testid="gate"
    >
      <h2 id="gate-title" className="text-2xl font-bold">
        <Trans>Before any probe touches it</Trans>
      </h2>
      <p className="mt-1">
        <Trans>
          Every plug out, the card out of its slot, the capacitors discharged. A cold reading on a powered
          card is wrong, and harms card and meter.
        </Trans>
      </p>
      {mayWork && (
        <button
          type="button"
          className="button mt-2"
          onKeyDown={(event) => event.key === "Enter" && event.preventDefault()}
          onClick={() => void off()}
        >
          <Trans>It is unplugged and discharged</Trans>
        </button>
      )}
    </section>
  );
}
