import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { api, newId, type Ohms } from "../api/client";
import type { paths } from "../api/schema";
import { ohmsQuery } from "../queries/job";
import { keyOf } from "../queries/keys";
import { NOTHING_ELSE, useKeeping } from "../shared/keeping";

type Entry = NonNullable<
  paths["/api/v1/jobs/{number}/readings"]["post"]["requestBody"]
>["content"]["application/json"];
export type ReadingEntry = Omit<Entry, "id">;

/** What was read of a job, and entering more; what went wrong is said in `problem`, and nothing entered is lost. */
export function useOhms(number: number) {
  const queries = useQueryClient();
  // a reading about a thousandfold off: asked back before it is stored
  const [slip, setSlip] = useState<{ said: string; entry: ReadingEntry } | null>(null);
  const last = useRef<string | null>(null);
  // how many readings were stored from here: with each of them the field begins anew, not with somebody else's
  const [stored, setStored] = useState(0);
  const key = ohmsQuery(number).queryKey;
  const params = { path: { number } };
  const ohms = useQuery(ohmsQuery(number));
  const follow = [keyOf("job", String(number)), keyOf("owed", number), keyOf("shorts", number)];
  const keeping = useKeeping(follow);
  const keep = async (ask: () => Promise<{ data?: Ohms }>) => (await keeping.keep(ask, key)) !== null;
  const powerOff = () =>
    keep(() => api.POST("/api/v1/jobs/{number}/power", { params, body: { id: newId(), state: "off" } }));
  const click = (
    named: { name: string; kind?: "pad" | "fuse" | "coil" | "part" | "plug"; node?: string },
    side: "front" | "back",
    picture: string,
    [x, y]: readonly [number, number],
  ) =>
    keep(() =>
      api.POST("/api/v1/jobs/{number}/photo-points", {
        params,
        body: { id: newId(), ...named, side, picture, x_px: Math.round(x), y_px: Math.round(y) },
      }),
    );
  /** The verdict is shown as soon as it is said; what follows from it (locks, suspects) a moment later. */
  const read = async (entry: ReadingEntry) => {
    setSlip(null);
    const body = { id: newId(), ...entry };
    const said = await keeping.keep(
      () => api.POST("/api/v1/jobs/{number}/readings", { params, body }),
      undefined,
      (problem) => {
        if (problem.code !== "unit-slip") return false;
        setSlip({ said: problem.message, entry });
        return true;
      },
      NOTHING_ELSE,
    );
    if (said === null) return false;
    setStored((times) => times + 1);
    if (said === "kept") return true;
    last.current = said.id;
    // a pin of a chip is shown with its fellows, not among the rails
    const [at] = said.point.split("/");
    queries.setQueryData(key, (old) =>
      old?.points.some((point) => point.name === at)
        ? {
            ...old,
            readings: [...old.readings, said],
            // read again by now: the next in turn is another one
            again: old.again.filter((name) => name !== said.point),
          }
        : old,
    );
    void queries.invalidateQueries({ queryKey: key }).then(() => {
      for (const queryKey of follow) void queries.invalidateQueries({ queryKey });
    });
    return true;
  };
  const tick = (point: string, skipped: string) =>
    keep(() => api.POST("/api/v1/jobs/{number}/ticks", { params, body: { id: newId(), point, skipped } }));
  const sweep = (name: string) =>
    keep(() => api.POST("/api/v1/jobs/{number}/sweeps", { params, body: { id: newId(), name } }));
  const swap = (point: string, rating: string, reason: string) =>
    keep(() =>
      api.POST("/api/v1/jobs/{number}/fuse-swaps", {
        params,
        body: { id: newId(), point, rating, reason },
      }),
    );
  const setMeter = async (body: { name: string; lead_ohms: number; address: string }) => {
    const set = await keeping.keep(
      () => api.PUT("/api/v1/meters", { body }),
      undefined,
      undefined,
      NOTHING_ELSE,
    );
    await queries.invalidateQueries({ queryKey: key });
    return set !== null;
  };
  const forget = () => setSlip(null);
  /** the id of the reading that was answered last */
  const lastRead = () => last.current;
  const problem = keeping.said;
  return {
    ohms,
    problem,
    lastRead,
    stored,
    slip,
    powerOff,
    click,
    read,
    tick,
    sweep,
    swap,
    setMeter,
    forget,
  };
}

export type Measuring = ReturnType<typeof useOhms>;
