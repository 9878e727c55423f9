import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, renderHook, waitFor } from "@testing-library/react";
import type { ReactNode } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { type JobDetail, Problem } from "../api/client";
import { upload } from "../api/upload";
import { useDroppedReports } from "./dropped";

vi.mock("../api/upload", () => ({ upload: vi.fn() }));
const sent = vi.mocked(upload);
const RUN = { number: 3, located: { reports: [{ format: "full", rows: 214, errors: 1208, unread: 2 }] } };
const queries = new QueryClient();

function dropping(condition = "cold") {
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={queries}>{children}</QueryClientProvider>
  );
  const job = { number: 7 } as JobDetail;
  return renderHook((said: string) => useDroppedReports(job, said), { initialProps: condition, wrapper });
}

function file(name: string) {
  return new File(["channel\n"], name);
}

/** What each upload carried: the file's name, the condition, the answers given. */
function carried() {
  return sent.mock.calls.map(([address, form]) => [
    address,
    (form.get("file") as File).name,
    form.get("condition"),
    form.get("another"),
    form.get("board_confirmed"),
  ]);
}

beforeEach(() => {
  sent.mockReset();
});
afterEach(cleanup);

test("several reports are sent one after another, in the order in which they were dropped", async () => {
  let answer: (run: unknown) => void = () => undefined;
  sent.mockImplementation(
    () =>
      new Promise((resolve) => {
        answer = resolve;
      }),
  );
  const { result } = dropping();
  act(() => result.current.take([file("1.csv"), file("2.csv")]));
  expect(result.current.dropped.map((report) => report.state)).toEqual(["sending", "waiting"]);
  expect(sent).toHaveBeenCalledOnce();
  act(() => answer(RUN));
  await waitFor(() => expect(sent).toHaveBeenCalledTimes(2));
  act(() => answer(RUN));
  await waitFor(() => expect(result.current.dropped.map((report) => report.state)).toEqual(["done", "done"]));
  expect(carried()).toEqual([
    ["/api/v1/jobs/7/runs", "1.csv", "cold", "false", "false"],
    ["/api/v1/jobs/7/runs", "2.csv", "cold", "false", "false"],
  ]);
  expect(result.current.dropped[0]?.said).toBe("run 3, 214 rows, 1,208 errors, 2 unread.");
});

test("a report keeps the condition that was said when it was dropped", async () => {
  sent.mockResolvedValue(RUN);
  const { result, rerender } = dropping("cold");
  act(() => result.current.take([file("1.csv")]));
  rerender("warm");
  act(() => result.current.take([file("2.csv")]));
  await waitFor(() => expect(sent).toHaveBeenCalledTimes(2));
  expect(carried().map((row) => row[2])).toEqual(["cold", "warm"]);
});

test("what the server asks back is answered under the same id, so that it counts once", async () => {
  sent
    .mockRejectedValueOnce(new Problem(409, "same-report", "It has arrived already.", {}))
    .mockResolvedValue(RUN);
  const { result } = dropping();
  act(() => result.current.take([file("1.csv"), file("2.csv")]));
  await waitFor(() => expect(result.current.dropped[0]?.state).toBe("asked"));
  expect(result.current.dropped[0]).toMatchObject({ code: "same-report", said: "It has arrived already." });
  const id = result.current.dropped[0]?.id ?? "";
  act(() => result.current.answer(id, { another: true }));
  await waitFor(() => expect(result.current.dropped.every((report) => report.state === "done")).toBe(true));
  const again = sent.mock.calls.map(([, form]) => form).filter((form) => form.get("id") === id);
  expect(again.map((form) => form.get("another"))).toEqual(["false", "true"]);
});

test("one that is asked about does not hold up the others, and can be put away", async () => {
  sent
    .mockRejectedValueOnce(new Problem(422, "unreadable", "No row can be read.", {}))
    .mockResolvedValue(RUN);
  const { result } = dropping();
  act(() => result.current.take([file("broken.csv"), file("2.csv")]));
  await waitFor(() =>
    expect(result.current.dropped.map((report) => report.state)).toEqual(["asked", "done"]),
  );
  act(() => result.current.dismiss(result.current.dropped[0]?.id ?? ""));
  expect(result.current.dropped).toHaveLength(1);
});

test("what is done makes room for what is dropped next; pasted text is a report too", async () => {
  sent.mockResolvedValue(RUN);
  const { result } = dropping();
  act(() => result.current.take([file("1.csv")]));
  await waitFor(() => expect(result.current.dropped[0]?.state).toBe("done"));
  const pasted = (text: string) =>
    act(() => {
      const getData = () => text;
      const clipboardData = { files: [], getData };
      window.dispatchEvent(Object.assign(new Event("paste"), { clipboardData }));
    });
  pasted('{"format":"uvrix-report","version":1}');
  await waitFor(() => expect(sent).toHaveBeenCalledTimes(2));
  pasted("channel,errors\nA0,3\n");
  await waitFor(() => expect(sent).toHaveBeenCalledTimes(3));
  expect(carried().map((row) => row[1])).toEqual(["1.csv", "pasted.jsonl", "pasted.csv"]);
});
