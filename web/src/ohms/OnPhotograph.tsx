import type { Ohms } from "../api/client";

interface OnPhotographProps {
  ohms: Ohms;
  sha256: string;
  chosen: string | null;
  size: number;
}

/** The points clicked on a photograph, where nobody has drawn the board. */
export function OnPhotograph({ ohms, sha256, chosen, size }: OnPhotographProps) {
  return ohms.points
    .filter((one) => one.picture === sha256)
    .map((one) => (
      <g key={one.name} transform={`translate(${one.x_px} ${one.y_px})`} pointerEvents="none">
        <circle
          r={size}
          className={`fill-none ${one.name === chosen ? "stroke-lit-next" : "stroke-silk"}`}
          strokeWidth={size / 4}
        />
        <text
          y={-size * 1.3}
          fontSize={size * 1.5}
          textAnchor="middle"
          className="fill-silk stroke-chip font-mono font-bold"
          strokeWidth={size / 10}
          paintOrder="stroke"
        >
          {one.name}
        </text>
      </g>
    ));
}
