import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { api, data, type Lie } from "../api/client";
import { Board } from "../board/Board";
import { Loading, Trouble } from "../shared/states";

/** One board model: its drawing, and the walk in numbers. */
export function BoardModelPage() {
  const { slug = "" } = useParams();
  const [lie, setLie] = useState<Lie>({ side: "front", turns: 0 });
  const model = useQuery({
    queryKey: ["board-model", slug],
    queryFn: async () => data(await api.GET("/api/v1/board-models/{slug}", { params: { path: { slug } } })),
  });
  if (model.isPending) return <Loading what="Reading the board model" />;
  if (model.isError) return <Trouble problem={model.error} again={() => model.refetch()} />;
  const { drawing } = model.data;
  return (
    <main className="grid grid-rows-[32rem_auto] lg:h-dvh lg:grid-cols-[58%_1fr] lg:grid-rows-1">
      <Board drawing={drawing} lie={lie} setLie={setLie} notes={{}} fit="board" title={model.data.name} />
      <div className="min-w-0 overflow-y-auto border-rule lg:border-l bg-sheet p-6">
        <h1 className="text-3xl font-bold">{model.data.name}</h1>
        <p className="text-soft">
          revision {model.data.revision || "–"}, edition {model.data.edition}
        </p>
        <a
          className="button mt-4 inline-grid place-items-center"
          href={`/api/v1/board-models/${slug}/file`}
          download
        >
          Export {slug}.board.json
        </a>
        <h2 className="mt-6 mb-2 text-xl font-bold">Round the core</h2>
        <p className="mb-3">
          {drawing.walk
            ? `From the corner “${drawing.walk.start}”, ${drawing.walk.direction} as seen on the front; the mark is at the core’s ${drawing.core.mark_corner} corner.`
            : "This model has no walk yet: channels are those that the sites name."}
        </p>
        <table className="w-full text-left">
          <thead className="text-soft">
            <tr>
              <th className="py-1 font-normal">Place</th>
              <th className="font-normal">Site</th>
              <th className="font-normal">Channel</th>
              <th className="font-normal">Side</th>
              <th className="font-normal">Lines</th>
            </tr>
          </thead>
          <tbody>
            {drawing.sites.map((site) => (
              <tr key={site.designator} className="border-t border-rule">
                <td className="py-1.5">{site.position ?? "–"}</td>
                <td className="font-mono font-bold">{site.designator}</td>
                <td className="font-mono">{site.channel ?? "?"}</td>
                <td>{site.fitted ? site.side : `${site.side}, not fitted`}</td>
                <td className="font-mono">{spans(site.lines)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </main>
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
