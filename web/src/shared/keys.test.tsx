import { cleanup, render } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";
import { useKeys } from "./keys";

function Listening({ keys, active = true }: { keys: Record<string, () => void>; active?: boolean }) {
  useKeys(keys, active);
  return <input aria-label="reading" />;
}

function press(key: string, more: KeyboardEventInit = {}, target: EventTarget = document.body) {
  const event = new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true, ...more });
  target.dispatchEvent(event);
  return event;
}

afterEach(cleanup);

test("a letter acts, and the page does nothing else with it", () => {
  const flip = vi.fn();
  render(<Listening keys={{ f: flip }} />);
  expect(press("f").defaultPrevented).toBe(true);
  expect(flip).toHaveBeenCalledOnce();
  expect(press("x").defaultPrevented).toBe(false);
});

test("a pair acts on its second letter, and only straight after the first", () => {
  const [memory, mark] = [vi.fn(), vi.fn()];
  render(<Listening keys={{ "g m": memory, m: mark }} />);
  press("g");
  press("m");
  expect([memory, mark].map((act) => act.mock.calls.length)).toEqual([1, 0]);
  press("m");
  expect([memory, mark].map((act) => act.mock.calls.length)).toEqual([1, 1]);
  press("g");
  press("x");
  press("m");
  expect([memory, mark].map((act) => act.mock.calls.length)).toEqual([1, 2]);
});

test("in a field letters are typed; with Alt they act there too", () => {
  const flip = vi.fn();
  const { getByLabelText } = render(<Listening keys={{ f: flip, "g m": flip }} />);
  const field = getByLabelText("reading");
  expect(press("f", {}, field).defaultPrevented).toBe(false);
  expect(flip).not.toHaveBeenCalled();
  // what Alt makes of a letter differs between layouts: the key counts, not the sign
  press("ƒ", { altKey: true, code: "KeyF" }, field);
  expect(flip).toHaveBeenCalledTimes(1);
  press("g", { altKey: true, code: "KeyG" }, field);
  press("Alt", { altKey: true, code: "AltLeft" }, field);
  press("m", { altKey: true, code: "KeyM" }, field);
  expect(flip).toHaveBeenCalledTimes(2);
});

test("the browser's own keys, and what somebody has dealt with, are left alone", () => {
  const flip = vi.fn();
  render(<Listening keys={{ f: flip }} />);
  press("f", { ctrlKey: true });
  press("f", { metaKey: true });
  const taken = (event: Event) => event.preventDefault();
  window.addEventListener("keydown", taken, { capture: true, once: true });
  press("f");
  expect(flip).not.toHaveBeenCalled();
});

test("the newest meaning of a key counts; an inactive or gone screen hears nothing", () => {
  const [first, second] = [vi.fn(), vi.fn()];
  const { rerender, unmount } = render(<Listening keys={{ f: first }} />);
  rerender(<Listening keys={{ f: second }} />);
  press("f");
  expect([first, second].map((act) => act.mock.calls.length)).toEqual([0, 1]);
  rerender(<Listening keys={{ f: second }} active={false} />);
  press("f");
  rerender(<Listening keys={{ f: second }} />);
  unmount();
  press("f");
  expect(second).toHaveBeenCalledOnce();
});
