import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data } from "../api/client";
import { cautionsQuery } from "../queries/shop";

/** Cautions where they apply: asked once a shift, each time where the hazard is at hand. `agreed` hears when all are. */
export function Cautions({ of }: { of: readonly string[] }) {
  const queries = useQueryClient();
  const cautions = useQuery(cautionsQuery());
  const asked = (cautions.data?.cautions ?? []).filter((caution) => of.includes(caution.key));
  const open = asked.filter((entry) => !entry.seen);
  const read = async () => {
    for (const entry of open) {
      const params = { path: { caution: entry.key } };
      const now = data(await api.POST("/api/v1/cautions/{caution}/seen", { params }));
      queries.setQueryData(cautionsQuery().queryKey, now);
    }
  };
  if (asked.length === 0) return null;
  const once = open.filter((entry) => !entry.every_time);
  return (
    <aside
      aria-label={t`Cautions`}
      className={`border-l-4 pl-3 ${open.length > 0 ? "border-ink" : "border-rule"}`}
      data-testid="cautions"
    >
      <p className={open.length > 0 ? "" : "text-soft"}>
        {(open.length > 0 ? open : asked).map((entry) => entry.says).join(" ")}{" "}
        <span className="text-soft">{cautions.data?.defer}</span>
      </p>
      {once.length > 0 && (
        <button type="button" className="button-plain -ml-2" onClick={() => void read()}>
          <Trans>Understood for this shift</Trans>
        </button>
      )}
    </aside>
  );
}
