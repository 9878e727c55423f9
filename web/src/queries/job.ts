/** What is asked of one job. */
import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { api, data, type JobDetail } from "../api/client";
import type { paths } from "../api/schema";
import { keyOf } from "./keys";

export const alikeQuery = (number: number, readings: number) =>
  queryOptions({
    queryKey: keyOf("alike", number, readings),
    queryFn: async () => data(await api.GET("/api/v1/jobs/{number}/alike", { params: { path: { number } } })),
  });

export const arriveQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("arrive", number),
    queryFn: async () =>
      data(await api.GET("/api/v1/jobs/{number}/arrive", { params: { path: { number } } })),
  });

/** A job's card beside another; `asked` is `job-12` or `card-UUID`, empty where none is chosen yet. */
export const besideQuery = (number: number, asked: string) =>
  queryOptions({
    queryKey: keyOf("beside", number, asked),
    queryFn: async () => {
      const [kind, ...rest] = asked.split("-");
      const id = rest.join("-");
      const query = kind === "job" ? { job: Number(id) } : kind === "card" ? { reference: id } : {};
      return data(await api.GET("/api/v1/jobs/{number}/beside", { params: { path: { number }, query } }));
    },
  });

export const caseQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("case", number),
    queryFn: async () =>
      data(await api.GET("/api/v1/jobs/{number}/case", { params: { path: { number: number } } })),
  });

export const chipsQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("chips", number),
    queryFn: async () => data(await api.GET("/api/v1/jobs/{number}/chips", { params: { path: { number } } })),
  });

export const converterQuery = (number: number, node: string | null) =>
  queryOptions({
    queryKey: keyOf("converter", number, node),
    queryFn: async () =>
      data(
        await api.GET("/api/v1/jobs/{number}/converters/{node}", {
          params: { path: { number, node: node ?? "" } },
        }),
      ),
  });

export const hypothesesQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("hypotheses", number),
    queryFn: async () =>
      data(await api.GET("/api/v1/jobs/{number}/hypotheses", { params: { path: { number: number } } })),
  });

export const imagesQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("images", number),
    queryFn: async () =>
      data(await api.GET("/api/v1/jobs/{number}/images", { params: { path: { number: number } } })),
  });

export const jobQuery = (number: string) =>
  queryOptions({
    queryKey: keyOf("job", number),
    queryFn: async () =>
      data(await api.GET("/api/v1/jobs/{number}", { params: { path: { number: Number(number) } } })),
  });

export const jobRecipesQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("job-recipes", number),
    queryFn: async () =>
      data(await api.GET("/api/v1/jobs/{number}/recipes", { params: { path: { number: number } } })),
  });

export const lookQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("look", number),
    queryFn: async () => data(await api.GET("/api/v1/jobs/{number}/look", { params: { path: { number } } })),
  });

export const markQuestionQuery = (number: number, designator: string) =>
  queryOptions({
    queryKey: keyOf("mark-question", number, designator),
    queryFn: async () =>
      data(
        await api.GET("/api/v1/jobs/{number}/mark-question", {
          params: { path: { number: number }, query: { designator: designator } },
        }),
      ),
  });

export const messagesQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("messages", number),
    queryFn: async () =>
      data(await api.GET("/api/v1/jobs/{number}/messages", { params: { path: { number: number } } })),
  });

export const offersQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("offers", number),
    queryFn: async () =>
      data(await api.GET("/api/v1/jobs/{number}/offers", { params: { path: { number: number } } })),
  });

export const ohmsQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("ohms", number),
    queryFn: async () => data(await api.GET("/api/v1/jobs/{number}/ohms", { params: { path: { number } } })),
  });

export const oneOrAllQuery = (number: number, asked: string) =>
  queryOptions({
    queryKey: keyOf("one-or-all", number, asked),
    queryFn: async () =>
      data(
        await api.GET("/api/v1/jobs/{number}/one-or-all", {
          params: { path: { number }, query: asked ? { failed: asked } : {} },
        }),
      ),
    retry: false,
  });

export const owedQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("owed", number),
    queryFn: async () => data(await api.GET("/api/v1/jobs/{number}/owed", { params: { path: { number } } })),
  });

