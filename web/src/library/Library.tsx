import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type ChangeEvent, type DragEvent, useState } from "react";
import { Link } from "react-router";
import { api, type BoardModel, data } from "../api/client";
import { upload } from "../api/upload";
import { Loading, Trouble } from "../shared/states";
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
        const model = await upload<BoardModel>("/api/v1/board-models", form, () => undefined);
        lines.push(`${model.name}, revision ${model.revision || "–"}: edition ${model.edition}.`);
      } catch (problem) {
        lines.push((problem as Error).message);
      }
    }
    setSaid(lines);
    await queries.invalidateQueries({ queryKey: ["board-models"] });
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    void take([...event.dataTransfer.files]);
  };
  return (
    <main className="p-6" onDragOver={(event) => event.preventDefault()} onDrop={drop}>
      <header className="mb-4 flex items-center gap-4">
        <h1 className="text-3xl font-bold">Library</h1>
        <p className="text-soft">Board models</p>
        {mayWorkAtBench(session.data?.person) && (
          <label className="button ml-auto grid cursor-pointer place-items-center focus-within:outline-3 focus-within:outline-focus">
            Import a board model
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
    </main>
  );
}
