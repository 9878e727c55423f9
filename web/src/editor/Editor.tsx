import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { api, type BoardModel, data, type Orientation, type Problem } from "../api/client";
import type { Point } from "../board/view";
import { keyOf } from "../queries/keys";
import { familiesQuery, packagesQuery, sketchQuery } from "../queries/library";
import { useKeys } from "../shared/keys";
import { decimalOf } from "../shared/numbers";
import { LoadError, Loading } from "../shared/states";
import { Canvas } from "./Canvas";
import type { BoardDocument, Edit, Entry, Target } from "./document";
import { Misfits } from "./Misfits";
import { Names } from "./Names";
import { NextChips } from "./NextChips";
import { PhotographFile, ScaleForm } from "./Photograph";
import { PlacementFile } from "./PlacementFile";
import { Properties } from "./Properties";
import { Sketched } from "./Sketched";
import { TOOLS, type Tool } from "./tools";
import { keptDraft, useDraft } from "./useDraft";
import { WalkTable } from "./WalkTable";

interface Start {
  key: string;
  document: BoardDocument;
  base: number;
  kept: boolean;
}

/** Finds what is edited: a model's newest edition, a copy of another, or a blank one; an unsaved draft goes before. */
export function Editor() {
  const { slug } = useParams();
  const [asked] = useSearchParams();
  const copy = asked.get("copy");
  const start = useQuery({
    queryKey: keyOf("edit", slug ?? "", copy ?? "", asked.get("name") ?? ""),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
    queryFn: async (): Promise<Start> => {
      const key = `uvrix-draft-${slug ?? "new"}-${copy ?? ""}`;
      const from = slug ?? copy;
      const model = from
        ? data(await api.GET("/api/v1/board-models/{slug}", { params: { path: { slug: from } } }))
        : null;
      const base = slug ? (model?.edition ?? 0) : 0;
      const kept = keptDraft(key);
      if (kept && kept.base === base) return { key, ...kept, kept: true };
      if (!model || model.edition === 0) {
        const blank = data(await api.GET("/api/v1/board-drafts/blank")) as BoardDocument;
        const named = { id: model?.slug ?? "", name: model?.name ?? asked.get("name") ?? "" };
        let document: BoardDocument = { ...blank, ...named };
        // photographs that stood in for the board lie under its drawing
        for (const picture of model?.photographs ?? []) {
          const body = { document, edit: { do: "photograph", ...picture } };
          document = data(await api.POST("/api/v1/board-drafts", { body })).document as BoardDocument;
        }
        return { key, document, base, kept: false };
      }
      const path = { slug: model.slug, edition: model.edition };
      const edition = data(
        await api.GET("/api/v1/board-models/{slug}/editions/{edition}", { params: { path } }),
      );
      const document = edition.document as BoardDocument;
      if (slug) return { key, document, base, kept: false };
      const { learned: _, photographs: __, ...rest } = document;
      const relative = { id: `${document.id}-copy`, name: `${document.name} copy`, relative_of: model.slug };
      return { key, document: { ...rest, ...relative }, base: 0, kept: false };
    },
  });
  if (start.isPending) return <Loading what={t`Opening the model`} />;
  if (start.isError) return <LoadError problem={start.error} again={() => start.refetch()} />;
  return <Drawing key={start.data.key} start={start.data} />;
}

