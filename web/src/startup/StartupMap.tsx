import { t } from "@lingui/core/macro";
import { useEffect, useRef } from "react";
import type { MapNode } from "../api/client";
import { useCodeWords } from "../shared/useKinds";

/** A node as drawn; what was read of it, where it is a card's. */
type Node = MapNode & { state?: "present" | "missing" | "unknown"; over?: boolean; shown?: string };

interface StartupMapProps {
  map: { columns: number; rows: number; nodes: readonly Node[] };
  /** the likeliest to be dead, first */
  suspects: readonly { node: string; chance: number }[];
  turn: string | null;
  choose: (node: string) => void;
}

const WIDE = 164;
const HIGH = 66;
const BOX = { wide: 138, high: 46 };
/** So many signs of a name fit a box. */
const LONGEST = 19;

/** Left to right in the order of start: a shape a kind, state by mark and word, suspects numbered, the next one ringed. */
export function StartupMap({ map, suspects, turn, choose }: StartupMapProps) {
  const svg = useRef<SVGSVGElement>(null);
  // the node in turn is brought into sight, as the map of a real board is wider than the pane
  useEffect(() => {
    const node = turn && svg.current?.querySelector(`[data-node="${CSS.escape(turn)}"]`);
    if (!node) return;
    node.scrollIntoView({ block: "nearest", inline: "center" });
    // arrows walk on from the node that has the focus
    if (node instanceof SVGElement && svg.current?.contains(document.activeElement)) node.focus();
  }, [turn]);
  const places = new Map(map.nodes.map((node) => [node.id, at(node)]));
  const rank = new Map(
    suspects
      .filter((suspect) => suspect.chance >= 0.02)
      .slice(0, 5)
      .map((suspect, number) => [suspect.node, number + 1]),
  );
  return (
    // biome-ignore lint/a11y/useSemanticElements: a drawing has no fieldset
    <svg
      ref={svg}
      viewBox={`0 0 ${map.columns * WIDE + 10} ${map.rows * HIGH + 16}`}
      width={map.columns * WIDE + 10}
      height={map.rows * HIGH + 16}
      className="max-w-none select-none"
      role="group"
      aria-label={t`Nodes in the order of start`}
    >
      {map.nodes.flatMap((node) =>
        node.needs.map((need) => {
          const from = places.get(need);
          const to = places.get(node.id);
          if (!from || !to) return null;
          const [x, y] = [from[0] + BOX.wide / 2, from[1]];
          const [u, v] = [to[0] - BOX.wide / 2, to[1]];
          const bend = Math.max(12, (u - x) / 2);
          return (
            <path
              key={`${need} ${node.id}`}
              d={`M${x} ${y}C${x + bend} ${y} ${u - bend} ${v} ${u} ${v}`}
              className="fill-none stroke-edge"
              strokeWidth={turn === node.id || turn === need ? 2.4 : 1.2}
            />
          );
        }),
      )}
      {map.nodes.map((node) => (
        <OneNode
          key={node.id}
          node={node}
          at={places.get(node.id) ?? [0, 0]}
          turn={node.id === turn}
          rank={rank.get(node.id)}
          choose={choose}
          step={(by) => {
            const next =
              by < 0 ? node.needs[0] : map.nodes.find((entry) => entry.needs.includes(node.id))?.id;
            if (next) choose(next);
          }}
          stop={node.id === (turn ?? map.nodes[0]?.id)}
        />
      ))}
    </svg>
  );
}

function at(node: Node): readonly [number, number] {
  return [node.column * WIDE + WIDE / 2 + 5, node.row * HIGH + HIGH / 2 + 8];
}

