import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { api, type Orientation } from "../api/client";
import { Board, NO_NOTES } from "../board/Board";
import { boardEditionQuery, boardModelQuery } from "../queries/library";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";
import { LoadError, Loading } from "../shared/states";
import { moment } from "../shared/words";
import { mayWorkAtBench, useSession } from "../signin/session";

/** A former edition of a board model; it can be brought back as the newest. */
export function OldEdition() {
  const { slug = "", edition = "1" } = useParams();
  const [orientation, setOrientation] = useState<Orientation>({ side: "front", turns: 0 });
  const session = useSession();
  const navigate = useNavigate();
  const { problem, keep } = useKeeping([[]], () => navigate(`/library/${slug}`));
  const model = useQuery(boardModelQuery(slug));
  const old = useQuery(boardEditionQuery(slug, edition));
  if (old.isPending || model.isPending) return <Loading what={t`Reading the edition`} />;
  if (old.isError) return <LoadError problem={old.error} again={() => old.refetch()} />;
  if (model.isError) return <LoadError problem={model.error} again={() => model.refetch()} />;
  const bringBack = async () => {
    const note = t`edition ${edition} brought back`;
    const body = { document: old.data.document, base: model.data.edition, note };
    await keep(() => api.POST("/api/v1/board-drafts/saved", { body }));
  };
  return (
    <main className="grid grid-rows-[32rem_auto] lg:h-dvh lg:grid-cols-[58%_1fr] lg:grid-rows-1">
      <Board
        drawing={old.data.drawing}
        orientation={orientation}
        setOrientation={setOrientation}
        notes={NO_NOTES}
        fit="board"
        title={model.data.name}
      />
      <div className="min-w-0 space-y-4 overflow-y-auto border-rule lg:border-l bg-sheet p-6">
        <h1 className="text-3xl font-bold">
          <Trans>
            {model.data.name}, edition {edition}
          </Trans>
        </h1>
        <p className="text-soft">
          {old.data.added_by}, {moment(old.data.added_at)}
          {old.data.note && `: ${old.data.note}`}
        </p>
        <Link className="button-plain" to={`/library/${slug}`}>
          <Trans>The newest edition, {model.data.edition}</Trans>
        </Link>
        {mayWorkAtBench(session.data?.person) && Number(edition) !== model.data.edition && (
          <p>
            <button type="button" className="button" onClick={() => void bringBack()}>
              <Trans>Bring it back as edition {model.data.edition + 1}</Trans>
            </button>
          </p>
        )}
        <FormError problem={problem} plain />
      </div>
    </main>
  );
}