function Drawing({ start }: { start: Start }) {
  const drafting = useDraft(start.key, start);
  const { document, draft, apply, undo, redo } = drafting;
  const [orientation, setOrientation] = useState<Orientation>({ side: "front", turns: 0 });
  const [tool, setTool] = useState<Tool>(() => {
    if (start.kept || start.document.sites?.length) return "choose";
    return start.document.photographs?.length ? "scale" : "photograph";
  });
  const [clicks, setClicks] = useState<Point[]>([]);
  const [chosen, setChosen] = useState<Target[]>([]);
  const [photo, setPhoto] = useState(0.9);
  const [scale, setScale] = useState({ by: "contacts", contacts: "82", mm: "" });
  const [size, setSize] = useState<[number, number]>([14, 12]);
  const [called, setCalled] = useState("");
  const [note, setNote] = useState("");
  const [problem, setProblem] = useState<Problem | null>(null);
  const navigate = useNavigate();
  const queries = useQueryClient();
  const families = useQuery(familiesQuery());
  const packages = useQuery(packagesQuery());

  const sketch = useQuery({ ...sketchQuery(document.id), enabled: start.base === 0 && !!document.id });

  const take = (next: Tool) => {
    setTool(next);
    setClicks([]);
    if (next !== "choose") setChosen([]);
  };
  const finish = async (points: readonly Point[], edit: Edit, next?: Tool) => {
    setClicks([]);
    if ((await apply(edit)) && next) take(next);
    return points;
  };
  const click = (point: Point) => {
    const next = [...clicks, point];
    const [x, y] = point;
    if (tool === "core" && next.length === 2) return void finish(next, { do: "core", corners: next }, "mark");
    if (tool === "mark") return void finish(next, { do: "mark", point }, "chips");
    if (tool === "chips") {
      const last = document.sites?.at(-1);
      const entry: Entry = { side: orientation.side, x_mm: x, y_mm: y, size_mm: size };
      entry.rotation_deg = turnTowardsCore(document, point);
      if (last?.package) entry.package = last.package;
      // the chips after it count on by themselves
      if (called) entry.designator = called;
      setCalled("");
      return void apply({ do: "add", section: "sites", entry });
    }
    if (tool === "points")
      return void apply({
        do: "add",
        section: "points",
        entry: { side: orientation.side, x_mm: x, y_mm: y, kind: "coil", reach: "cooler-off" },
      });
    if (tool === "parts")
      return void apply({
        do: "add",
        section: "parts",
        entry: { kind: "converter", side: orientation.side, x_mm: x, y_mm: y },
      });
    if (tool === "landmarks")
      return void apply({
        do: "add",
        section: "landmarks",
        entry: { kind: "power-plug", x_mm: x, y_mm: y, size_mm: [20, 10], text: "" },
      });
    if (tool === "scale" || tool === "outline" || tool === "core")
      setClicks(tool === "scale" ? next.slice(-2) : next);
  };
  const outlined = () => clicks.length >= 2 && void finish(clicks, { do: "outline", points: clicks }, "core");
  const scaled = () => {
    const [left, right] = clicks;
    if (!left || !right) return;
    const far = scale.by === "contacts" ? { contacts: Number(scale.contacts) } : { mm: decimalOf(scale.mm) };
    void finish(clicks, { do: "scale", side: orientation.side, left, right, ...far }, "outline");
  };
  const moved = (targets: readonly Target[], dx: number, dy: number) =>
    void apply({ do: "move", targets, dx, dy });
  const act = (edit: Edit) => chosen.length > 0 && void apply({ ...edit, targets: chosen });
  const remove = () => {
    act({ do: "remove" });
    setChosen([]);
  };
  const save = async () => {
    setProblem(null);
    try {
      // a field that was left by the click on Save is an edit of its own
      const body = { document: await drafting.settled(), base: start.base, note };
      const saved: BoardModel = data(await api.POST("/api/v1/board-drafts/saved", { body }));
      drafting.forget();
      await queries.invalidateQueries();
      navigate(`/library/${saved.slug}`);
    } catch (error) {
      setProblem(error as Problem);
    }
  };
  useKeys({
    ...Object.fromEntries(TOOLS.map((entry) => [entry.key, () => take(entry.tool)])),
    Escape: () => {
      setClicks([]);
      take("choose");
    },
    Enter: () => (tool === "outline" ? outlined() : tool === "scale" ? scaled() : undefined),
    Delete: remove,
    q: () => act({ do: "turn", deg: 90 }),
  });
  useUndoKeys(undo, redo, () => void save());
  if (!draft)
    return drafting.refused ? (
      <LoadError problem={new Error(drafting.refused)} />
    ) : (
      <Loading what={t`Drawing the model`} />
    );
  const misfits = draft.misfits;
  const known = new Set([
    ...(document.points ?? []).map((point) => point.id),
    ...(document.parts ?? []).map((part) => part.designator),
  ]);
  const untaken = (sketch.data?.entries ?? []).filter((entry) => !known.has(entry.name));
  const inHand = TOOLS.find((entry) => entry.tool === tool);
  return (
    <main className="grid grid-rows-[32rem_auto] lg:h-dvh lg:grid-cols-[58%_1fr] lg:grid-rows-1">
      <Canvas
        document={document}
        drawing={draft.drawing}
        orientation={orientation}
        setOrientation={setOrientation}
        tool={tool}
        clicks={clicks}
        click={click}
        chosen={chosen}
        choose={setChosen}
        drop={moved}
        nudge={(dx, dy) => moved(chosen, dx, dy)}
        photo={photo}
      />
      <div className="flex min-h-0 min-w-0 flex-col border-rule border-t lg:border-t-0 lg:border-l bg-sheet">
        <div className="relative min-h-0 flex-1 space-y-5 overflow-y-auto p-5" data-testid="panel">
          <header className="flex flex-wrap items-center gap-2">
            <h1 className="text-2xl font-bold">{start.base === 0 ? t`New board model` : document.name}</h1>
            <span className="ml-auto flex gap-2">
              <button type="button" className="button" disabled={!undo} onClick={undo}>
                <Trans>Undo</Trans>
              </button>
              <button type="button" className="button" disabled={!redo} onClick={redo}>
                <Trans>Redo</Trans>
              </button>
            </span>
          </header>
          {start.kept && <KeptDraft forget={drafting.forget} />}
          <Names document={document} apply={apply} families={families.data ?? []} isNew={start.base === 0} />
          <fieldset>
            <legend className="mb-1 text-lg font-bold">
              <Trans>In hand</Trans>
            </legend>
            <ToolButtons tool={tool} take={take} />
            <p className="mt-2" data-testid="in-hand">
              {inHand?.hint}
            </p>
            {tool === "photograph" && (
              <PhotographFile
                side={orientation.side}
                apply={apply}
                done={() => take("scale")}
                say={setProblem}
              />
            )}
            {tool === "scale" && (
              <ScaleForm scale={scale} change={setScale} ready={clicks.length === 2} done={scaled} />
            )}
            {tool === "outline" && clicks.length >= 2 && (
              <button type="button" className="button mt-2" onClick={outlined}>
                {clicks.length === 2
                  ? t`Take these as opposite corners`
                  : t`Close with ${clicks.length} corners`}{" "}
                <kbd className="key">
                  <Trans>Enter</Trans>
                </kbd>
              </button>
            )}
            {tool === "chips" && (
              <NextChips
                document={document}
                apply={apply}
                size={size}
                setSize={setSize}
                called={called}
                setCalled={setCalled}
              />
            )}
            {(document.photographs?.length ?? 0) > 0 && (
              <label className="mt-2 flex items-center gap-3">
                <Trans>Photograph</Trans>
                <input
                  type="range"
                  min={0}
                  max={1}
                  step={0.1}
                  value={photo}
                  onChange={(event) => setPhoto(Number(event.target.value))}
                />
              </label>
            )}
          </fieldset>
          {untaken.length > 0 && (
            <Sketched untaken={untaken} nodes={sketch.data?.nodes ?? []} apply={apply} />
          )}
          {(drafting.refused || problem) && (
            <p role="alert" className="border-l-4 border-suspect pl-3">
              <Trans>{problem?.message ?? drafting.refused} The draft is kept.</Trans>
            </p>
          )}
          {drafting.said && (
            <p role="status" className="border-l-4 border-ink bg-tray px-3 py-2">
              {drafting.said}
            </p>
          )}
          {chosen.length > 0 && (
            <Properties
              document={document}
              chosen={chosen}
              apply={apply}
              act={act}
              remove={remove}
              packages={(packages.data ?? []).map((entry) => entry.name)}
            />
          )}
          <WalkTable
            document={document}
            drawing={draft.drawing}
            apply={apply}
            choose={(designator) => {
              const index = document.sites?.findIndex((site) => site.designator === designator) ?? -1;
              if (index >= 0) setChosen([["sites", index]]);
            }}
            channels={families.data?.find((family) => family.slug === document.family)?.channels ?? []}
          />
          <PlacementFile apply={apply} />
          {misfits.length > 0 && <Misfits misfits={misfits} />}
        </div>
        <SaveBar
          note={note}
          setNote={setNote}
          label={start.base === 0 ? t`Save the model` : t`Save as edition ${start.base + 1}`}
          save={misfits.length > 0 ? undefined : () => void save()}
        />
      </div>
    </main>
  );
}

