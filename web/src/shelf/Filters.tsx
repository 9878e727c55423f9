import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, newId } from "../api/client";
import { keyOf } from "../queries/keys";
import { boardModelsQuery } from "../queries/library";
import { filtersQuery } from "../queries/shop";

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
  const saved = useQuery(filtersQuery());
  const models = useQuery(boardModelsQuery());
  const change = (part: Partial<Wanted>) => want({ ...wanted, ...part });
  const asks = JSON.stringify(wanted) !== JSON.stringify(ALL);
  const keep = async () => {
    const body = { id: newId(), name: name.trim(), ...wanted, move: wanted.move as "hands" };
    queries.setQueryData(filtersQuery().queryKey, data(await api.POST("/api/v1/filters", { body })));
    setName("");
  };
  const drop = async (id: string) => {
    await api.DELETE("/api/v1/filters/{saved}", { params: { path: { saved: id } } });
    await queries.invalidateQueries({ queryKey: keyOf("filters") });
  };
  return (
    <search className="mb-4 flex flex-wrap items-end gap-3">
      <label className="min-w-52 flex-1">
        <span className="block text-soft">
          <Trans>serial, customer, designator, note</Trans>
        </span>
        <input
          className="field w-full"
          maxLength={200}
          value={wanted.text}
          onChange={(event) => change({ text: event.target.value })}
        />
      </label>
      <Select
        className="field"
        aria-label={t`Board model`}
        value={wanted.board_model}
        onChange={(event) => change({ board_model: event.target.value })}
      >
        <option value="">{t`all boards`}</option>
        {models.data?.map((model) => (
          <option key={model.slug} value={model.slug}>
            {model.name}
          </option>
        ))}
      </Select>
      <Select
        className="field"
        aria-label={t`Whose move`}
        value={wanted.move}
        onChange={(event) => change({ move: event.target.value })}
      >
        <option value="">{t`waiting on anyone`}</option>
        <option value="hands">{t`your hands`}</option>
        <option value="customer">{t`customer’s word`}</option>
        <option value="part">{t`a part`}</option>
        <option value="courier">{t`courier`}</option>
      </Select>
      <label className="flex min-h-11 items-center gap-2">
        <input
          type="checkbox"
          className="size-6"
          checked={wanted.express}
          onChange={(event) => change({ express: event.target.checked })}
        />
        <Trans>express</Trans>
      </label>
      {asks && (
        <>
          <label className="w-36">
            <span className="block text-soft">
              <Trans>keep it as</Trans>
            </span>
            <input
              className="field w-full"
              maxLength={40}
              value={name}
              onChange={(event) => setName(event.target.value)}
            />
          </label>
          <button type="button" className="button" disabled={!name.trim()} onClick={() => void keep()}>
            <Trans>Keep</Trans>
          </button>
          <button type="button" className="button" onClick={() => want(ALL)}>
            <Trans>Show all</Trans>
          </button>
        </>
      )}
      {saved.data && saved.data.length > 0 && (
        <ul aria-label={t`Kept filters`} className="flex w-full flex-wrap gap-2">
          {saved.data.map((entry) => (
            <li key={entry.id} className="flex rounded-md border-2 border-edge">
              <button
                type="button"
                className="min-h-11 px-3 font-semibold"
                onClick={() =>
                  want({
                    text: entry.text ?? "",
                    board_model: entry.board_model ?? "",
                    move: entry.move ?? "",
                    express: entry.express ?? false,
                  })
                }
              >
                {entry.name}
              </button>
              <button
                type="button"
                className="min-h-11 px-2 text-soft"
                aria-label={t`Drop the filter ${entry.name}`}
                onClick={() => void drop(entry.id)}
              >
                <Trans>drop</Trans>
              </button>
            </li>
          ))}
        </ul>
      )}
    </search>
  );
}
