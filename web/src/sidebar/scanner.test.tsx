import { cleanup, render } from "@testing-library/react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { useScanner } from "./scanner";

const scanned = vi.fn();

function Page() {
  useScanner(scanned);
  return <input aria-label="reading" />;
}

function type(text: string[], target: EventTarget) {
  return text.map((key) => {
    const event = new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true });
    target.dispatchEvent(event);
    return event.defaultPrevented;
  });
}

beforeEach(() => {
  vi.useFakeTimers();
  scanned.mockReset();
});
afterEach(() => {
  cleanup();
  vi.useRealTimers();
});

test("a label is heard wherever the focus is, and none of it reaches the field, its Enter neither", () => {
  const field = render(<Page />).getByLabelText("reading");
  expect(type(["|", ..."J-0023", "|", "Enter"], field)).not.toContain(false);
  expect(scanned.mock.calls).toEqual([["J-0023"]]);
});

test("what a person types is typed, an Enter later acts as ever", () => {
  const field = render(<Page />).getByLabelText("reading");
  expect(type([..."2k2", "Enter"], field)).not.toContain(true);
  type(["|", "J", "|"], field);
  vi.advanceTimersByTime(500);
  expect(type(["Enter"], field)).toEqual([false]);
});

test("a sign typed by hand is forgotten after a pause, and an empty label is none", () => {
  const field = render(<Page />).getByLabelText("reading");
  type(["|", "J"], field);
  vi.advanceTimersByTime(500);
  expect(type(["2"], field)).toEqual([false]);
  type(["|", "|"], field);
  expect(scanned).not.toHaveBeenCalled();
});

test("keys that write nothing are no part of a label", () => {
  const field = render(<Page />).getByLabelText("reading");
  type(["|", "J", "Shift", "1", "|"], field);
  expect(scanned.mock.calls).toEqual([["J1"]]);
});
