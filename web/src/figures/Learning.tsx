import { plural, t } from "@lingui/core/macro";
import { Plural, Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, type LearnedCard } from "../api/client";
import { keyOf } from "../queries/keys";
import { learningQuery } from "../queries/shop";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";
import { LoadError, Loading } from "../shared/states";
import { day } from "../shared/words";
import { mayWorkAtBench, useSession } from "../signin/session";

const KEY = learningQuery().queryKey;

/** Proven cards: whether their good readings serve the next card of that model, by a technician's consent. */
export function Learning() {
  const session = useSession();
  const mayWork = mayWorkAtBench(session.data?.person);
  const keeping = useKeeping([keyOf("known-good"), keyOf("figures")]);
  const learned = useQuery(learningQuery());
  if (learned.isError) return <LoadError problem={learned.error} again={() => learned.refetch()} />;
  if (!learned.data) return <Loading what={t`Reading what was learned`} />;
  const teaching = learned.data.filter((entry) => entry.counts || entry.readings > 0);
  const unread = learned.data.filter((entry) => !teaching.includes(entry));
  return (
    <section aria-labelledby="learned-title">
      <h2 id="learned-title" className="font-bold text-xl">
        <Trans>Cards that left repaired</Trans>
      </h2>
      <p className="text-soft">
        <Trans>
          Readings taken after the repair may join the known-good library, where a technician says so; they
          can be taken out again. Draw and score of each count for its model by themselves, outcomes for the
          chances of what to try next.
        </Trans>
      </p>
      <ul className="max-w-4xl">
        {teaching.map((entry) => (
          <Row key={entry.number} one={entry} mayWork={mayWork} keep={keeping.keep} />
        ))}
        {learned.data.length === 0 && (
          <li className="text-soft">
            <Trans>No card has left repaired yet. The first one that does teaches its model.</Trans>
          </li>
        )}
      </ul>
      {unread.length > 0 && (
        <details className="mt-2" open={teaching.length === 0}>
          <summary className="cursor-pointer">
            <Trans>
              <Plural value={unread.length} one="# card" other="# cards" /> of which nothing was read after
              the repair
            </Trans>
          </summary>
          <ul className="max-w-4xl">
            {unread.map((entry) => (
              <Row key={entry.number} one={entry} mayWork={false} keep={keeping.keep} />
            ))}
          </ul>
        </details>
      )}
      <FormError problem={keeping.problem} />
    </section>
  );
}

interface RowProps {
  one: LearnedCard;
  mayWork: boolean;
  keep: ReturnType<typeof useKeeping>["keep"];
}

function Row({ one, mayWork, keep }: RowProps) {
  const params = { params: { path: { number: one.number } } };
  return (
    <li className="flex flex-wrap items-center gap-3 border-rule border-t py-2" data-learned={one.number}>
      <span className="min-w-0 flex-1">
        <Trans>
          <Link className="button-plain -ml-2 font-mono" to={`/jobs/${one.number}`}>
            {one.label}
          </Link>
          {one.model}, <span className="font-mono">{one.serial}</span>, left {day(one.at)}.{" "}
        </Trans>
        {one.counts ? (
          <strong>
            <Trans>
              <Plural value={one.readings} one="# reading" other="# readings" /> count, let in by {one.by}.
            </Trans>
          </strong>
        ) : one.readings > 0 ? (
          t`${plural(one.readings, { one: "# reading", other: "# readings" })} could join.`
        ) : (
          t`Nothing was read after its repair.`
        )}
      </span>
      <Link className="button-plain" to={`/library/${one.board_model}/known-good`}>
        <Trans>Library of the model</Trans>
      </Link>
      {mayWork && one.counts && (
        <button
          type="button"
          className="button"
          onClick={() => void keep(() => api.DELETE("/api/v1/jobs/{number}/learning", params), KEY)}
        >
          <Trans>Remove them from known-good</Trans>
        </button>
      )}
      {mayWork && !one.counts && one.readings > 0 && (
        <button
          type="button"
          className="button"
          onClick={() => void keep(() => api.POST("/api/v1/jobs/{number}/learning", params), KEY)}
        >
          <Trans>Add them to known-good</Trans>
        </button>
      )}
    </li>
  );
}
