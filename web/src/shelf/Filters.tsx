import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, newId } from "../api/client";

export interface Wanted {
  text: string;
  board_model: string;
  move: string;
  express: boolean;
}

const ALL: Wanted = { text: "", board_model: "", move: "", express: false };

interface FiltersProps {
  wanted: Wanted;
  want: (wanted: Wanted) => void;
}

/** What of the shelf is shown; a filter can be kept under a name. */
export function Filters({ wanted, want }: FiltersProps) {
  const [name, setName] = useState("");
  const queries = useQueryClient();
  const saved = useQuery({
    queryKey: ["filters"],
    queryFn: async () => data(await api.GET("/api/v1/filters")),
  });
  const models = useQuery({
    queryKey: ["board-models"],
    queryFn: async () => data(await api.GET("/api/v1/board-models")),
  });
  const change = (part: Partial<Wanted>) => want({ ...wanted, ...part });
  const asks = JSON.stringify(wanted) !== JSON.stringify(ALL);
  const keep = async () => {
    const body = { id: newId(), name: name.trim(), ...wanted, move: wanted.move as "hands" };
    queries.setQueryData(["filters"], data(await api.POST("/api/v1/filters", { body })));
    setName("");
  };
  const drop = async (id: string) => {
    await api.DELETE("/api/v1/filters/{saved}", { params: { path: { saved: id } } });
    await queries.invalidateQueries({ queryKey: ["filters"] });
  };
  return (
    <search className="mb-4 flex flex-wrap items-end gap-3">
      <label className="min-w-52 flex-1">
        <span className="block text-soft">serial, customer, designator, note</span>
        <input
          className="field w-full"
          maxLength={200}
          value={wanted.text}
          onChange={(event) => change({ text: event.target.value })}
        />
      </label>
      <select
        className="field"
        aria-label="Board model"
        value={wanted.board_model}
        onChange={(event) => change({ board_model: event.target.value })}
      >
        <option value="">all boards</option>
        {models.data?.map((one) => (
          <option key={one.slug} value={one.slug}>
            {one.name}
          </option>
        ))}
      </select>
      <select
        className="field"
        aria-label="Whose move"
        value={wanted.move}
        onChange={(event) => change({ move: event.target.value })}
      >
        <option value="">waiting on anyone</option>
        <option value="hands">your hands</option>
        <option value="customer">customer’s word</option>
        <option value="part">a part</option>
        <option value="courier">courier</option>
      </select>
      <label className="flex min-h-11 items-center gap-2">
        <input
          type="checkbox"
          className="size-6"
          checked={wanted.express}
          onChange={(event) => change({ express: event.target.checked })}
        />
        express
      </label>
      {asks && (
        <>
          <label className="w-36">
            <span className="block text-soft">keep it as</span>
            <input
              className="field w-full"
              maxLength={40}
              value={name}
              onChange={(event) => setName(event.target.value)}
            />
          </label>
          <button type="button" className="button" disabled={!name.trim()} onClick={() => void keep()}>
            Keep
          </button>
          <button type="button" className="button" onClick={() => want(ALL)}>
            Show all
          </button>
        </>
      )}
      {saved.data && saved.data.length > 0 && (
        <ul aria-label="Kept filters" className="flex w-full flex-wrap gap-2">
          {saved.data.map((one) => (
            <li key={one.id} className="flex rounded-md border-2 border-edge">
              <button
                type="button"
                className="min-h-11 px-3 font-semibold"
                onClick={() =>
                  want({
                    text: one.text ?? "",
                    board_model: one.board_model ?? "",
                    move: one.move ?? "",
                    express: one.express ?? false,
                  })
                }
              >
                {one.name}
              </button>
              <button
                type="button"
                className="min-h-11 px-2 text-soft"
                aria-label={`Drop the filter ${one.name}`}
                onClick={() => void drop(one.id)}
              >
                drop
              </button>
            </li>
          ))}
        </ul>
      )}
    </search>
  );
}