const { wide, high } = BOX;
/** The outline of each kind, round its middle. */
const SHAPES: Record<Node["kind"], string> = {
  input: `M${-wide / 2} ${-high / 2}H${wide / 2 - 12}L${wide / 2} 0L${wide / 2 - 12} ${high / 2}H${-wide / 2}z`,
  rail: `M${-wide / 2} ${-high / 2}H${wide / 2}V${high / 2}H${-wide / 2}z`,
  signal: `M${-wide / 2 + 9} ${-high / 2}H${wide / 2 - 9}L${wide / 2} 0L${wide / 2 - 9} ${high / 2}H${-wide / 2 + 9}L${-wide / 2} 0z`,
  clock: `M${-wide / 2 + 20} ${-high / 2}H${wide / 2 - 20}a20 20 0 0 1 0 ${high}H${-wide / 2 + 20}a20 20 0 0 1 0 ${-high}z`,
  draw: `M${-wide / 2 + 10} ${-high / 2}H${wide / 2}L${wide / 2 - 10} ${high / 2}H${-wide / 2}z`,
};
const MARKS: Record<"present" | "missing" | "unknown", string> = {
  present: "M3 8.5L6.5 12L13 4.5",
  missing: "M2 8H6M10 8H14M6 4.5V11.5M10 4.5V11.5",
  unknown: "",
};

interface OneNodeProps {
  node: Node;
  at: readonly [number, number];
  turn: boolean;
  rank: number | undefined;
  choose: (node: string) => void;
  /** to what it needs (-1), or to what needs it (1) */
  step: (by: -1 | 1) => void;
  /** the one that the tab key comes to; arrows go on from there */
  stop: boolean;
}

function OneNode({ node, at: [x, y], turn, rank, choose, step, stop }: OneNodeProps) {
  const codeWords = useCodeWords();
  const { state } = node;
  const missing = state === "missing";
  const word = node.over ? t`above` : state === "unknown" ? t`not read` : codeWords(state ?? node.id);
  return (
    // biome-ignore lint/a11y/useSemanticElements: inside a drawing there is no button
    <g
      transform={`translate(${x} ${y})`}
      className="cursor-pointer"
      role="button"
      tabIndex={stop ? 0 : -1}
      onKeyDown={(event) => {
        if (event.key === "Enter") choose(node.id);
        if (event.key === "ArrowLeft" || event.key === "ArrowRight") {
          event.preventDefault();
          event.stopPropagation();
          step(event.key === "ArrowLeft" ? -1 : 1);
        }
      }}
      data-node={node.id}
      data-state={state}
      onClick={() => choose(node.id)}
    >
      <path
        d={SHAPES[node.kind]}
        className={missing ? "fill-suspect-wash stroke-suspect" : "fill-sheet stroke-ink"}
        strokeWidth={missing ? 2 : 1.4}
        strokeDasharray={state === "unknown" ? "5 3" : undefined}
      />
      <text y={-4} fontSize={14} textAnchor="middle" className="fill-ink font-bold">
        {node.name.length > LONGEST ? `${node.name.slice(0, LONGEST - 1)}…` : node.name}
      </text>
      <g transform="translate(-52 3) scale(0.95)">
        <path
          d={MARKS[state ?? "unknown"]}
          className={`fill-none ${missing ? "stroke-suspect" : "stroke-good"}`}
          strokeWidth={2}
          strokeLinecap="round"
          strokeLinejoin="round"
        />
      </g>
      <text
        y={15}
        x={state === "present" || missing ? -34 : 0}
        fontSize={13}
        textAnchor={state === "present" || missing ? "start" : "middle"}
        className={missing ? "fill-suspect" : "fill-soft"}
      >
        {node.shown ? `${node.shown} ${word}` : word}
      </text>
      {rank !== undefined && (
        <g transform={`translate(${wide / 2 - 8} ${-high / 2})`}>
          <path d="M0 4V-12H20L16 -7L20 -2H0" className="fill-sheet stroke-suspect" strokeWidth={1.4} />
          <text x={8} y={-3} fontSize={11} textAnchor="middle" className="fill-suspect font-bold font-mono">
            {rank}
          </text>
        </g>
      )}
      {turn && (
        <rect
          x={-wide / 2 - 5}
          y={-high / 2 - 5}
          width={wide + 10}
          height={high + 10}
          rx={8}
          className="fill-none stroke-next"
          strokeWidth={3}
        />
      )}
    </g>
  );
}
