import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
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
import { keyOf } from "../queries/keys";
import {
  boardModelsQuery,
  familiesQuery,
  packagesQuery,
  readersQuery,
  recipesQuery,
} from "../queries/library";
import { ChooseFile } from "../shared/ChooseFile";
import { LoadError, Loading } from "../shared/states";
import { day } from "../shared/words";
import { mayWorkAtBench, useSession } from "../signin/session";

/** What the shop knows: board models, core families, recipes, readers, packages; a file of any kind may be dropped. */
export function Library() {
  const models = useQuery(boardModelsQuery());
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
    for (const kind of ["board-models", "readers", "families", "recipes", "packages"] as const)
      await queries.invalidateQueries({ queryKey: keyOf(kind) });
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    if (mayWork) void take([...event.dataTransfer.files]);
  };
  return (
    <main className="space-y-8 p-6" onDragOver={(event) => event.preventDefault()} onDrop={drop}>
      <header className="flex flex-wrap items-center gap-3">
        <h1 className="text-3xl font-bold">
          <Trans>Library</Trans>
        </h1>
        {mayWork && (
          <span className="ml-auto flex flex-wrap gap-3">
            <Link to="/library/new" className="button grid place-items-center">
              <Trans>New board model</Trans>
            </Link>
            <ChooseFile take={(files) => void take(files)} accept=".json,.csv" multiple>
              <Trans>Import files</Trans>
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
          <Trans>Board models</Trans>
        </h2>
        {models.isPending && <Loading what={t`Reading the library`} />}
        {models.isError && <LoadError problem={models.error} again={() => models.refetch()} />}
        {models.data?.length === 0 && (
          <p className="rounded-md border border-rule bg-sheet p-6">
            <Trans>
              No board model yet. Draw one from a photograph, or drop a file NAME.board.json here.
            </Trans>
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
                <span>
                  <Trans>revision {model.revision || "–"}</Trans>
                </span>
                {model.edition === 0 ? (
                  <strong>
                    <Trans>not drawn yet</Trans>
                  </strong>
                ) : (
                  <span>
                    <Trans>{model.sites} chips fitted</Trans>
                  </span>
                )}
                <span className="text-soft">
                  {model.open_places > 0 && t`${model.open_places} of ${model.places} places open`}
                </span>
                <span className="text-soft">{model.edition > 0 && t`edition ${model.edition}`}</span>
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
          <Trans>Meters and their morning check</Trans>
        </Link>
        <Link className="button-plain" to="/library/pack">
          <Trans>The library in one file, and another shop’s</Trans>
        </Link>
        <Link className="button-plain" to="/library/plans">
          <Trans>Bench plans, for boards that nobody has drawn</Trans>
        </Link>
        <Link className="button-plain" to="/library/pinouts">
          <Trans>Pinouts by marking</Trans>
        </Link>
        <Link className="button-plain" to="/library/rework">
          <Trans>Rework: what this shop allows</Trans>
        </Link>
        <Link className="button-plain" to="/library/proof">
          <Trans>Proof and warranty</Trans>
        </Link>
        <Link className="button-plain" to="/library/habits">
          <Trans>What to try next: times and chances</Trans>
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
    return t`Package ${one.name}: ${one.balls.length} balls.`;
  }
  const text = await file.text();
  if (text.includes('"uvrix-reader"')) {
    const reader = await send<Reader>("readers");
    return t`Reader ${reader.name}: edition ${reader.edition}.`;
  }
  if (text.includes('"uvrix-family"')) {
    const family = await send<Family>("families");
    return t`Core family ${family.name}: edition ${family.edition}.`;
  }
  if (text.includes('"uvrix-recipe"')) {
    let document: Record<string, unknown>;
    try {
      document = JSON.parse(text);
    } catch {
      throw new Error(t`${file.name}: found no JSON, expected a recipe.`);
    }
    const recipe = data(await api.POST("/api/v1/recipes", { body: { document } }));
    return t`Recipe ${recipe.name}: edition ${recipe.edition}.`;
  }
  const model = await send<BoardModel>("board-models");
  return t`${model.name}, revision ${model.revision || "–"}: edition ${model.edition}.`;
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
      <Trans>Export</Trans>
    </a>
  );
}

function Families() {
  const families = useQuery(familiesQuery());
  return (
    <Section
      id="families"
      title={t`Core families`}
      empty={t`No core family yet. Drop a file NAME.family.json: channels, usual order, rails of every board with one core.`}
      count={families.data?.length}
    >
      {families.data?.map((family) => (
        <li key={family.slug} className={ROW}>
          <strong className="text-lg">{family.name}</strong>
          <span>
            <span className="font-mono">{family.channels.join(" ")}</span>
            <span className="block text-soft">
              {family.boards.length > 0
                ? t`carried by ${family.boards.join("; ")}`
                : t`carried by no board yet`}
            </span>
          </span>
          <Export address={`families/${family.slug}/file`} />
        </li>
      ))}
    </Section>
  );
}

function Recipes({ mayWork }: { mayWork: boolean }) {
  const recipes = useQuery(recipesQuery());
  return (
    <Section
      id="recipes"
      title={t`Recipes of the tester`}
      empty={t`No recipe yet: how your tester is run on each host, with which build, for which boards.`}
      count={recipes.data?.length}
      action={
        mayWork && (
          <Link to="/library/recipes/new" className="button grid place-items-center">
            <Trans>Write a recipe</Trans>
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
            <Trans>
              {String(recipe.document.host)}, build {String(recipe.document.build)}
            </Trans>
            <span className="block text-soft">
              <Trans>
                edition {recipe.edition}, {recipe.added_by}, {day(recipe.added_at)}
              </Trans>
            </span>
          </span>
          <Export address={`recipes/${recipe.slug}/file`} />
        </li>
      ))}
    </Section>
  );
}

function Readers({ mayWork }: { mayWork: boolean }) {
  const readers = useQuery(readersQuery());
  return (
    <Section
      id="readers"
      title={t`Taught readers`}
      empty={t`No reader yet. Drop a report of your own tester on a job, or teach one from a sample here.`}
      count={readers.data?.length}
      action={
        mayWork && (
          <Link to="/library/readers/teach" className="button grid place-items-center">
            <Trans>Teach a reader</Trans>
          </Link>
        )
      }
    >
      {readers.data?.map((reader) => (
        <li key={reader.slug} className={ROW}>
          <strong className="text-lg">{reader.name}</strong>
          <span className="text-soft">
            <Trans>
              edition {reader.edition}, {reader.added_by}, {day(reader.added_at)}
            </Trans>
          </span>
          <Export address={`readers/${reader.slug}/file`} />
        </li>
      ))}
    </Section>
  );
}

function Packages() {
  const packages = useQuery(packagesQuery());
  return (
    <Section
      id="packages"
      title={t`Packages`}
      empty={t`No package yet. Drop a ball map NAME.csv (ball, signal, class) here.`}
      count={packages.data?.length}
    >
      {packages.data?.map((entry) => (
        <li key={entry.name} className={ROW}>
          <Link
            className="button-plain -ml-2 text-lg font-bold"
            to={`/library/packages/${encodeURIComponent(entry.name)}`}
          >
            {entry.name}
          </Link>
          <span className="text-soft">
            <Trans>
              {entry.balls.length} balls, {entry.lines} data lines
            </Trans>
          </span>
          <Export address={`packages/${encodeURIComponent(entry.name)}/file`} />
        </li>
      ))}
    </Section>
  );
}
