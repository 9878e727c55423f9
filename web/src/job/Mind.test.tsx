import { describe, expect, it } from "vitest";
import { addressOf } from "./Mind";

describe("where a step is done", () => {
  it.each([
    [{ do: "pads", target: "U17", step: "rework" }, "/jobs/7/rework/pads/U17"],
    [{ do: "reball", target: "U17", step: "rework" }, "/jobs/7/rework?site=U17"],
    [{ do: "contact-repaired", target: "B41", step: "rework" }, "/jobs/7/rework?site=B41"],
    [{ do: "read", target: "PL2", step: "ohms" }, "/jobs/7/ohms"],
    [{ do: "cooler-on", target: "", step: "rework" }, "/jobs/7/rework"],
  ] as const)("%o is at %s", (step, address) => {
    expect(addressOf(7, step)).toBe(address);
  });
});
