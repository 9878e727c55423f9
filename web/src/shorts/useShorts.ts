import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, isKept, newId, type Picture, Problem, type Shorts } from "../api/client";
import { sendPicture } from "../api/upload";
import type { Point } from "../board/view";
import { afterAct } from "../job/afterAct";

interface Laying {
  injection: string;
  side: "front" | "back";
  picture: Picture;
}

/** The hunt for a short, and entering what was done; `glowOf` is the injection whose warm spot is clicked next. */
export function useShorts(number: number) {
  const queries = useQueryClient();
  const [problem, setProblem] = useState("");
  const [glowOf, setGlowOf] = useState<string | null>(null);
  const [laying, setLaying] = useState<Laying | null>(null);
  const [opacity, setOpacity] = useState(0.85);
  const key = ["shorts", number];
  const params = { path: { number } };
  const shorts = useQuery({
    queryKey: key,
    queryFn: async () => data(await api.GET("/api/v1/jobs/{number}/shorts", { params })),
  });
  const keep = async (ask: () => Promise<{ data?: Shorts }>) => {
    setProblem("");
    try {
      queries.setQueryData(key, data(await ask()));
      afterAct(queries, number);
      return true;
    } catch (error) {
      setProblem((error as Error).message);
      return isKept(error);
    }
  };
  const inject = async (fed: {
    rail: string;
    point: string;
    wire: boolean;
    volts: number;
    amps: number;
    note: string;
    on_purpose: boolean;
  }) => {
    setProblem("");
    try {
      const body = { id: newId(), ...fed };
      queries.setQueryData(key, data(await api.POST("/api/v1/jobs/{number}/injections", { params, body })));
      afterAct(queries, number);
      return true;
    } catch (error) {
      // more than may be fed: asked back beside the field, and recorded where it was so
      if (error instanceof Problem && error.code === "above-advice") return error.message;
      setProblem((error as Error).message);
      return isKept(error);
    }
  };
  /** Where it glowed; no side where nothing did. */
  const glow = async (side: "front" | "back" | "", [x_mm, y_mm]: Point, of = glowOf) => {
    if (!of) return false;
    const kept = await keep(() =>
      api.POST("/api/v1/injections/{injection}/glows", {
        params: { path: { injection: of } },
        body: { id: newId(), side, x_mm, y_mm },
      }),
    );
    if (kept) setGlowOf(null);
    return kept;
  };
  const photograph = async (injection: string, side: "front" | "back", file: File) => {
    setProblem("");
    try {
      setLaying({ injection, side, picture: await sendPicture(file) });
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  const lay = async (corners: number[][]) => {
    if (!laying) return;
    const kept = await keep(() =>
      api.POST("/api/v1/injections/{injection}/thermals", {
        params: { path: { injection: laying.injection } },
        body: { id: newId(), side: laying.side, picture: laying.picture.sha256, corners },
      }),
    );
    if (kept) setLaying(null);
  };
  const takeOff = (part: string) =>
    keep(() => api.POST("/api/v1/jobs/{number}/taken-off", { params, body: { id: newId(), part } }));
  const cutOut = (rail: string, places: string[], note: string) =>
    keep(() =>
      api.POST("/api/v1/jobs/{number}/cut-outs", { params, body: { id: newId(), rail, places, note } }),
    );
  const view = { glowOf, setGlowOf, laying, setLaying, opacity, setOpacity };
  return { shorts, problem, ...view, inject, glow, photograph, lay, takeOff, cutOut };
}

export type Hunting = ReturnType<typeof useShorts>;

/** Parts that were taken off and are not on again. */
export function stillOff(shorts: Shorts): Shorts["off"] {
  return shorts.off.filter((entry) => !shorts.on_again.includes(entry.id));
}
