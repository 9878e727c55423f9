import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useParams } from "react-router";
import { Empty } from "../shared/states";
import { TabLinks } from "../shared/TabLinks";
import { Counted } from "./Counted";
import { Learning } from "./Learning";
import { TakeAlong } from "./TakeAlong";

const TABS = new Map([
  ["counted", Counted],
  ["learning", Learning],
  ["archive", TakeAlong],
]);

/** What the shop's own jobs say, what it learned of proven cards, and its data to take along. */
export function FiguresPage() {
  const Tab = TABS.get(useParams().tab ?? "counted");
  return (
    <main className="flex min-h-full flex-col gap-4 p-6">
      <header className="flex flex-wrap items-center justify-between gap-4">
        <h1 className="font-bold text-3xl">
          <Trans>Figures</Trans>
        </h1>
        <TabLinks
          of={t`Figures`}
          tabs={[
            ["/figures", t`Counted`],
            ["/figures/learning", t`Learned`],
            ["/figures/archive", t`Export and backup`],
          ]}
        />
      </header>
      {Tab ? (
        <Tab />
      ) : (
        <Empty title={t`There is no page at this address`} next={t`Go to the figures`} to="/figures" />
      )}
    </main>
  );
}
