import { t } from "@lingui/core/macro";
import { Plural, Trans } from "@lingui/react/macro";
import type { Drawing, Explanation, Located, Orientation } from "../api/client";
import { viewOf } from "../board/view";
import { listed, percent } from "../shared/words";

interface FindingProps {
  located: Located;
  drawing: Drawing;
  orientation: Orientation;
  setOrientation: (orientation: Orientation) => void;
}

/** What is broken, where, how sure, and why; then the lesser explanations. */
export function Finding({ located, drawing, orientation, setOrientation }: FindingProps) {
  const { finding, others, warnings } = located;
  const names = finding.designators;
  const hidden = names.filter(
    (name) => drawing.sites.find((site) => site.designator === name)?.side !== orientation.side,
  );
  const view = viewOf(drawing, orientation);
  return (
    <section aria-label={t`Finding`} data-testid="finding">
      <div className="flex items-start gap-4">
        {names.length > 0 && names.length <= 2 && (
          <p className="font-mono font-bold text-5xl leading-none">{names.join(" ")}</p>
        )}
        <div>
          <h2 className="text-xl font-bold leading-tight">{finding.title}</h2>
          <p className="text-soft">{sureness(finding, located.reports.length)}</p>
        </div>
      </div>
      {names.length > 2 && (
        <p className="mt-2 font-mono font-bold text-xl">
          {names.length > 8 ? t`all ${names.length} chips` : listed(names)}
        </p>
      )}
      {hidden.length > 0 && hidden.length === names.length && (
        <p className="mt-3 flex items-center gap-3 border-l-4 border-next bg-next-wash px-3 py-2">
          <span>
            <Trans>
              <strong>{listed(names)}</strong> <Plural value={names.length} one="is" other="are" /> on the{" "}
              {orientation.side === "front" ? t`back` : t`front`}, behind what you see.
            </Trans>
          </span>
          <button
            type="button"
            className="button ml-auto shrink-0"
            onClick={() => setOrientation(view.flipped)}
          >
            <Trans>
              Flip <kbd className="key">f</kbd>
            </Trans>
          </button>
        </p>
      )}
      <p className="mt-2">
        {finding.why.filter((reason) => !located.compared.some((entry) => entry.why === reason)).join(" ")}
      </p>
      <Balls located={located} />
      {located.compared.length > 0 && (
        <ul className="mt-2" data-testid="compared">
          {located.compared
            .filter((entry) => entry.verdict !== "stays" || names.includes(entry.designator))
            .map((entry) => (
              <li key={entry.designator} className="mt-1">
                <strong>{VERDICTS[entry.verdict]}.</strong> {entry.why}
              </li>
            ))}
        </ul>
      )}
      {others.length > 0 && (
        <details className="mt-2">
          <summary className="cursor-pointer py-1 font-semibold">
            <Trans>
              {others.length} lesser <Plural value={others.length} one="explanation" other="explanations" />
            </Trans>
          </summary>
          {others.map((other) => (
            <div
              key={`${other.kind} ${other.designators} ${other.dq}`}
              className="mt-1 border-l-2 border-rule pl-3"
            >
              <strong>
                {other.title}, {listed(other.designators)}
              </strong>{" "}
              ({other.chance.toFixed(2)}). {other.why.join(" ")}
            </div>
          ))}
        </details>
      )}
      {located.address_map?.learned !== undefined && located.address_map !== null && (
        <details className="mt-1">
          <summary className="cursor-pointer py-1 font-semibold">
            <Trans>Address map of this board</Trans>
          </summary>
          <p>{located.address_map.why}</p>
          {located.address_map.learned !== null && (
            <pre className="overflow-x-auto bg-tray p-2 font-mono text-[15px]">
              {JSON.stringify(located.address_map.learned)}
            </pre>
          )}
        </details>
      )}
      {warnings.map((warning) => (
        <p key={warning} className="mt-2 border-l-4 border-ink bg-tray px-3 py-1.5">
          {warning}
        </p>
      ))}
    </section>
  );
}

const VERDICTS: Record<string, string> = {
  stays: t`Stays`,
  "comes-and-goes": t`Comes and goes`,
  "appears-after-rework": t`New after rework`,
  "gone-after-rework": t`Gone after rework`,
};

/** The finding's lines as balls of the package, where the board says how its lines are swapped. */
function Balls({ located }: { located: Located }) {
  const known = located.balls.filter((ball) => ball.ball);
  if (located.balls.length === 0 || located.balls.length > 8) return null;
  if (known.length === 0)
    return (
      <p className="mt-2 text-soft">
        <Trans>No ball is named: this model does not say which package line each line is.</Trans>
      </p>
    );
  return (
    <p className="mt-2" data-testid="balls">
      <Trans>
        Pads to measure: {known.map((entry) => `${entry.ball} (DQ ${entry.line})`).join(", ")}, each against
        the same pad of an equal chip.
      </Trans>
    </p>
  );
}

function sureness(finding: Explanation, runs: number): string {
  const over = runs > 1 ? t`over ${runs} runs` : t`from one run`;
  if (["no-errors", "refused"].includes(finding.kind)) return over;
  if (finding.designators.length === 0) return t`no chip stands out, ${over}`;
  return t`chance ${percent(finding.chance)}, ${over}`;
}