/** That an unsaved draft of this browser was opened, and throwing it away. */
function KeptDraft({ forget }: { forget: () => void }) {
  return (
    <p className="border-l-4 border-ink bg-tray px-3 py-2">
      <Trans>This is your unsaved draft from this browser. </Trans>
      <button
        type="button"
        className="button-plain"
        onClick={() => {
          forget();
          window.location.reload();
        }}
      >
        <Trans>Discard it</Trans>
      </button>
    </p>
  );
}

/** The tools, each with its key. */
function ToolButtons({ tool, take }: { tool: Tool; take: (tool: Tool) => void }) {
  return (
    <div className="grid grid-cols-3 gap-1.5 sm:grid-cols-5 lg:grid-cols-4 xl:grid-cols-5">
      {TOOLS.map((entry) => (
        <button
          key={entry.tool}
          type="button"
          aria-pressed={tool === entry.tool}
          className="button flex flex-col items-center gap-0.5 px-1 py-1.5 text-[15px] leading-tight aria-pressed:border-ink aria-pressed:bg-tray"
          onClick={() => take(entry.tool)}
        >
          {entry.name} <kbd className="key">{entry.key}</kbd>
        </button>
      ))}
    </div>
  );
}

interface SaveBarProps {
  note: string;
  setNote: (note: string) => void;
  label: string;
  /** none while something does not fit */
  save: (() => void) | undefined;
}

