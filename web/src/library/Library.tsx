import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type DragEvent, type ReactNode, useState } from "react";
import { Link } from "react-router";
import {
  api,
  type BoardModel,
  data,
  type Family,
  type Package,
  type Reader,
  type Recipe,
} from "../api/client";
import { upload } from "../api/upload";
import { ChooseFile } from "../shared/ChooseFile";
import { Loading, Trouble } from "../shared/states";
import { day } from "../shared/words";
import { mayWorkAtBench, useSession } from "../signin/session";

/** What the shop knows: board models, core families, recipes, readers, packages; a file of any kind may be dropped. */
export function Library() {
  const models = useQuery({
    queryKey: ["board-models"],
    queryFn: async () => data(await api.GET("/api/v1/board-models")),
  });
  const session = useSession();
  const mayWork = mayWorkAtBench(session.data?.person);
  const queries = useQueryClient();
  const [said, setSaid] = useState<string[]>([]);
  const take = async (files: File[]) => {
    const lines: string[] = [];
    for (const file of files) {
      try {
        lines.push(await imported(file));
      } catch (problem) {
        lines.push((problem as Error).message);
      }
    }
    setSaid(lines);
    for (const kind of ["board-models", "readers", "families", "recipes", "packages"])
      await queries.invalidateQueries({ queryKey: [kind] });
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    if (mayWork) void take([...event.dataTransfer.files]);
  };
  return (
    <main className="space-y-8 p-6" onDragOver={(event) => event.preventDefault()} onDrop={drop}>
      <header className="flex flex-wrap items-center gap-3">
        <h1 className="text-3xl font-bold">Library</h1>
        {mayWork && (
          <span className="ml-auto flex flex-wrap gap-3">
            <Link to="/library/new" className="button grid place-items-center">
              New board model
            </Link>
            <ChooseFile take={(files) => void take(files)} accept=".json,.csv" multiple>
              Import files
            </ChooseFile>
          </span>
        )}
      </header>
      <div role="status">
        {said.map((line) => (
          <p key={line} className="mb-2 border-l-4 border-ink bg-sheet p-3">
            {line}
          </p>
        ))}
      </div>
      <section aria-labelledby="models">
        <h2 id="models" className="mb-2 text-xl font-bold">
          Board models
        </h2>
        {models.isPending && <Loading what="Reading the library" />}
        {models.isError && <Trouble problem={models.error} again={() => models.refetch()} />}
        {models.data?.length === 0 && (
          <p className="rounded-md border border-rule bg-sheet p-6">
            No board model yet. Draw one from a photograph, or drop a file NAME.board.json here.
          </p>
        )}
        <ul className="border-t border-rule">
          {models.data?.map((model) => (
            <li key={model.slug} className="border-b border-rule bg-sheet">
              <Link
                to={`/library/${model.slug}`}
                className="grid grid-cols-2 items-center gap-4 px-4 py-3 hover:bg-tray lg:grid-cols-[1fr_8rem_10rem_12rem_8rem]"
              >
                <strong className="text-lg">{model.name}</strong>
                <span>revision {model.revision || "–"}</span>
                {model.edition === 0 ? (
                  <strong>not drawn yet</strong>
                ) : (
                  <span>{model.sites} chips fitted</span>
                )}
                <span className="text-soft">
                  {model.open_places > 0 && `${model.open_places} of ${model.places} places open`}
                </span>
                <span className="text-soft">{model.edition > 0 && `edition ${model.edition}`}</span>
              </Link>
            </li>
          ))}
        </ul>
      </section>
      <Families />
      <Recipes mayWork={mayWork} />
      <Readers mayWork={mayWork} />
      <Packages />
      <p>
        <Link className="button-plain" to="/meters">
          Meters and their morning check
        </Link>
        <Link className="button-plain" to="/library/pack">
          The library in one file, and another shop’s
        </Link>
        <Link className="button-plain" to="/library/plans">
          Bench plans, for boards that nobody has drawn
        </Link>
        <Link className="button-plain" to="/library/pinouts">
          Pinouts by marking
        </Link>
        <Link className="button-plain" to="/library/rework">
          Rework: what this shop allows
        </Link>
        <Link className="button-plain" to="/library/proof">
          Proof and warranty
        </Link>
        <Link className="button-plain" to="/library/habits">
          What to try next: times and chances
        </Link>
      </p>
    </main>
  );
}

/** Takes a file in by what it says it is. */
async function imported(file: File): Promise<string> {
  const form = new FormData();
  form.append("file", file);
  const send = <T,>(address: string) => upload<T>(`/api/v1/${address}`, form, () => undefined);
  if (file.name.toLowerCase().endsWith(".csv")) {
    const one = await send<Package>("packages");
    return `Package ${one.name}: ${one.balls.length} balls.`;
  }
  const text = await file.text();
  if (text.includes('"uvrix-reader"')) {
    const reader = await send<Reader>("readers");
    return `Reader ${reader.name}: edition ${reader.edition}.`;
  }
  if (text.includes('"uvrix-family"')) {
    const family = await send<Family>("families");
    return `Core family ${family.name}: edition ${family.edition}.`;
  }
  if (text.includes('"uvrix-recipe"')) {
    let document: Record<string, unknown>;
    try {
      document = JSON.parse(text);
    } catch {
      throw new Error(`${file.name}: found no JSON, expected a recipe.`);
    }
    const recipe = data(await api.POST("/api/v1/recipes", { body: { document } }));
    return `Recipe ${recipe.name}: edition ${recipe.edition}.`;
  }
  const model = await send<BoardModel>("board-models");
  return `${model.name}, revision ${model.revision || "–"}: edition ${model.edition}.`;
}

