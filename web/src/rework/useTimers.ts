import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, data, newId } from "../api/client";
import type { components } from "../api/schema";

type NewTimer = Omit<components["schemas"]["NewTimerRequest"], "id">;
const AGAIN_MS = 30_000;

/** Timers of all jobs; the clock runs here, so a timer rings on time though the server is away. */
export function useTimers() {
  const queries = useQueryClient();
  const [now, setNow] = useState(Date.now());
  const [problem, setProblem] = useState("");
  const timers = useQuery({
    queryKey: ["timers"],
    refetchInterval: AGAIN_MS,
    queryFn: async () => data(await api.GET("/api/v1/timers")),
  });
  const some = (timers.data?.length ?? 0) > 0;
  useEffect(() => {
    if (!some) return;
    const ticking = window.setInterval(() => setNow(Date.now()), 1_000);
    return () => window.clearInterval(ticking);
  }, [some]);
  const keep = async (ask: () => Promise<components["schemas"]["Timer"][]>) => {
    setProblem("");
    try {
      queries.setQueryData(["timers"], await ask());
      setNow(Date.now());
      return true;
    } catch (error) {
      setProblem((error as Error).message);
      return false;
    }
  };
  const start = (number: number, body: NewTimer) =>
    keep(async () =>
      data(
        await api.POST("/api/v1/jobs/{number}/timers", {
          params: { path: { number } },
          body: { id: newId(), ...body },
        }),
      ),
    );
  const stop = (timer: string) =>
    keep(async () => data(await api.POST("/api/v1/timers/{timer}/stopped", { params: { path: { timer } } })));
  return { timers: timers.data ?? [], now, problem, start, stop };
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