/** What changed, in words for the history, and saving it. */
function SaveBar({ note, setNote, label, save }: SaveBarProps) {
  return (
    <footer className="flex flex-wrap items-center gap-3 border-t border-rule p-4">
      <input
        className="field min-w-0 flex-1"
        aria-label={t`What changed, for the history`}
        placeholder={t`what changed, for the history`}
        maxLength={200}
        value={note}
        onChange={(event) => setNote(event.target.value)}
      />
      <button type="button" className="button" disabled={!save} onClick={save}>
        {label}
      </button>
    </footer>
  );
}

/** Chips beside the core stand upright, those above and below lie, as they do on most boards. */
function turnTowardsCore(document: BoardDocument, [x, y]: Point): number {
  const [across, up] = [x - Number(document.core?.x_mm ?? 0), y - Number(document.core?.y_mm ?? 0)];
  return Math.abs(across) > Math.abs(up) ? 90 : 0;
}

/** Ctrl+Z, Ctrl+Shift+Z and Ctrl+S, outside of fields. */
function useUndoKeys(undo: (() => void) | undefined, redo: (() => void) | undefined, save: () => void) {
  const latest = useRef({ undo, redo, save });
  latest.current = { undo, redo, save };
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey)) return;
      const typing = event.target instanceof HTMLElement && event.target.matches("input, textarea, select");
      const key = event.key.toLowerCase();
      if (key === "s") latest.current.save();
      else if (key === "z" && !typing) (event.shiftKey ? latest.current.redo : latest.current.undo)?.();
      else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, []);
}
