import { expect, test, vi } from "vitest";
import type { BoardDetail, JobDetail } from "../api/client";
import { acts, fitting, ofJob, screens } from "./entries";

const acting = vi.hoisted(() => new Set<string>());
vi.mock("../shared/keys", () => ({ keyActs: (key: string) => acting.has(key) }));

const job = { number: 7, label: "J-0007" } as JobDetail;
const model = {
  drawing: { points: [{ id: "C2" }], sites: [{ designator: "U11" }], parts: [{ designator: "C2" }] },
} as BoardDetail;

test("what begins with the text comes before what only holds it, and every word must be there", () => {
  const entries = screens(null);
  expect(fitting(entries, "stock")[0]?.name).toBe("Stock: parts");
  expect(fitting(entries, "part find").map((entry) => entry.to)).toEqual(["/stock/find"]);
  expect(fitting(entries, "zz")).toEqual([]);
  expect(fitting(entries, "").length).toBe(12);
});

test("a point and a part of one name are both offered, each where it is worked on", () => {
  expect(fitting(ofJob(job, model), "c2").map((entry) => entry.to)).toEqual([
    "/jobs/7/ohms?point=C2",
    "/jobs/7/rework?site=C2",
  ]);
  expect(ofJob(job, undefined).every((entry) => entry.to?.startsWith("/jobs/7"))).toBe(true);
});

test("only what the screen's keys do is offered, and the audit to leads alone", () => {
  expect(acts()).toEqual([]);
  acting.add("f");
  expect(acts().map((entry) => entry.key)).toEqual(["f"]);
  const audit = (role: "lead" | "technician") =>
    screens({ role, name: "", username: "" }).some((entry) => entry.to === "/people/audit");
  expect([audit("lead"), audit("technician")]).toEqual([true, false]);
});
