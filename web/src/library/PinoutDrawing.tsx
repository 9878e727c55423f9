import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import type { components } from "../api/schema";

export type Pinout = components["schemas"]["Pinout"];
type Pin = Pinout["pins"][number];

const ROOM = 92;
const PITCH = 30;
const LEAST = 60;

/** A small chip from above, pin 1 at the upper left; what each pin is for stands beside it. */
export function PinoutDrawing({ pinout }: { pinout: Pinout }) {
  const [left = 0, lower = 0, right = 0, upper = 0] = pinout.sides;
  const wide = Math.max(LEAST, Math.max(lower, upper) * PITCH);
  const high = Math.max(LEAST, Math.max(left, right) * PITCH);
  const tall = lower + upper > 0 ? ROOM : 14;
  const box = [wide + 2 * ROOM + 80, high + 2 * tall] as const;
  const middle = [box[0] / 2, box[1] / 2] as const;
  const at = (pin: Pin) => [middle[0] + (pin.x * wide) / 2, middle[1] - (pin.y * high) / 2] as const;
  return (
    <figure>
      <svg
        viewBox={`0 0 ${box[0]} ${box[1]}`}
        className="w-full max-w-md"
        role="img"
        aria-label={`${pinout.marking}: ${pinout.pins.map((pin) => t`pin ${pin.pin} ${pin.name} ${pin.use}`).join(", ")}`}
      >
        <rect
          x={middle[0] - wide / 2}
          y={middle[1] - high / 2}
          width={wide}
          height={high}
          className="fill-chip stroke-ink"
          strokeWidth={1.5}
        />
        <circle cx={middle[0] - wide / 2 + 9} cy={middle[1] - high / 2 + 9} r={3.5} className="fill-silk" />
        <text
          x={middle[0]}
          y={middle[1] + 5}
          textAnchor="middle"
          fontSize={15}
          className="fill-silk font-bold font-mono"
        >
          {pinout.marking}
        </text>
        {pinout.pins.map((pin) => (
          <Leg key={pin.pin} pin={pin} at={at(pin)} />
        ))}
      </svg>
      <figcaption className="text-soft">
        <Trans>
          {pinout.note}{" "}
          {pinout.pins
            .filter((pin) => pin.note)
            .map((pin) => t`Pin ${pin.pin}: ${pin.note}.`)
            .join(" ")}{" "}
          Noted by {pinout.by}
          {pinout.job ? t` on ${pinout.job}` : ""}, edition {pinout.edition}.
        </Trans>
      </figcaption>
    </figure>
  );
}

function Leg({ pin, at: [x, y] }: { pin: Pin; at: readonly [number, number] }) {
  const upright = pin.side === "lower" || pin.side === "upper";
  const out = pin.side === "left" || pin.side === "upper" ? -1 : 1;
  const [dx, dy] = upright ? [0, out * 16] : [out * 16, 0];
  const words = [pin.name, pin.use && pin.use !== pin.name.toLowerCase() ? pin.use : ""]
    .filter(Boolean)
    .join(", ");
  return (
    <g>
      <line x1={x} y1={y} x2={x + dx} y2={y + dy} className="stroke-ink" strokeWidth={5} />
      <text
        transform={
          upright ? `translate(${x + 4} ${y + out * 22}) rotate(-90)` : `translate(${x + out * 21} ${y + 5})`
        }
        textAnchor={(upright ? out > 0 : out < 0) ? "end" : "start"}
        fontSize={14}
        className={
          pin.use === "supply" || pin.use === "enable" || pin.use === "output"
            ? "fill-ink font-bold"
            : "fill-ink"
        }
      >
        {upright || out > 0 ? `${pin.pin} ${words}` : `${words} ${pin.pin}`}
      </text>
    </g>
  );
}
