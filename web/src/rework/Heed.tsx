import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { Link } from "react-router";
import { Cautions } from "../shared/Cautions";
import { TextField } from "../shared/fields";
import { useCodeWords } from "../shared/useKinds";
import { lifeAt } from "../stock/useStock";
import type { Before, ReworkData, Reworking } from "./useRework";

/** What stands near, how often it was heated, what alloys mean, and the cautions of this work. */
export function Heed({
  before,
  number,
  chipIn,
  rework,
  noteLot,
}: {
  before: Before;
  number: number;
  chipIn: string;
  rework: ReworkData;
  noteLot: Reworking["noteLot"] | undefined;
}) {
  const codeWords = useCodeWords();
  const [asked, setAsked] = useState(false);
  const [lot, setLot] = useState("");
  const { site } = before;
  const shields = before.neighbours.filter((neighbour) => neighbour.shield);
  return (
    <div className="space-y-2" data-testid="heed">
      <p>
        {site.chip ? (
          <Trans>
            <Link className="button-plain -ml-2 font-bold font-mono" to={lifeAt(site.chip)}>
              {site.chip}
            </Link>{" "}
            is on it, heated {site.chip_cycles} of {rework.chip_cycles} times;{" "}
          </Trans>
        ) : (
          <strong>
            <Trans>empty;</Trans>{" "}
          </strong>
        )}
        <Trans>
          the place {site.cycles} of {rework.site_cycles}
          {site.warmed > 0 ? t`, warmed by neighbours ${site.warmed} times` : ""}.{" "}
          {site.chip ? (site.lot ? t`Lot ${site.lot}. ` : t`Lot not read. `) : ""}
        </Trans>
        {site.chip && noteLot && (
          <button
            type="button"
            className="button-plain"
            aria-expanded={asked}
            onClick={() => setAsked(!asked)}
          >
            {site.lot ? t`Another lot` : t`Note its lot`}
          </button>
        )}
        {site.lot && (
          <Link
            className="button-plain"
            to={`/stock/lots?job=${number}&failed=${encodeURIComponent(site.designator)}`}
          >
            <Trans>One chip or all of them</Trans>
          </Link>
        )}
      </p>
      {asked && site.chip && noteLot && (
        <form
          className="flex items-end gap-2"
          onSubmit={async (event) => {
            event.preventDefault();
            if (lot.trim() && (await noteLot(site.chip ?? "", lot.trim()))) setAsked(false);
          }}
        >
          <TextField
            label={t`vendor, type and date code as printed`}
            value={lot}
            onChange={setLot}
            mono
            wide="w-56"
            maxLength={60}
          />
          <button type="submit" className="button" disabled={!lot.trim()}>
            <Trans>Note it</Trans>
          </button>
        </form>
      )}
      {before.fits && <Fit fits={before.fits} chip={chipIn} />}
      {before.warnings.map((warning) => (
        <p key={warning} className="border-suspect border-l-4 pl-3 font-bold">
          {warning}
        </p>
      ))}
      {shields.length > 0 && (
        <p className="border-ink border-l-4 pl-3">
          <Trans>
            <strong>Shield {shields.map((shield) => shield.designator).join(", ")}</strong> before it is
            heated.
          </Trans>
        </p>
      )}
      <details>
        <summary className="cursor-pointer py-1 underline underline-offset-3">
          <Trans>{before.neighbours.length} near it</Trans>
        </summary>
        <ul aria-label={t`Neighbours`}>
          {before.neighbours.map((neighbour) => (
            <li
              key={neighbour.designator}
              className="grid grid-cols-[4rem_6rem_1fr] gap-2 border-rule border-t py-1"
            >
              <strong className="font-mono">{neighbour.designator}</strong>
              <span className="text-soft">{codeWords(neighbour.kind)}</span>
              <span>
                {neighbour.why}
                {neighbour.cycles + neighbour.warmed > 0 &&
                  t` Heated ${neighbour.cycles}, warmed ${neighbour.warmed} times.`}
              </span>
            </li>
          ))}
        </ul>
      </details>
      <Cautions of={before.cautions} />
    </div>
  );
}

/** Whether the chip that comes fits here, and why. */
function Fit({ fits, chip }: { fits: NonNullable<Before["fits"]>; chip: string }) {
  const said = { yes: t`fits`, open: t`may fit`, no: t`does not fit` }[fits.judged];
  return (
    <div
      className={`border-l-4 pl-3 ${fits.judged === "no" ? "border-suspect" : "border-edge"}`}
      data-testid="fits"
    >
      <p>
        <strong>
          <span className="font-mono">{chip}</span> {said}.
        </strong>{" "}
        {fits.refused.length > 0 && t`Against it: ${fits.refused.join("; ")}. `}
        {fits.unknown.length > 0 && t`Not known: ${fits.unknown.join("; ")}. `}
        {fits.agrees.length > 0 && t`Agrees: ${fits.agrees.join(", ")}.`}
      </p>
    </div>
  );
}
