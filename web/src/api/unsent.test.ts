import { afterEach, beforeEach, expect, test, vi } from "vitest";

const PATH = "/api/v1/jobs/7/readings";
const headers = () => ({ "X-CSRFToken": "token" });

/** The outbox as a page that has just been loaded has it: what is in the browser's storage, and nothing else. */
async function loaded() {
  vi.resetModules();
  return import("./unsent");
}

function stored(): { id: string; refused?: string }[] {
  return JSON.parse(localStorage.getItem("uvrix-unsent") ?? "[]");
}

function answering(...statuses: number[]) {
  const asked = vi.fn(async (_path: string, _request: RequestInit) => {
    const status = statuses.shift() ?? 201;
    if (status === 0) throw new TypeError("no network");
    return new Response(JSON.stringify({ detail: `answer ${status}` }), { status });
  });
  vi.stubGlobal("fetch", asked);
  return asked;
}

beforeEach(() => localStorage.clear());
afterEach(() => vi.useRealTimers());

test("an entry with an id of its own is kept once, over a reload too", async () => {
  const outbox = await loaded();
  expect(outbox.keepUnsent(PATH, '{"id":"a","value":"2k2"}', "mirren")).toBe(true);
  expect(outbox.keepUnsent(PATH, '{"id":"a","value":"2k2"}', "mirren")).toBe(true);
  expect(stored().map((entry) => entry.id)).toEqual(["a"]);
  const again = await loaded();
  answering();
  expect(await again.waiting("mirren", headers)).toBe(false);
  expect(stored()).toEqual([]);
});

test.each([
  ["no id", '{"value":"2k2"}', "mirren"],
  ["nobody signed in", '{"id":"a"}', ""],
  ["no JSON", "2k2", "mirren"],
])("what could count twice or for nobody is not kept: %s", async (_why, body, by) => {
  const outbox = await loaded();
  expect(outbox.keepUnsent(PATH, body, by)).toBe(false);
  expect(stored()).toEqual([]);
});

test("an entry that is part of another is known by that one's id", async () => {
  const outbox = await loaded();
  expect(outbox.keepUnsent(PATH, '{"entry":"e"}', "mirren")).toBe(true);
  expect(stored().map((entry) => entry.id)).toEqual(["e"]);
});

test("entries are sent oldest first, each as it was written", async () => {
  const outbox = await loaded();
  for (const id of ["a", "b", "c"]) outbox.keepUnsent(`${PATH}/${id}`, `{"id":"${id}"}`, "mirren");
  const asked = answering(201, 200, 201);
  expect(await outbox.waiting("mirren", headers)).toBe(false);
  expect(asked.mock.calls.map(([path, request]) => [path, request.body])).toEqual([
    [`${PATH}/a`, '{"id":"a"}'],
    [`${PATH}/b`, '{"id":"b"}'],
    [`${PATH}/c`, '{"id":"c"}'],
  ]);
  expect(asked.mock.calls[0]?.[1].headers).toMatchObject({ "X-CSRFToken": "token" });
});

test.each([[503], [500], [401], [0]])(
  "at %i it waits, and what comes after waits behind it",
  async (status) => {
    const outbox = await loaded();
    for (const id of ["a", "b", "c"]) outbox.keepUnsent(PATH, `{"id":"${id}"}`, "mirren");
    const asked = answering(201, status);
    expect(await outbox.waiting("mirren", headers)).toBe(true);
    expect(asked).toHaveBeenCalledTimes(2);
    expect(stored().map((entry) => entry.id)).toEqual(["b", "c"]);
  },
);

test("what the server refuses is kept with its reason, and does not hold up the others", async () => {
  const outbox = await loaded();
  for (const id of ["a", "b"]) outbox.keepUnsent(PATH, `{"id":"${id}"}`, "mirren");
  const asked = answering(422, 201);
  expect(await outbox.waiting("mirren", headers)).toBe(false);
  expect(stored()).toMatchObject([{ id: "a", refused: "answer 422" }]);
  await outbox.waiting("mirren", headers);
  expect(asked, "it is not sent by itself again").toHaveBeenCalledTimes(2);
  outbox.forgetUnsent("a");
  expect(stored()).toEqual([]);
});

test("a person's entries are not sent in another's name", async () => {
  const outbox = await loaded();
  outbox.keepUnsent(PATH, '{"id":"a"}', "mirren");
  const asked = answering();
  expect(await outbox.waiting("casper", headers)).toBe(false);
  expect(asked).not.toHaveBeenCalled();
  expect(stored()).toHaveLength(1);
});

test("it tries again every few seconds and when the network is back, until it is stopped", async () => {
  vi.useFakeTimers();
  const outbox = await loaded();
  outbox.keepUnsent(PATH, '{"id":"a"}', "mirren");
  const asked = answering(0, 0, 201);
  const done = vi.fn();
  const stop = outbox.keepSending("mirren", headers, done);
  await vi.advanceTimersByTimeAsync(0);
  await vi.advanceTimersByTimeAsync(3_000);
  expect(asked).toHaveBeenCalledTimes(2);
  expect(done).not.toHaveBeenCalled();
  window.dispatchEvent(new Event("online"));
  await vi.advanceTimersByTimeAsync(0);
  expect(done).toHaveBeenCalledOnce();
  outbox.keepUnsent(PATH, '{"id":"b"}', "mirren");
  stop();
  await vi.advanceTimersByTimeAsync(10_000);
  window.dispatchEvent(new Event("online"));
  expect(asked).toHaveBeenCalledTimes(3);
});

test("storage that holds nonsense is taken as empty", async () => {
  localStorage.setItem("uvrix-unsent", "{broken");
  const outbox = await loaded();
  expect(outbox.keepUnsent(PATH, '{"id":"a"}', "mirren")).toBe(true);
  expect(stored()).toHaveLength(1);
});
