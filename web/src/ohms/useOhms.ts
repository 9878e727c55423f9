import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { api, data, isKept, newId, type Ohms, Problem } from "../api/client";
import type { paths } from "../api/schema";

type Entry = NonNullable<
  paths["/api/v1/jobs/{number}/readings"]["post"]["requestBody"]
>["content"]["application/json"];
export type ReadingEntry = Omit<Entry, "id">;

/** What was read of a job, and entering more; what went wrong is said in `problem`, and nothing entered is lost. */
export function useOhms(number: number) {
  const queries = useQueryClient();
  const [problem, setProblem] = useState("");
  // a reading about a thousandfold off: asked back before it is stored
  const [slip, setSlip] = useState<{ said: string; entry: ReadingEntry } | null>(null);
  const last = useRef<string | null>(null);
  const key = ["ohms", number];
  const params = { path: { number } };
  const ohms = useQuery({
    queryKey: key,
    queryFn: async () => data(await api.GET("/api/v1/jobs/{number}/ohms", { params })),
  });
  const follow = () => {
    for (const room of [
      ["job", String(number)],
      ["owed", number],
      ["shorts", number],
    ])
      void queries.invalidateQueries({ queryKey: room });
  };
  const keep = async (ask: () => Promise<{ data?: Ohms }>) => {
    setProblem("");
    try {
      queries.setQueryData(key, data(await ask()));
      follow();
      return true;
    } catch (error) {
      setProblem((error as Error).message);
      return isKept(error);
    }
  };
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
    setProblem("");
    try {
      const body = { id: newId(), ...entry };
      const said = data(await api.POST("/api/v1/jobs/{number}/readings", { params, body }));
      last.current = said.id;
      // a pin of a chip is shown with its fellows, not among the rails
      const [at] = said.point.split("/");
      queries.setQueryData<Ohms>(key, (old) =>
        old?.points.some((point) => point.name === at)
          ? {
              ...old,
              readings: [...old.readings, said],
              // read again by now: the next in turn is another one
              again: old.again.filter((name) => name !== said.point),
            }
          : old,
      );
      void queries.invalidateQueries({ queryKey: key }).then(follow);
      return true;
    } catch (error) {
      if (error instanceof Problem && error.code === "unit-slip") {
        setSlip({ said: error.message, entry });
        return false;
      }
      setProblem((error as Error).message);
      return isKept(error);
    }
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
    setProblem("");
    try {
      data(await api.PUT("/api/v1/meters", { body }));
      await queries.invalidateQueries({ queryKey: key });
      return true;
    } catch (error) {
      setProblem((error as Error).message);
      return false;
    }
  };
  const forget = () => setSlip(null);
  /** the id of the reading that was answered last */
  const lastRead = () => last.current;
  return { ohms, problem, lastRead, slip, powerOff, click, read, tick, sweep, swap, setMeter, forget };
}

export type Measuring = ReturnType<typeof useOhms>;
