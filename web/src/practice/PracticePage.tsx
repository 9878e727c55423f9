import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { practiceQuery } from "../queries/practice";
import { Empty, LoadError, Loading } from "../shared/states";
import { TabLinks } from "../shared/TabLinks";
import { Begin } from "./Begin";
import { CardFiles } from "./CardFiles";
import { OfTheDay } from "./OfTheDay";
import { Rounds } from "./Rounds";

/** Cards with a hidden fault: begin one, the card of the day, cards that are kept, and how it went so far. */
export function PracticePage() {
  const tab = useParams().tab ?? "begin";
  const found = useQuery(practiceQuery());
  return (
    <main className="flex min-h-full flex-col gap-5 p-6">
      <header className="flex flex-wrap items-center justify-between gap-4">
        <div>
          <h1 className="font-bold text-3xl">
            <Trans>Practice</Trans>
          </h1>
          <p className="max-w-3xl text-soft">
            <Trans>
              A virtual card with a hidden fault, on the same screens as any other. Nothing of it is counted
              in figures, lots, known-good or stock.
            </Trans>
          </p>
        </div>
        <TabLinks
          of={t`Practice`}
          tabs={[
            ["/practice", t`Start`],
            ["/practice/rounds", t`History`],
            ["/practice/cards", t`Saved cards`],
          ]}
        />
      </header>
      {found.isError && <LoadError problem={found.error} again={() => found.refetch()} />}
      {found.isPending && <Loading what={t`Reading what can be practised`} />}
      {found.data && tab === "begin" && (
        <div className="grid gap-6 lg:grid-cols-2">
          <Begin practice={found.data} />
          <OfTheDay />
        </div>
      )}
      {found.data && tab === "rounds" && <Rounds rounds={found.data.rounds} />}
      {found.data && tab === "cards" && <CardFiles practice={found.data} />}
      {!["begin", "rounds", "cards"].includes(tab) && (
        <Empty title={t`There is no page at this address`} next={t`Go to Practice`} to="/practice" />
      )}
    </main>
  );
}
