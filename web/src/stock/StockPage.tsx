import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useParams } from "react-router";
import { Empty } from "../shared/states";
import { TabLinks } from "../shared/TabLinks";
import { Donors } from "./Donors";
import { Find } from "./Find";
import { Lots } from "./Lots";
import { Parts } from "./Parts";
import { Values } from "./Values";

const TABS = new Map([
  ["parts", Parts],
  ["donors", Donors],
  ["lots", Lots],
  ["find", Find],
  ["values", Values],
]);

/** Every part of the shop: where it is, where it was, whether it fits, what its lot says, and the cards that give parts. */
export function StockPage() {
  const Tab = TABS.get(useParams().tab ?? "parts");
  return (
    <main className="flex min-h-full flex-col gap-4 p-6">
      <header className="flex flex-wrap items-center justify-between gap-4">
        <h1 className="font-bold text-3xl">
          <Trans>Stock</Trans>
        </h1>
        <TabLinks
          of={t`Stock`}
          tabs={[
            ["/stock", t`Parts`],
            ["/stock/donors", t`Donors`],
            ["/stock/lots", t`Lots`],
            ["/stock/find", t`Find a part`],
            ["/stock/values", t`Values`],
          ]}
        />
      </header>
      {Tab ? (
        <Tab />
      ) : (
        <Empty title={t`There is no page at this address`} next={t`Go to the parts`} to="/stock" />
      )}
    </main>
  );
}
