import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, isKept, newId, type Volts } from "../api/client";
import type { components } from "../api/schema";
import { afterAct } from "../job/afterAct";

export type Node = Volts["nodes"][number];
type NewRung = Omit<components["schemas"]["NewRungRequest"], "id">;
type NewDraw = Omit<components["schemas"]["NewDrawRequest"], "id">;
type NewPhase = Omit<components["schemas"]["NewPhaseRequest"], "id">;
type NewPower = Omit<components["schemas"]["SayPowerRequest"], "id">;
type NewTried = Omit<components["schemas"]["NewPartTriedRequest"], "id">;
type NewStart = Omit<components["schemas"]["NewStartRequest"], "curve">;
export type Said = components["schemas"]["Reading"];

/** The powered card: the map with what was read, and entering more. */
export function useVolts(number: number) {
  const queries = useQueryClient();
  const [problem, setProblem] = useState("");
  const [said, setSaid] = useState<Said | null>(null);
  const key = ["volts", number];
  const params = { path: { number } };
  const volts = useQuery({
    queryKey: key,
    queryFn: async () => data(await api.GET("/api/v1/jobs/{number}/volts", { params })),
  });
  const follow = () => afterAct(queries, number);
  const keep = async (ask: () => Promise<{ data?: Volts }>) => {
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
  const read = async (node: Node, value: string, note: string, meter = "") => {
    setProblem("");
    try {
      const body = {
        id: newId(),
        point: node.point || node.id,
        quantity: node.quantity,
        value,
        note,
        meter,
        to: "ground" as const,
      };
      setSaid(data(await api.POST("/api/v1/jobs/{number}/readings", { params, body })));
      await queries.invalidateQueries({ queryKey: key });
      follow();
      return true;
    } catch (error) {
      setProblem((error as Error).message);
      return isKept(error);
    }
  };
  /** A supervisor's pin or another point off the map, in volts. */
  const readPoint = async (point: string, value: string) => {
    setProblem("");
    try {
      const body = { id: newId(), point, quantity: "voltage" as const, value, to: "ground" as const };
      data(await api.POST("/api/v1/jobs/{number}/readings", { params, body }));
      await queries.invalidateQueries({ queryKey: key });
      follow();
      return true;
    } catch (error) {
      setProblem((error as Error).message);
      return isKept(error);
    }
  };
  const power = async (body: NewPower) => {
    setProblem("");
    try {
      data(await api.POST("/api/v1/jobs/{number}/power", { params, body: { id: newId(), ...body } }));
      await queries.invalidateQueries({ queryKey: key });
      follow();
    } catch (error) {
      setProblem((error as Error).message);
    }
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
    setProblem("");
    try {
      data(await api.POST("/api/v1/supplies/{supply}/off", { params: { path: { supply } } }));
      return true;
    } catch (error) {
      setProblem((error as Error).message);
      return false;
    }
  };
  return {
    attempt,
    start,
    supplyOff,
    volts,
    problem,
    said,
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