interface SectionProps {
  id: string;
  title: string;
  empty: string;
  count: number | undefined;
  action?: ReactNode;
  children: ReactNode;
}

function Section({ id, title, empty, count, action, children }: SectionProps) {
  return (
    <section aria-labelledby={id}>
      <header className="mb-2 flex items-center">
        <h2 id={id} className="text-xl font-bold">
          {title}
        </h2>
        {action && <span className="ml-auto">{action}</span>}
      </header>
      {count === 0 && <p className="rounded-md border border-rule bg-sheet p-4">{empty}</p>}
      <ul className="border-t border-rule">{children}</ul>
    </section>
  );
}

const ROW =
  "grid grid-cols-2 items-center gap-4 border-b border-rule bg-sheet px-4 py-2 lg:grid-cols-[16rem_1fr_8rem]";

function Export({ address }: { address: string }) {
  return (
    <a className="button grid place-items-center" href={`/api/v1/${address}`} download>
      Export
    </a>
  );
}

function Families() {
  const families = useQuery({
    queryKey: ["families"],
    queryFn: async () => data(await api.GET("/api/v1/families")),
  });
  return (
    <Section
      id="families"
      title="Core families"
      empty="No core family yet. Drop a file NAME.family.json: channels, usual order, rails of every board with one core."
      count={families.data?.length}
    >
      {families.data?.map((family) => (
        <li key={family.slug} className={ROW}>
          <strong className="text-lg">{family.name}</strong>
          <span>
            <span className="font-mono">{family.channels.join(" ")}</span>
            <span className="block text-soft">
              {family.boards.length > 0
                ? `carried by ${family.boards.join("; ")}`
                : "carried by no board yet"}
            </span>
          </span>
          <Export address={`families/${family.slug}/file`} />
        </li>
      ))}
    </Section>
  );
}

function Recipes({ mayWork }: { mayWork: boolean }) {
  const recipes = useQuery({
    queryKey: ["recipes"],
    queryFn: async () => data(await api.GET("/api/v1/recipes")),
  });
  return (
    <Section
      id="recipes"
      title="Recipes of the tester"
      empty="No recipe yet: how your tester is run on each host, with which build, for which boards."
      count={recipes.data?.length}
      action={
        mayWork && (
          <Link to="/library/recipes/new" className="button grid place-items-center">
            Write a recipe
          </Link>
        )
      }
    >
      {recipes.data?.map((recipe: Recipe) => (
        <li key={recipe.slug} className={ROW}>
          <Link className="button-plain -ml-2 text-lg font-bold" to={`/library/recipes/${recipe.slug}`}>
            {recipe.name}
          </Link>
          <span>
            {String(recipe.document.host)}, build {String(recipe.document.build)}
            <span className="block text-soft">
              edition {recipe.edition}, {recipe.added_by}, {day(recipe.added_at)}
            </span>
          </span>
          <Export address={`recipes/${recipe.slug}/file`} />
        </li>
      ))}
    </Section>
  );
}

function Readers({ mayWork }: { mayWork: boolean }) {
  const readers = useQuery({
    queryKey: ["readers"],
    queryFn: async () => data(await api.GET("/api/v1/readers")),
  });
  return (
    <Section
      id="readers"
      title="Taught readers"
      empty="No reader yet. Drop a report of your own tester on a job, or teach one from a sample here."
      count={readers.data?.length}
      action={
        mayWork && (
          <Link to="/library/readers/teach" className="button grid place-items-center">
            Teach a reader
          </Link>
        )
      }
    >
      {readers.data?.map((reader) => (
        <li key={reader.slug} className={ROW}>
          <strong className="text-lg">{reader.name}</strong>
          <span className="text-soft">
            edition {reader.edition}, {reader.added_by}, {day(reader.added_at)}
          </span>
          <Export address={`readers/${reader.slug}/file`} />
        </li>
      ))}
    </Section>
  );
}

function Packages() {
  const packages = useQuery({
    queryKey: ["packages"],
    queryFn: async () => data(await api.GET("/api/v1/packages")),
  });
  return (
    <Section
      id="packages"
      title="Packages"
      empty="No package yet. Drop a ball map NAME.csv (ball, signal, class) here."
      count={packages.data?.length}
    >
      {packages.data?.map((one) => (
        <li key={one.name} className={ROW}>
          <Link
            className="button-plain -ml-2 text-lg font-bold"
            to={`/library/packages/${encodeURIComponent(one.name)}`}
          >
            {one.name}
          </Link>
          <span className="text-soft">
            {one.balls.length} balls, {one.lines} data lines
          </span>
          <Export address={`packages/${encodeURIComponent(one.name)}/file`} />
        </li>
      ))}
    </Section>
  );
}
