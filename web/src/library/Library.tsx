import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type ChangeEvent, type DragEvent, useState } from "react";
import { Link } from "react-router";
import { api, type BoardModel, data, type Reader } from "../api/client";
import { upload } from "../api/upload";
import { Loading, Trouble } from "../shared/states";
import { day } from "../shared/words";
import { mayWorkAtBench, useSession } from "../signin/session";

/** The library's board models; a `.board.json` dropped here becomes one, or a new edition of one. */
export function Library() {
  const models = useQuery({
    queryKey: ["board-models"],
    queryFn: async () => data(await api.GET("/api/v1/board-models")),
  });
  const session = useSession();
  const queries = useQueryClient();
  const [said, setSaid] = useState<string[]>([]);
  const take = async (files: File[]) => {
    const lines: string[] = [];
    for (const file of files) {
      const form = new FormData();
      form.append("file", file);
      try {
        lines.push(await imported(file, form));
      } catch (problem) {
        lines.push((problem as Error).message);
      }
    }
    setSaid(lines);
    await queries.invalidateQueries({ queryKey: ["board-models"] });
    await queries.invalidateQueries({ queryKey: ["readers"] });
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    void take([...event.dataTransfer.files]);
  };
  return (
    <main className="p-6" onDragOver={(event) => event.preventDefault()} onDrop={drop}>
      <header className="mb-4 flex items-center gap-4">
        <h1 className="text-3xl font-bold">Library</h1>
        {mayWorkAtBench(session.data?.person) && (
          <label className="button ml-auto grid cursor-pointer place-items-center focus-within:outline-3 focus-within:outline-focus">
            Import a board model or reader
            <input
              type="file"
              accept=".json"
              multiple
              className="sr-only"
              onChange={(event: ChangeEvent<HTMLInputElement>) => {
                void take([...(event.target.files ?? [])]);
                event.target.value = "";
              }}
            />
          </label>
        )}
      </header>
      <div role="status">
        {said.map((line) => (
          <p key={line} className="mb-2 border-l-4 border-ink bg-sheet p-3">
            {line}
          </p>
        ))}
      </div>
      <h2 className="mb-2 text-xl font-bold">Board models</h2>
      {models.isPending && <Loading what="Reading the library" />}
      {models.isError && <Trouble problem={models.error} again={() => models.refetch()} />}
      {models.data?.length === 0 && (
        <p className="rounded-md border border-rule bg-sheet p-6">
          No board model yet. Drop a file NAME.board.json here; docs/formats describes it.
        </p>
      )}
      <ul className="border-t border-rule">
        {models.data?.map((model) => (
          <li key={model.slug} className="border-b border-rule bg-sheet">
            <Link
              to={`/library/${model.slug}`}
              className="grid grid-cols-2 lg:grid-cols-[1fr_8rem_10rem_8rem] items-center gap-4 px-4 py-4 hover:bg-tray"
            >
              <strong className="text-lg">{model.name}</strong>
              <span>revision {model.revision || "–"}</span>
              <span>{model.sites} chips fitted</span>
              <span className="text-soft">edition {model.edition}</span>
            </Link>
          </li>
        ))}
      </ul>
      <Readers mayWork={mayWorkAtBench(session.data?.person)} />
    </main>
  );
}

/** Takes a file in by what it says it is. */
async function imported(file: File, form: FormData): Promise<string> {
  if ((await file.text()).includes('"uvrix-reader"')) {
    const reader = await upload<Reader>("/api/v1/readers", form, () => undefined);
    return `Reader ${reader.name}: edition ${reader.edition}.`;
  }
  const model = await upload<BoardModel>("/api/v1/board-models", form, () => undefined);
  return `${model.name}, revision ${model.revision || "–"}: edition ${model.edition}.`;
}

function Readers({ mayWork }: { mayWork: boolean }) {
  const readers = useQuery({
    queryKey: ["readers"],
    queryFn: async () => data(await api.GET("/api/v1/readers")),
  });
  return (
    <section className="mt-8" aria-labelledby="readers">
      <header className="mb-2 flex items-center">
        <h2 id="readers" className="text-xl font-bold">
          Taught readers
        </h2>
        {mayWork && (
          <Link to="/library/readers/teach" className="button ml-auto grid place-items-center">
            Teach a reader
          </Link>
        )}
      </header>
      {readers.data?.length === 0 && (
        <p className="rounded-md border border-rule bg-sheet p-6">
          No reader yet. Drop a report of your own tester on a job, or teach one from a sample here.
        </p>
      )}
      <ul className="border-t border-rule">
        {readers.data?.map((reader) => (
          <li
            key={reader.slug}
            className="grid grid-cols-2 items-center gap-4 border-b border-rule bg-sheet px-4 py-3 lg:grid-cols-[1fr_8rem_16rem_8rem]"
          >
            <strong className="text-lg">{reader.name}</strong>
            <span>edition {reader.edition}</span>
            <span className="text-soft">
              {reader.added_by}, {day(reader.added_at)}
            </span>
            <a
              className="button grid place-items-center"
              href={`/api/v1/readers/${reader.slug}/file`}
              download
            >
              Export
            </a>
          </li>
        ))}
      </ul>
    </section>
  );
}
