import { QueryCache, QueryClient, QueryObserver } from "@tanstack/react-query";
import { expect, test } from "vitest";
import { Problem } from "../api/client";
import { askMissed, stayShown } from "./away";

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
    askMissed(queries);
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
  askMissed(queries);
  await expect.poll(shown).toBe("as it is");
});

test("who else is here is not known while nobody says so", async () => {
  const { job, shown } = screen(["Casper", NOBODY], "live");
  await expect.poll(shown).toBe("Casper");
  await job.refetch();
  expect(shown()).toBe("error");
});
