import { QueryCache, QueryClient, QueryObserver } from "@tanstack/react-query";
import { act, renderHook } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";
import { Problem } from "../api/client";
import { noteAnswer, noteFailure, stayShown, useShownFrom } from "./away";

afterEach(() => vi.useRealTimers());

const NOON = new Date("2031-05-02T12:00:00Z");
const BROKEN = new Problem(503, "unknown", "The server answered 503.", {});
const NOBODY = new Problem(0, "away", "The server does not answer.", {});
const GONE = new Problem(404, "unknown", "The server answered 404.", {});

/** A screen that asks for a job, of a server whose next answers are given. */
function screen(answers: (Error | string)[], key: string = "job") {
  const queries = new QueryClient({
    queryCache: new QueryCache({ onError: stayShown }),
    defaultOptions: { queries: { retry: false } },
  });
  const job = new QueryObserver(queries, {
    queryKey: [key, "7"],
    queryFn: () => {
      const answer = answers.shift();
      if (answer instanceof Error) throw answer;
      return answer;
    },
  });
  job.subscribe(() => undefined);
  const shown = () => {
    const { data, isError } = job.getCurrentResult();
    return isError ? "error" : data;
  };
  return { queries, job, shown };
}

test.each([BROKEN, NOBODY, new TypeError("x")])(
  "what is shown stays while the server is away: %s",
  async (away) => {
    const { queries, job, shown } = screen(["as it was", away, "as it is"]);
    await expect.poll(shown).toBe("as it was");
    await job.refetch();
    await expect.poll(shown).toBe("as it was");
    noteFailure(away);
    noteAnswer(queries);
    await expect.poll(shown).toBe("as it is");
  },
);

test("what is gone is not shown any longer", async () => {
  const { job, shown } = screen(["as it was", GONE]);
  await expect.poll(shown).toBe("as it was");
  await job.refetch();
  expect(shown()).toBe("error");
});

test("what was never answered says so, and comes by itself once the server answers", async () => {
  const { queries, shown } = screen([NOBODY, "as it is"]);
  await expect.poll(shown).toBe("error");
  noteFailure(NOBODY);
  noteAnswer(queries);
  await expect.poll(shown).toBe("as it is");
});

test("what a server could not answer that answers all else is asked again after ten seconds", async () => {
  vi.useFakeTimers({ now: NOON, toFake: ["Date"] });
  const { queries, job, shown } = screen(["as it was", BROKEN, "as it is"]);
  await expect.poll(shown).toBe("as it was");
  await job.refetch();
  const missed = Date.now();
  vi.setSystemTime(missed + 9_999);
  noteAnswer(queries);
  expect(queries.isFetching()).toBe(0);
  expect(shown()).toBe("as it was");
  vi.setSystemTime(missed + 10_000);
  noteAnswer(queries);
  await expect.poll(shown).toBe("as it is");
});

test("who else is here is not known while nobody says so", async () => {
  const { job, shown } = screen(["Casper", NOBODY], "live");
  await expect.poll(shown).toBe("Casper");
  await job.refetch();
  expect(shown()).toBe("error");
});

test("while nobody answers, what is shown is of the last answer, and once somebody does it is of now", () => {
  vi.useFakeTimers({ now: NOON });
  const { queries } = screen([]);
  const from = renderHook(useShownFrom).result;
  act(() => noteAnswer(queries));
  expect(from.current).toBeUndefined();
  vi.setSystemTime(NOON.getTime() + 9_000);
  for (const error of [NOBODY, BROKEN]) act(() => noteFailure(error));
  expect(from.current).toEqual(NOON);
  act(() => noteFailure(GONE));
  expect(from.current).toBeUndefined();
  act(() => noteFailure(NOBODY));
  expect(from.current).toEqual(NOON);
  act(() => noteAnswer(queries));
  expect(from.current).toBeUndefined();
});
