import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, newId, type Volts } from "../api/client";
import type { components } from "../api/schema";
import { afterAct } from "../job/afterAct";
import { voltsQuery } from "../queries/job";
import { NOTHING_ELSE, useKeeping } from "../shared/keeping";

export type Node = Volts["nodes"][number];
type NewRung = Omit<components["schemas"]["NewRungRequest"], "id">;
type NewDraw = Omit<components["schemas"]["NewDrawRequest"], "id">;
type NewPhase = Omit<components["schemas"]["NewPhaseRequest"], "id">;
type NewPower = Omit<components["schemas"]["NewPowerRequest"], "id">;
type NewTried = Omit<components["schemas"]["NewPartTriedRequest"], "id">;
type NewStart = Omit<components["schemas"]["NewStartRequest"], "curve">;
export type Said = components["schemas"]["Reading"];

/** The powered card: the map with what was read, and entering more. */
export function useVolts(number: number) {
  const queries = useQueryClient();
  const [said, setSaid] = useState<Said | null>(null);
  // how many readings were stored from here: with each of them the field begins anew, not with somebody else's
  const [stored, setStored] = useState(0);
  const key = voltsQuery(number).queryKey;
  const params = { path: { number } };
  const volts = useQuery(voltsQuery(number));
  const follow = () => afterAct(queries, number);
  const keeping = useKeeping([], follow);
  // what is answered with something else than the map has the map asked anew
  const beside = async () => {
    await queries.invalidateQueries({ queryKey: key });
    follow();
  };
  const keep = async (ask: () => Promise<{ data?: Volts }>) => (await keeping.keep(ask, key)) !== null;
  const read = async (node: Node, value: string, note: string, meter = "") => {
    const body = {
      id: newId(),
      point: node.point || node.id,
      quantity: node.quantity,
      value,
      note,
      meter,
      to: "ground" as const,
    };
    const ask = () => api.POST("/api/v1/jobs/{number}/readings", { params, body });
    const answer = await keeping.keep(ask, undefined, undefined, beside);
    if (answer === null) return false;
    setStored((times) => times + 1);
    if (answer !== "kept") setSaid(answer);
    return true;
  };
  /** A supervisor's pin or another point off the map, in volts. */
  const readPoint = async (point: string, value: string) => {
    const body = { id: newId(), point, quantity: "voltage" as const, value, to: "ground" as const };
    const ask = () => api.POST("/api/v1/jobs/{number}/readings", { params, body });
    return (await keeping.keep(ask, undefined, undefined, beside)) !== null;
  };
  const power = async (body: NewPower) => {
    const ask = () => api.POST("/api/v1/jobs/{number}/power", { params, body: { id: newId(), ...body } });
    await keeping.keep(ask, undefined, undefined, beside);
  };
  const draw = (body: NewDraw) =>
    keep(() => api.POST("/api/v1/jobs/{number}/draws", { params, body: { id: newId(), ...body } }));
  const climb = (body: NewRung) =>
    keep(() => api.POST("/api/v1/jobs/{number}/rungs", { params, body: { id: newId(), ...body } }));
  const phase = (body: NewPhase) =>
    keep(() => api.POST("/api/v1/jobs/{number}/phases", { params, body: { id: newId(), ...body } }));
  const load = (rail: string, amps: number) =>
    keep(() => api.POST("/api/v1/jobs/{number}/rail-loads", { params, body: { id: newId(), rail, amps } }));
  const attempt = (body: NewTried) =>
    keep(() => api.POST("/api/v1/jobs/{number}/tried", { params, body: { id: newId(), ...body } }));
  const start = (body: NewStart) =>
    keep(() => api.POST("/api/v1/jobs/{number}/starts", { params, body: { curve: newId(), ...body } }));
  const supplyOff = async (supply: number) => {
    const ask = () => api.POST("/api/v1/supplies/{supply}/off", { params: { path: { supply } } });
    return (await keeping.keep(ask, undefined, undefined, NOTHING_ELSE)) !== null;
  };
  const problem = keeping.said;
  return {
    attempt,
    start,
    supplyOff,
    volts,
    problem,
    said,
    stored,
    read,
    readPoint,
    power,
    draw,
    climb,
    phase,
    load,
  };
}

export type Powering = ReturnType<typeof useVolts>;
