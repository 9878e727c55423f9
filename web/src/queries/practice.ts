/** What is asked of Practice. */
import { queryOptions } from "@tanstack/react-query";
import { api, data } from "../api/client";
import { keyOf } from "./keys";

export const practiceQuery = () =>
  queryOptions({
    queryKey: keyOf("practice"),
    queryFn: async () => data(await api.GET("/api/v1/practice")),
  });

export const practiceDayQuery = () =>
  queryOptions({
    queryKey: keyOf("practice-day"),
    queryFn: async () => (await api.GET("/api/v1/practice/day")).data ?? null,
  });

export const jobPracticeQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("job-practice", number),
    queryFn: async () =>
      data(await api.GET("/api/v1/jobs/{number}/practice", { params: { path: { number } } })),
  });

export const debriefQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("debrief", number),
    queryFn: async () =>
      data(await api.GET("/api/v1/jobs/{number}/practice/end", { params: { path: { number } } })),
  });
