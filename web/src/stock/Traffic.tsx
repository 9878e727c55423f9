import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { cardPartsQuery } from "../queries/shop";
import { day } from "../shared/words";
import { Genealogy } from "./Genealogy";
import { lifeAt } from "./useStock";

/** Parts in and out of a card, as both sides of each move have it. */
export function Traffic({ serial, stamp }: { serial: string; stamp: number }) {
  const parts = useQuery({ ...cardPartsQuery(serial, stamp), placeholderData: (old) => old });
  if (!parts.data || parts.data.came.length + parts.data.went.length === 0) return null;
  const rows = [
    ...parts.data.came.map((entry) => ({
      ...entry,
      key: `in ${entry.label} ${entry.at}`,
      says: t`onto ${entry.site}, from ${entry.other}`,
    })),
    ...parts.data.went.map((entry) => ({
      ...entry,
      key: `out ${entry.label} ${entry.at}`,
      says: t`off ${entry.site}, ${isCard(entry.other) ? t`to ${entry.other}` : entry.other}`,
    })),
  ];
  return (
    <section aria-labelledby="traffic-title" data-testid="traffic">
      <h3 id="traffic-title" className="font-bold text-lg">
        <Trans>Parts in and out</Trans>
      </h3>
      <ul>
        {rows.map((row) => (
          <li key={row.key} className="border-rule border-t py-1">
            <Link className="font-bold font-mono underline underline-offset-3" to={lifeAt(row.label)}>
              {row.label}
            </Link>{" "}
            {row.says}
            {row.at && <span className="text-soft">, {day(row.at)}</span>}
          </li>
        ))}
      </ul>
      <Genealogy drawn={parts.data.drawn} title={t`Parts of ${serial} and other cards`} />
    </section>
  );
}

/** Places that are no card are said in words: "in tray B1". */
function isCard(other: string): boolean {
  return !other.includes(" ");
}
