import { QueryClient } from "@tanstack/react-query";
import { expect, test, vi } from "vitest";
import { apply } from "./live";

vi.mock("../api/client", () => ({ isOwnRequest: (number: string) => number.startsWith("own") }));

function told(...changes: [string, number | null][]) {
  return {
    at: "2031-05-02T10:00:00Z",
    all: false,
    others: [],
    changes: changes.map(([request, job]) => ({ request, job })),
  };
}

function client() {
  const queries = new QueryClient();
  for (const key of [["shelf", ""], ["job", "7"], ["job", "8"], ["library"]]) queries.setQueryData(key, 1);
  const old = () =>
    queries
      .getQueryCache()
      .getAll()
      .filter((query) => query.state.isInvalidated)
      .map((query) => query.queryKey.join(" ").trim());
  return { queries, old };
}

test("what another entered makes its job and the shelf old, and nothing else", () => {
  const { queries, old } = client();
  apply(queries, told(["r1", 7]));
  expect(old()).toEqual(["shelf", "job 7"]);
});

test("what was told before, or is of this page, makes nothing old", () => {
  const { queries, old } = client();
  apply(queries, told(["r2", 7]));
  queries.setQueryData(["shelf", ""], 2);
  queries.setQueryData(["job", "7"], 2);
  apply(queries, told(["r2", 7], ["own-1", 8]));
  expect(old()).toEqual([]);
});

test("a change of no job makes the lists of the shop old, and no form", () => {
  const { queries, old } = client();
  for (const key of ["stock", "board-models", "meters", "habits", "rework-settings"])
    queries.setQueryData([key], 1);
  apply(queries, told(["r3", null]));
  expect(old()).toEqual(["shelf", "stock", "board-models", "meters"]);
});

test("where more changed than is told, everything is asked anew but a draft's start", async () => {
  const { queries, old } = client();
  const draft = { queryKey: ["draft", "teal-8"], queryFn: () => 1, staleTime: Number.POSITIVE_INFINITY };
  await queries.fetchQuery(draft);
  apply(queries, { ...told(), all: true });
  expect(old()).toEqual(["shelf", "job 7", "job 8", "library"]);
});
