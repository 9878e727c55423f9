import { memo } from "react";
import { centre, placed, points } from "./view";

interface ThumbProps {
  width_mm: number;
  height_mm: number;
  matrix: number[];
  outline: number[][];
  core: number[][];
  sites: { designator: string; side: string; fitted: boolean; corners: number[][] }[];
  suspects: readonly string[];
  marked?: string | null;
  /** where something was seen at Look, in the model’s millimetres */
  seen?: number[][];
  /** share of errors by designator: draws every chip with errors, the more the fuller */
  shares?: Readonly<Record<string, number>>;
  side?: string;
  /** whether suspects bear their names */
  named?: boolean;
  className?: string;
}

/** A small board: what is suspect is lit, what is marked carries a ring. */
export const Thumb = memo(function Thumb(props: ThumbProps) {
  const { sites, suspects, marked, shares, side = "front" } = props;
  const shown = sites.filter((site) => site.side === side || suspects.includes(site.designator));
  return (
    <svg
      viewBox={`-3 -3 ${props.width_mm + 6} ${props.height_mm + 6}`}
      className={props.className}
      aria-hidden="true"
    >
      <g transform={`matrix(${props.matrix.join(" ")})`}>
        <polygon points={points(props.outline)} className="fill-board" />
        <polygon points={points(props.core)} className="fill-chip" />
        {shown.map((site) => {
          const lit = suspects.includes(site.designator);
          const share = shares?.[site.designator] ?? 0;
          const fill = lit ? "fill-lit" : site.fitted ? "fill-chip" : "fill-none stroke-silk-soft";
          return (
            <g key={site.designator}>
              <polygon points={points(site.corners)} className={fill} strokeWidth={1} />
              {!lit && share > 0 && (
                <polygon points={points(site.corners)} className="fill-lit" opacity={0.25 + 0.5 * share} />
              )}
              {marked === site.designator && (
                <polygon points={points(site.corners)} className="fill-none stroke-silk" strokeWidth={3} />
              )}
            </g>
          );
        })}
        {props.seen?.map((at) => (
          <circle
            key={at.join(" ")}
            cx={at[0]}
            cy={at[1]}
            r={6}
            className="fill-none stroke-lit"
            strokeWidth={3}
          />
        ))}
      </g>
      {props.named &&
        shown
          .filter((site) => suspects.includes(site.designator))
          .map((site) => {
            const [x, y] = placed(props, centre(site.corners));
            return (
              <text
                key={site.designator}
                x={x}
                y={y + 3}
                fontSize={9}
                textAnchor="middle"
                className="fill-chip font-bold font-mono"
              >
                {site.designator}
              </text>
            );
          })}
    </svg>
  );
});
