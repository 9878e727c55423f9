import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link, useParams } from "react-router";
import { api, type Drawing, type Orientation } from "../api/client";
import { Board, NO_NOTES } from "../board/Board";
import { keyOf } from "../queries/keys";
import { boardModelEditionsQuery, boardModelInheritedQuery, boardModelQuery } from "../queries/library";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";
import { LoadError, Loading } from "../shared/states";
import { listed, moment } from "../shared/words";
import { mayWorkAtBench, useSession } from "../signin/session";
import { NotDrawn } from "./NotDrawn";
import { PrintBoard } from "./PrintBoard";

/** One board model: its drawing, the walk in numbers, its history, what it has from its family. */
export function BoardModelPage() {
  const { slug = "" } = useParams();
  const [orientation, setOrientation] = useState<Orientation>({ side: "front", turns: 0 });
  const session = useSession();
  const mayWork = mayWorkAtBench(session.data?.person);
  const model = useQuery(boardModelQuery(slug));
  if (model.isPending) return <Loading what={t`Reading the board model`} />;
  if (model.isError) return <LoadError problem={model.error} again={() => model.refetch()} />;
  const { drawing } = model.data;
  if (!drawing) return <NotDrawn model={model.data} mayWork={mayWork} />;
  return (
    <main className="grid grid-rows-[32rem_auto] lg:h-dvh lg:grid-cols-[58%_1fr] lg:grid-rows-1">
      <Board
        drawing={drawing}
        orientation={orientation}
        setOrientation={setOrientation}
        notes={NO_NOTES}
        fit="board"
        title={model.data.name}
      />
      <div className="min-w-0 space-y-6 overflow-y-auto border-rule lg:border-l bg-sheet p-6">
        <header>
          <h1 className="text-3xl font-bold">{model.data.name}</h1>
          <p className="text-soft">
            <Trans>
              revision {model.data.revision || "–"}, edition {model.data.edition}
            </Trans>
          </p>
          <div className="mt-4 flex flex-wrap gap-3">
            {mayWork && (
              <>
                <Link className="button grid place-items-center" to={`/library/${slug}/edit`}>
                  <Trans>Edit</Trans>
                </Link>
                <Link className="button grid place-items-center" to={`/library/new?copy=${slug}`}>
                  <Trans>Copy to a new model</Trans>
                </Link>
              </>
            )}
            <a className="button grid place-items-center" href={`/api/v1/board-models/${slug}/file`} download>
              <Trans>Export {slug}.board.json</Trans>
            </a>
            <Link className="button grid place-items-center" to={`/library/${slug}/teardown`}>
              <Trans>Teardown recipe</Trans>
            </Link>
            <Link className="button grid place-items-center" to={`/library/${slug}/startup`}>
              <Trans>Start-up map</Trans>
            </Link>
            <Link className="button grid place-items-center" to={`/library/${slug}/proof`}>
              <Trans>Proof protocol</Trans>
            </Link>
            <Link className="button grid place-items-center" to={`/library/${slug}/watchlist`}>
              <Trans>Watchlist</Trans>
            </Link>
            <Link className="button grid place-items-center" to={`/library/${slug}/known-good`}>
              <Trans>Known-good readings</Trans>
            </Link>
          </div>
        </header>
        <PrintBoard slug={slug} orientation={orientation} />
        <Walk drawing={drawing} open={model.data.open_places} />
        <Inherited slug={slug} mayWork={mayWork} known={drawing.sites.some((site) => site.channel)} />
        <History slug={slug} newest={model.data.edition} mayWork={mayWork} />
      </div>
    </main>
  );
}

