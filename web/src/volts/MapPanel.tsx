import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { Link } from "react-router";
import type { JobDetail, Volts } from "../api/client";
import { Mark } from "../ohms/Mark";
import { Power } from "./Power";
import { TryPart } from "./TryPart";
import type { Node, Powering } from "./useVolts";
import { VoltField } from "./VoltField";

interface MapPanelProps {
  job: JobDetail;
  volts: Volts;
  node: Node | undefined;
  powering: Powering;
  choose: (node: string | null) => void;
  /** keeps a node in turn whatever comes */
  stay: (node: string) => void;
  mayWork: boolean;
}

export function MapPanel({ job, volts, node, powering, choose, stay, mayWork }: MapPanelProps) {
  const on = volts.power && volts.power.state !== "off";
  const probe = volts.next.find((entry) => entry.node === node?.id);
  const { said } = powering;
  return (
    <>
      {!on && <Power volts={volts} powering={powering} here={!job.left} mayWork={mayWork} />}
      {volts.warnings.map((warning) => (
        <p
          key={warning}
          className={`border-l-4 pl-3 ${warning.includes("switch off") ? "border-suspect font-bold" : "border-edge"}`}
        >
          {warning}
        </p>
      ))}
      {volts.clocks.map((clock) => (
        <p key={clock.node} className="border-edge border-l-4 pl-3" data-testid="clock-says">
          {clock.says}{" "}
          {clock.lift_core && (
            <Link className="button-plain" to={`/jobs/${job.number}/rework/pads/core`}>
              <Trans>Survey the core’s pads</Trans>
            </Link>
          )}
        </p>
      ))}
      {volts.stale.length > 0 && (
        <p className="border-edge border-l-4 pl-3" data-testid="stale">
          <Trans>
            Read before a part cured what they need, so they count no more: {volts.stale.join(", ")}.
          </Trans>
        </p>
      )}
      {node && on && mayWork && (
        <VoltField
          key={`${node.id} ${powering.stored}`}
          job={job}
          node={node}
          why={probe?.why ?? ""}
          read={powering.read}
          begun={() => stay(node.id)}
          done={() => choose(null)}
        />
      )}
      {said && (
        <section aria-live="polite" data-testid="volt-said">
          <p className="flex items-center gap-3 font-bold text-2xl">
            <Mark verdict={said.verdict} size={28} />
            <span className="font-mono">
              {said.point} {said.shown}
            </span>
          </p>
          <p>{said.why}</p>
        </section>
      )}
      <Suspects volts={volts} choose={choose} />
      <TryPart job={job} volts={volts} node={node} attempt={powering.attempt} mayWork={mayWork} />
      <p>
        {node && volts.converters.includes(node.id) && (
          <Link className="button-plain -ml-2" to={`/jobs/${job.number}/volts/converter?node=${node.id}`}>
            <Trans>{node.name}: its converter</Trans>
          </Link>
        )}
        <Link className="button-plain" to={`/library/${job.board_model}/startup?from=${job.label}`}>
          {volts.map_source === "own" ? t`The model’s map` : t`Draw the model’s own map`}
        </Link>
      </p>
    </>
  );
}

const MOST = 6;

function Suspects({ volts, choose }: { volts: Volts; choose: (node: string) => void }) {
  const likely = volts.suspects.filter((suspect) => suspect.chance >= 0.01).slice(0, MOST);
  return (
    <>
      {volts.read > 0 && likely.length > 0 && (
        <section aria-labelledby="suspects-title">
          <h3 id="suspects-title" className="font-bold text-lg">
            <Trans>Where it may break</Trans>
          </h3>
          <ol aria-label={t`Suspects`}>
            {likely.map((entry, number) => (
              <li key={entry.node} className="grid grid-cols-[2rem_4rem_1fr] gap-2 border-rule border-t py-1">
                <strong className="font-mono text-suspect">{number + 1}</strong>
                <span className="font-mono">{Math.round(100 * entry.chance)} %</span>
                <span>
                  <button
                    type="button"
                    className="button-plain -ml-2 font-bold"
                    onClick={() => choose(entry.node)}
                  >
                    {entry.name}
                  </button>{" "}
                  <span className="font-mono text-soft">{entry.parts.join(" ")}</span> {entry.why}
                </span>
              </li>
            ))}
          </ol>
        </section>
      )}
      {volts.next.length > 0 && (
        <section aria-labelledby="next-title">
          <h3 id="next-title" className="font-bold text-lg">
            <Trans>What each probe would tell, for its minutes</Trans>
          </h3>
          <ol aria-label={t`Probes`}>
            {volts.next.slice(0, MOST).map((entry) => (
              <li
                key={entry.node}
                className="grid grid-cols-[8rem_8rem_1fr] items-baseline gap-2 border-rule border-t"
              >
                <button
                  type="button"
                  className="button-plain -ml-2 text-left font-mono"
                  onClick={() => choose(entry.node)}
                >
                  {entry.point || t`no point yet`}
                </button>
                <span className="text-soft">
                  <Trans>
                    {entry.gain_bits.toFixed(2)} bits, {entry.minutes} min
                  </Trans>
                </span>
                <span>{entry.name}</span>
              </li>
            ))}
          </ol>
        </section>
      )}
      {volts.read > 0 && volts.ruled_out.length > 0 && (
        <details>
          <summary className="cursor-pointer py-1 text-soft underline underline-offset-3">
            <Trans>{volts.ruled_out.length} ruled out</Trans>
          </summary>
          <ul aria-label={t`Ruled out`}>
            {volts.ruled_out.map((entry) => (
              <li key={entry.node} className="border-rule border-t py-1">
                <strong>{entry.name}</strong>: {entry.why}.
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}
