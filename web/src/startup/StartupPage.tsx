import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { api, type BoardModel } from "../api/client";
import type { BoardDocument } from "../editor/document";
import { useDraft } from "../editor/useDraft";
import { editStartupQuery } from "../queries/library";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";
import { useKeys } from "../shared/keys";
import { Empty, LoadError, Loading } from "../shared/states";
import { mayWorkAtBench, useSession } from "../signin/session";
import { NodeForm } from "./NodeForm";
import { StartupMap } from "./StartupMap";

/** What a file says of a node; keys that nobody knows are kept. */
export interface FileNode {
  id: string;
  name?: string;
  kind?: string;
  volts?: number[];
  needs?: string[];
  point?: string;
  parts?: string[];
  note?: string;
  /** where it is known from: a job, a relative, and how sure that is */
  from?: string;
  sure?: string;
  [key: string]: unknown;
}

export function nodesOf(document: BoardDocument): FileNode[] {
  return (document.startup as { nodes?: FileNode[] } | undefined)?.nodes ?? [];
}

/** A model's start-up map, drawn from nothing or from a relative's, revision by revision. */
export function StartupPage() {
  const { slug = "" } = useParams();
  const start = useQuery(editStartupQuery(slug));
  if (start.isError) return <LoadError problem={start.error} again={() => start.refetch()} />;
  if (start.isPending) return <Loading what={t`Opening the map`} />;
  if (!start.data)
    return (
      <Empty
        title={t`Nobody has drawn this board: its cards start as the bench plan says`}
        next={t`Open the bench plans`}
        to="/library/plans"
      />
    );
  return <Drawn key={start.data.key} start={start.data} />;
}

interface DrawnProps {
  start: {
    key: string;
    document: BoardDocument;
    base: number;
    model: BoardModel;
    lent: { lender: string; nodes: unknown[] };
  };
}

function Drawn({ start }: DrawnProps) {
  const queries = useQueryClient();
  const { model, lent } = start;
  const drafting = useDraft(start.key, start);
  const { document, draft, apply, undo, redo } = drafting;
  const go = useNavigate();
  const session = useSession();
  const mayWork = mayWorkAtBench(session.data?.person);
  const [chosen, setChosen] = useState<string | null>(null);
  const saving = useKeeping([], () => queries.invalidateQueries());
  const [query] = useSearchParams();
  const from = query.get("from") ?? "";
  const known = from && `${from}, ${session.data?.person?.name ?? ""}`;
  const nodes = nodesOf(document);
  const node = nodes.find((entry) => entry.id === chosen);
  useKeys({ u: () => undo?.(), U: () => redo?.() });
  const save = async () => {
    const note = from ? t`start-up map, ${from}` : t`start-up map`;
    const saved = await saving.keep(async () => {
      const body = { document: await drafting.settled(), base: start.base, note };
      return api.POST("/api/v1/board-drafts/saved", { body });
    });
    if (!saved) return;
    drafting.forget();
    void go(`/library/${model.slug}`);
  };
  const misfits = draft?.misfits ?? [];
  return (
    <main className="grid h-dvh min-h-0 grid-rows-[28rem_auto] lg:grid-cols-[62%_1fr] lg:grid-rows-1">
      <div className="flex min-h-0 flex-col">
        <div className="flex items-center gap-3 border-rule border-b bg-sheet px-4 py-2">
          <h1 className="font-bold text-xl">
            <Trans>
              <Link className="button-plain -ml-2" to={`/library/${model.slug}`}>
                {model.name}
              </Link>{" "}
              start-up map
            </Trans>
          </h1>
          {mayWork && (
            <span className="ml-auto flex gap-2">
              <button type="button" className="button" disabled={!undo} onClick={undo}>
                <Trans>
                  Undo <kbd className="key">u</kbd>
                </Trans>
              </button>
              <button type="button" className="button" disabled={!redo} onClick={redo}>
                <Trans>
                  Redo <kbd className="key">U</kbd>
                </Trans>
              </button>
              <button
                type="button"
                className="button"
                disabled={!drafting.edited || misfits.length > 0}
                onClick={() => void save()}
              >
                <Trans>Save</Trans>
              </button>
            </span>
          )}
        </div>
        <section aria-label={t`Start-up map`} className="min-h-0 flex-1 overflow-auto bg-tray p-3">
          {draft?.startup ? (
            <StartupMap map={draft.startup} suspects={[]} turn={chosen} choose={setChosen} />
          ) : (
            <p className="p-8 text-center text-soft">
              <Trans>No node yet. Begin with an input: what the slot or a plug feeds in.</Trans>
            </p>
          )}
        </section>
      </div>
      <div className="min-h-0 space-y-5 overflow-y-auto border-rule border-l bg-sheet p-5">
        <FormError
          plain
          problem={
            saving.problem
              ? { message: t`${saving.said} The draft is kept in this browser.` }
              : drafting.refused
                ? { message: drafting.refused }
                : null
          }
        />
        {misfits.map((misfit) => (
          <p key={misfit.place + misfit.found} className="border-suspect border-l-4 pl-3">
            <Trans>
              {misfit.place}: found {misfit.found}, expected {misfit.expected}
            </Trans>
          </p>
        ))}
        {nodes.length === 0 && lent.nodes.length > 0 && mayWork && (
          <p>
            <button
              type="button"
              className="button"
              onClick={() => void apply({ do: "take-map", nodes: lent.nodes, lender: lent.lender })}
            >
              <Trans>
                Begin with {lent.lender}’s map, {lent.nodes.length} nodes
              </Trans>
            </button>
          </p>
        )}
        {mayWork ? (
          <NodeForm
            key={`${chosen} ${nodes.length} ${JSON.stringify(node ?? null)}`}
            node={node}
            document={document}
            apply={apply}
            choose={setChosen}
            known={known}
          />
        ) : (
          <p className="text-soft">
            <Trans>Choose a node to see what it needs. Who works at the bench may change it.</Trans>
          </p>
        )}
        <p>
          <Link className="button-plain -ml-2" to={`/library/${model.slug}`}>
            <Trans>Edition {start.base}; who changed what, edition by edition</Trans>
          </Link>
        </p>
        <ul aria-label={t`Nodes`}>
          {nodes.map((entry) => (
            <li key={entry.id} className="border-rule border-t">
              <button
                type="button"
                className="grid min-h-10 w-full grid-cols-[6rem_1fr_5rem_9rem] gap-3 text-left"
                aria-pressed={entry.id === chosen}
                onClick={() => setChosen(entry.id)}
              >
                <strong className="font-mono">{entry.id}</strong>
                <span>{entry.name}</span>
                <span className="font-mono text-soft">{entry.point}</span>
                <span className="text-soft">{[entry.from, entry.sure].filter(Boolean).join(", ")}</span>
              </button>
            </li>
          ))}
        </ul>
      </div>
    </main>
  );
}