function Walk({ drawing, open }: { drawing: Drawing; open: number }) {
  return (
    <section aria-labelledby="round">
      <h2 id="round" className="mb-2 text-xl font-bold">
        <Trans>Round the core</Trans>
      </h2>
      <p className="mb-3">
        {drawing.walk
          ? t`From the corner “${drawing.walk.start}”, ${drawing.walk.direction} as seen on the front; the mark is at the core’s ${drawing.core.mark_corner} corner.`
          : t`This model has no walk yet: channels are those that the sites name.`}
        {open > 0 &&
          t` ${open} ${plural(open, { one: "place is", other: "places are" })} open: a proven repair fills each in.`}
      </p>
      <table className="w-full text-left">
        <thead className="text-soft">
          <tr>
            <th className="py-1 font-normal">
              <Trans>Place</Trans>
            </th>
            <th className="font-normal">
              <Trans>Site</Trans>
            </th>
            <th className="font-normal">
              <Trans>Channel</Trans>
            </th>
            <th className="font-normal">
              <Trans>Side</Trans>
            </th>
            <th className="font-normal">
              <Trans>Lines</Trans>
            </th>
          </tr>
        </thead>
        <tbody>
          {drawing.sites.map((site) => (
            <tr key={site.designator} className="border-t border-rule">
              <td className="py-1.5">{site.position ?? "–"}</td>
              <td className="font-mono font-bold">{site.designator}</td>
              <td className="font-mono">{site.channel ?? t`open`}</td>
              <td>{site.fitted ? site.side : t`${site.side}, not fitted`}</td>
              <td className="font-mono">{spans(site.lines)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** What the model has from its family, its relatives, and what proven repairs filled in. */
function Inherited({ slug, mayWork, known }: { slug: string; mayWork: boolean; known: boolean }) {
  const found = useQuery(boardModelInheritedQuery(slug));
  if (!found.data) return null;
  const { family, keys, rails, nodes, relatives, learned } = found.data;
  const from = (key: string) => (keys.includes(key) ? t`, from the family ${family ?? ""}` : "");
  return (
    <section aria-labelledby="family">
      <h2 id="family" className="mb-2 text-xl font-bold">
        {family ? t`Core family ${family}` : t`No core family yet`}
      </h2>
      {!family && mayWork && known && <MakeFamily slug={slug} />}
      {rails.length > 0 && (
        <p>
          <Trans>
            Rails{from("rails")}:{" "}
            {rails
              .map((rail) => `${rail.name ?? rail.id}${rail.volts === null ? "" : ` ${rail.volts} V`}`)
              .join(", ")}
            .
          </Trans>
        </p>
      )}
      {nodes.length > 0 && (
        <p>
          <Trans>
            Usual start-up{from("startup")}: {nodes.map((node) => `${node.name ?? node.id}`).join(" → ")}.
          </Trans>
        </p>
      )}
      {learned.map((entry) => (
        <p key={String(entry.designator)}>
          <Trans>
            Place of <span className="font-mono">{String(entry.designator)}</span>: channel{" "}
            {String(entry.channel)}, proven on {String(entry.job)} by {String(entry.by)}.
          </Trans>
        </p>
      ))}
      {relatives.length > 0 && (
        <p>
          <Trans>Relatives: </Trans>
          {relatives.map((relative) => (
            <Link key={relative.slug} className="button-plain" to={`/library/${relative.slug}`}>
              {relative.name}
            </Link>
          ))}
        </p>
      )}
    </section>
  );
}

/** A family from the first board with its core, so that the next board with it need not be counted again. */
function MakeFamily({ slug }: { slug: string }) {
  const [name, setName] = useState("");
  const { problem, keep } = useKeeping([keyOf("board-model", slug), keyOf("families")]);
  const make = async (event: FormEvent) => {
    event.preventDefault();
    const body = { name: name.trim() };
    await keep(() => api.POST("/api/v1/board-models/{slug}/family", { params: { path: { slug } }, body }));
  };
  return (
    <form onSubmit={make}>
      <p className="text-soft">
        <Trans>
          Other boards with the same core list their channels alike. Name the core, and this board’s order,
          rails and start-up are proposed for each of them.
        </Trans>
      </p>
      <p className="mt-2 flex gap-3">
        <input
          className="field min-w-0 flex-1"
          aria-label={t`Name of the core`}
          placeholder={t`Name of the core`}
          maxLength={80}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <button type="submit" className="button shrink-0" disabled={!name.trim()}>
          <Trans>Make a core family</Trans>
        </button>
      </p>
      <FormError problem={problem} />
    </form>
  );
}

function History({ slug, newest, mayWork }: { slug: string; newest: number; mayWork: boolean }) {
  const editions = useQuery(boardModelEditionsQuery(slug, newest));
  return (
    <section aria-labelledby="history">
      <h2 id="history" className="mb-2 text-xl font-bold">
        <Trans>History</Trans>
      </h2>
      <ol>
        {editions.data?.map((edition) => (
          <li key={edition.number} className="border-t border-rule py-2">
            <p>
              <Link className="button-plain" to={`/library/${slug}/editions/${edition.number}`}>
                <Trans>Edition {edition.number}</Trans>
              </Link>{" "}
              <span className="text-soft">
                {edition.added_by}, {moment(edition.added_at)}
              </span>
              {edition.note && `: ${edition.note}`}
            </p>
            {edition.changes.length > 0 && (
              <p className="text-soft">
                {listed(edition.changes.slice(0, 6))}
                {edition.changes.length > 6 && t` and ${edition.changes.length - 6} more`}.
              </p>
            )}
          </li>
        ))}
      </ol>
      {mayWork && newest > 1 && (
        <p className="text-soft">
          <Trans>Open an edition to bring it back as the newest one.</Trans>
        </p>
      )}
    </section>
  );
}

/** Lines as spans: 0–7, 16–23 */
function spans(lines: number[]): string {
  const found: [number, number][] = [];
  for (const line of lines) {
    const last = found[found.length - 1];
    if (last && last[1] === line - 1) last[1] = line;
    else found.push([line, line]);
  }
  return found.map(([from, to]) => (from === to ? `${from}` : `${from}–${to}`)).join(", ");
}
