import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import type { Drawing, Run, SiteShape } from "../api/client";
import { ordinal } from "../shared/words";

interface RibbonProps {
  drawing: Drawing;
  runs: Run[];
  site: SiteShape;
  choose: (designator: string) => void;
}

const WIDTH = 500;
const TOP = 30;
const GAP = 56;

/** The channels as the report lists them, as they lie round the board, and the lines between. */
export function Ribbon({ drawing, runs, site, choose }: RibbonProps) {
  const round = drawing.sites.filter((entry) => entry.side === "front");
  const listed = reportOrder(drawing, runs);
  if (round.length < 2 || !site.channel) return null;
  const step = WIDTH / Math.max(round.length, listed.length);
  const at = (index: number) => step * (index + 0.5);
  const place = round.findIndex((entry) => entry.channel === site.channel);
  const rank = listed.indexOf(site.channel);
  const half = Math.min(step * 0.46, 30);
  return (
    <section aria-labelledby="ribbon-title">
      <h3 id="ribbon-title" className="text-lg font-bold">
        <Trans>Report order, board order</Trans>
      </h3>
      <p className="mb-1" data-testid="orders">
        <Trans>
          <strong>{site.channel}</strong> is{" "}
          {rank >= 0 ? t`${ordinal(rank + 1)} in the report` : t`not in the report`},{" "}
          {ordinal(site.position ?? place + 1)} round the board
          {drawing.walk ? `, ${fromWords(drawing.walk)}` : ""}.
        </Trans>
      </p>
      <p className="text-soft">
        <Trans>above as the report lists them, below as they lie</Trans>
      </p>
      <svg
        viewBox={`0 0 ${WIDTH} ${TOP + GAP + 2}`}
        className="w-full"
        role="img"
        aria-label={t`Report order ${listed.join(" ")}`}
      >
        {listed.map((name, index) => {
          const target = round.findIndex((entry) => entry.channel === name);
          if (target < 0) return null;
          const heavy = name === site.channel;
          return (
            <path
              key={`line ${name}`}
              d={`M${at(index)} ${TOP}C${at(index)} ${TOP + GAP / 2} ${at(target)} ${TOP + GAP / 2} ${at(target)} ${TOP + GAP}`}
              className={heavy ? "fill-none stroke-suspect" : "fill-none stroke-edge"}
              strokeWidth={heavy ? 5 : 1.3}
            />
          );
        })}
        {listed.map((name, index) => (
          <g key={name}>
            <rect
              x={at(index) - half}
              y={1}
              width={half * 2}
              height={TOP - 2}
              rx={4}
              className={
                name === site.channel ? "fill-suspect-wash stroke-suspect" : "fill-sheet stroke-edge"
              }
              strokeWidth={name === site.channel ? 2.5 : 1}
            />
            <text
              x={at(index)}
              y={TOP / 2 + 6}
              textAnchor="middle"
              fontSize={17}
              className="fill-ink font-mono"
              fontWeight={name === site.channel ? 700 : 400}
            >
              {name}
            </text>
          </g>
        ))}
      </svg>
      <div>
        <ul className="flex" aria-label={t`Chips as they lie round the core`}>
          {round.map((entry) => (
            <Place
              key={entry.designator}
              site={entry}
              twins={drawing.sites.filter(
                (twin) =>
                  twin.side === "back" && twin.position === entry.position && twin.channel === entry.channel,
              )}
              chosen={site}
              choose={choose}
              small={round.length > 8}
            />
          ))}
        </ul>
      </div>
    </section>
  );
}

interface PlaceProps {
  site: SiteShape;
  twins: SiteShape[];
  chosen: SiteShape;
  choose: (designator: string) => void;
  small: boolean;
}

function Place({ site, twins, chosen, choose, small }: PlaceProps) {
  return (
    <li className="min-w-0 flex-1 px-0.5">
      {[site, ...twins].map((twin) => {
        const heavy = twin.designator === chosen.designator;
        return (
          <button
            key={twin.designator}
            type="button"
            aria-pressed={heavy}
            disabled={!twin.fitted}
            onClick={() => choose(twin.designator)}
            className={`block w-full rounded border py-1 text-center font-mono ${small ? "text-[13px]" : "text-base"} ${heavy ? "border-2 border-suspect bg-suspect-wash font-bold" : "border-edge"} ${twin.fitted ? "" : "border-dashed text-soft"}`}
          >
            {twin.designator}
          </button>
        );
      })}
      <p className="text-center font-mono text-soft">
        {site.fitted || twins.some((twin) => twin.fitted) ? (site.channel ?? "?") : t`empty`}
      </p>
    </li>
  );
}

/** A tally lists its channels; other reports come in any order and are read by name. */
function reportOrder(drawing: Drawing, runs: Run[]): string[] {
  const tally = runs.find((run) => run.channels.length > 0);
  const fitted = drawing.sites.filter((site) => site.fitted && site.channel);
  const names = new Set(fitted.map((site) => site.channel as string));
  if (tally) return [...new Set([...tally.channels.filter((name) => names.has(name)), ...names])];
  return [...names].sort((name, other) => name.localeCompare(other, "en", { numeric: true }));
}

function fromWords(walk: NonNullable<Drawing["walk"]>): string {
  const from: Record<string, string> = {
    mark: t`from the core’s mark`,
    "opposite-mark": t`from the corner opposite the core’s mark`,
    "mark+1": t`from one corner counterclockwise of the core’s mark`,
    "mark-1": t`from one corner clockwise of the core’s mark`,
  };
  return t`counted ${walk.direction} ${from[walk.start] ?? ""}`;
}
