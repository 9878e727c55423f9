import { t } from "@lingui/core/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, newId } from "../api/client";
import type { Step } from "../job/StepLine";
import { keyOf } from "../queries/keys";
import { clockQuery } from "../queries/shop";

const EVERY_MS = 15_000;

type ClockStep = "arrive" | "look" | "ohms" | "volts" | "memory" | "rework" | "prove" | "return";

/** The clock of whoever is signed in: it runs on the server, so closing the page does not stop it. */
export function useClock() {
  const queries = useQueryClient();
  const running = useQuery(clockQuery());
  const again = async (number: number) => {
    await queries.invalidateQueries({ queryKey: keyOf("clock") });
    await queries.invalidateQueries({ queryKey: keyOf("time", number) });
  };
  const start = async (number: number, step: Step) => {
    const body = { id: newId(), step: step.toLowerCase() as ClockStep };
    await api.POST("/api/v1/jobs/{number}/clock", { params: { path: { number } }, body });
    await again(number);
  };
  const stop = async () => {
    await api.DELETE("/api/v1/clock");
    await again(running.data?.job ?? 0);
  };
  return { running: running.data ?? null, start, stop };
}

/** Minutes since a moment, told anew now and then. */
export function useMinutesSince(iso: string | undefined): number {
  const [now, setNow] = useState(Date.now());
  useEffect(() => {
    if (!iso) return;
    setNow(Date.now());
    const timer = window.setInterval(() => setNow(Date.now()), EVERY_MS);
    return () => window.clearInterval(timer);
  }, [iso]);
  return iso ? Math.max(0, (now - new Date(iso).getTime()) / 60_000) : 0;
}

export function hours(minutes: number): string {
  const whole = Math.round(minutes);
  return whole < 60 ? t`${whole} min` : `${Math.floor(whole / 60)} h ${String(whole % 60).padStart(2, "0")}`;
}
