import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useLocation } from "react-router";
import { api } from "../api/client";
import { suppliesWatchedQuery } from "../queries/shop";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";

// the server switches off what no page has shown for three times as long
const AGAIN_MS = 30_000;

/** Every bench supply whose output is on, on every page; while one is open for it, the server leaves it on. */
export function SupplySign() {
  const at = useLocation().pathname.match(/^\/jobs\/(\d+)/);
  const job = at ? Number(at[1]) : null;
  const queries = useQueryClient();
  const { problem, keep } = useKeeping([]);
  const outputs = useQuery({
    ...suppliesWatchedQuery(job),
    refetchInterval: AGAIN_MS,
    refetchIntervalInBackground: true,
  });
  const switchOff = async (supply: number) => {
    await keep(() => api.POST("/api/v1/supplies/{supply}/off", { params: { path: { supply } } }));
    await queries.invalidateQueries();
  };
  return outputs.data?.map((output) => (
    <section
      key={output.supply}
      aria-label={t`Output of ${output.name}`}
      className="w-full rounded-md border-2 border-suspect px-1 py-1 text-center text-[15px]"
      data-testid="supply-sign"
    >
      <Link to={`/jobs/${output.job}/volts/power`} className="block font-bold">
        {output.name} {output.state === "on" ? t`is on` : t`may be on`}
      </Link>
      <span className="block">
        <Trans>
          {output.volts} V at {output.card}
        </Trans>
      </span>
      <button type="button" className="button-plain" onClick={() => void switchOff(output.supply)}>
        <Trans>Switch off</Trans>
      </button>
      <FormError problem={problem} plain />
    </section>
  ));
}