export const padsQuery = (number: number, designator: string) =>
  queryOptions({
    queryKey: keyOf("pads", number, designator),
    queryFn: async () =>
      data(
        await api.GET("/api/v1/jobs/{number}/pads/{designator}", {
          params: { path: { number, designator } },
        }),
      ),
  });

export const pasteAndPadsQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("paste-and-pads", number),
    queryFn: async () =>
      data(await api.GET("/api/v1/jobs/{number}/paste-and-pads", { params: { path: { number: number } } })),
  });

export const recipesWorkedQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("recipes-worked", number),
    queryFn: async () =>
      data(await api.GET("/api/v1/jobs/{number}/recipes/worked", { params: { path: { number: number } } })),
  });

export const reportOrderQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("report-order", number),
    queryFn: async () =>
      data(await api.GET("/api/v1/jobs/{number}/report-order", { params: { path: { number: number } } })),
  });

export const reportQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("report", number),
    queryFn: async () =>
      data(await api.GET("/api/v1/jobs/{number}/report", { params: { path: { number } } })),
  });

export const resumeQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("resume", number),
    queryFn: async () =>
      data(await api.GET("/api/v1/jobs/{number}/resume", { params: { path: { number: number } } })),
  });

export const reworkQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("rework", number),
    queryFn: async () =>
      data(await api.GET("/api/v1/jobs/{number}/rework", { params: { path: { number } } })),
  });

export const runsQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("runs", number),
    queryFn: async () => data(await api.GET("/api/v1/jobs/{number}/runs", { params: { path: { number } } })),
  });

export const shortsQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("shorts", number),
    queryFn: async () =>
      data(await api.GET("/api/v1/jobs/{number}/shorts", { params: { path: { number } } })),
  });

export const slotQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("slot", number),
    queryFn: async () => data(await api.GET("/api/v1/jobs/{number}/slot", { params: { path: { number } } })),
  });

export const teardownQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("teardown", number),
    queryFn: async () =>
      data(await api.GET("/api/v1/jobs/{number}/teardown", { params: { path: { number } } })),
  });

export const timeQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("time", number),
    queryFn: async () =>
      data(await api.GET("/api/v1/jobs/{number}/time", { params: { path: { number: number } } })),
  });

export const timelineQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("timeline", number),
    queryFn: async () =>
      data(await api.GET("/api/v1/jobs/{number}/timeline", { params: { path: { number } } })),
  });

export const voltsQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("volts", number),
    queryFn: async () => data(await api.GET("/api/v1/jobs/{number}/volts", { params: { path: { number } } })),
  });

export const planQuery = (number: number, located: JobDetail["located"]) =>
  queryOptions({
    queryKey: keyOf("plan", number, located),
    // another run changes the chances: what is being entered stays under the hand
    placeholderData: keepPreviousData,
    queryFn: async () => data(await api.GET("/api/v1/jobs/{number}/plan", { params: { path: { number } } })),
  });

export const proofQuery = (number: number) =>
  queryOptions({
    queryKey: keyOf("proof", number),
    queryFn: async () => data(await api.GET("/api/v1/jobs/{number}/proof", { params: { path: { number } } })),
  });

/** What is to be settled before a card leaves, and what became of it. */
export const returnQuery = (number: number, noFix: boolean) =>
  queryOptions({
    queryKey: keyOf("return", number, noFix),
    placeholderData: keepPreviousData,
    queryFn: async () =>
      data(
        await api.GET("/api/v1/jobs/{number}/return", {
          params: { path: { number }, query: noFix ? { no_fix: true } : {} },
        }),
      ),
  });

export type PlannedAct = paths["/api/v1/jobs/{number}/rework/before"]["get"]["parameters"]["query"];

/** What to heed before a place is heated. */
export const beforeQuery = (number: number, planned: PlannedAct | null) =>
  queryOptions({
    queryKey: keyOf("before", number, planned),
    enabled: planned !== null,
    placeholderData: keepPreviousData,
    queryFn: async () => {
      const query = planned as PlannedAct;
      return data(
        await api.GET("/api/v1/jobs/{number}/rework/before", { params: { path: { number }, query } }),
      );
    },
  });
