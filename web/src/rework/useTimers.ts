import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, newId } from "../api/client";
import type { components } from "../api/schema";
import { timersQuery } from "../queries/shop";
import { useKeeping } from "../shared/keeping";

type NewTimer = Omit<components["schemas"]["NewTimerRequest"], "id">;
const AGAIN_MS = 30_000;

/** Timers of all jobs; the clock runs here, so a timer rings on time though the server is away. */
export function useTimers() {
  const [now, setNow] = useState(Date.now());
  const timers = useQuery({ ...timersQuery(), refetchInterval: AGAIN_MS });
  const some = (timers.data?.length ?? 0) > 0;
  useEffect(() => {
    if (!some) return;
    const ticking = window.setInterval(() => setNow(Date.now()), 1_000);
    return () => window.clearInterval(ticking);
  }, [some]);
  const keeping = useKeeping([], () => setNow(Date.now()));
  const shown = timersQuery().queryKey;
  const start = async (number: number, body: NewTimer) => {
    const params = { path: { number } };
    const entry = { id: newId(), ...body };
    const kept = await keeping.keep(
      () => api.POST("/api/v1/jobs/{number}/timers", { params, body: entry }),
      shown,
    );
    return kept !== null;
  };
  const stop = async (timer: string) => {
    const params = { path: { timer } };
    return (await keeping.keep(() => api.POST("/api/v1/timers/{timer}/stopped", { params }), shown)) !== null;
  };
  return { timers: timers.data ?? [], now, problem: keeping.said, start, stop };
}

/** What is left of a timer, as 4:05 or 1 h 04; what it is over with a plus. */
export function left(ends: string, now: number): string {
  const seconds = Math.round((new Date(ends).getTime() - now) / 1000);
  const whole = Math.abs(seconds);
  const [hours, minutes, rest] = [Math.floor(whole / 3600), Math.floor(whole / 60) % 60, whole % 60];
  const two = (number: number) => String(number).padStart(2, "0");
  const shown = hours > 0 ? `${hours} h ${two(minutes)}` : `${minutes}:${two(rest)}`;
  return seconds < 0 ? `+${shown}` : shown;
}
