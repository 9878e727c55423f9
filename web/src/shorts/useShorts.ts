import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, newId, type Picture, type Shorts } from "../api/client";
import { sendPicture } from "../api/upload";
import type { Point } from "../board/view";
import { afterAct } from "../job/afterAct";
import { shortsQuery } from "../queries/job";
import { useKeeping } from "../shared/keeping";

interface Laying {
  injection: string;
  side: "front" | "back";
  picture: Picture;
}

/** The hunt for a short, and entering what was done; `glowOf` is the injection whose warm spot is clicked next. */
export function useShorts(number: number) {
  const queries = useQueryClient();
  const [unsent, setUnsent] = useState("");
  const [glowOf, setGlowOf] = useState<string | null>(null);
  const [laying, setLaying] = useState<Laying | null>(null);
  const [opacity, setOpacity] = useState(0.85);
  const key = shortsQuery(number).queryKey;
  const params = { path: { number } };
  const shorts = useQuery(shortsQuery(number));
  const keeping = useKeeping([], () => afterAct(queries, number));
  const keep = async (ask: () => Promise<{ data?: Shorts }>) => (await keeping.keep(ask, key)) !== null;
  const inject = async (fed: {
    rail: string;
    point: string;
    wire: boolean;
    volts: number;
    amps: number;
    note: string;
    on_purpose: boolean;
  }) => {
    const body = { id: newId(), ...fed };
    let above = "";
    const answer = await keeping.keep(
      () => api.POST("/api/v1/jobs/{number}/injections", { params, body }),
      key,
      // more than may be fed: asked back beside the field, and recorded where it was so
      (problem) => {
        if (problem.code === "above-advice") above = problem.message;
        return above !== "";
      },
    );
    return above || answer !== null;
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
    setUnsent("");
    try {
      setLaying({ injection, side, picture: await sendPicture(file) });
    } catch (error) {
      setUnsent((error as Error).message);
    }
  };
  const overlayThermal = async (corners: number[][]) => {
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
  return {
    shorts,
    problem: keeping.said || unsent,
    ...view,
    inject,
    glow,
    photograph,
    overlayThermal,
    takeOff,
    cutOut,
  };
}

export type Hunting = ReturnType<typeof useShorts>;

/** Parts that were taken off and are not on again. */
export function stillOff(shorts: Shorts): Shorts["off"] {
  return shorts.off.filter((entry) => !shorts.on_again.includes(entry.id));
}
