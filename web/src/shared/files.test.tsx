import { act, cleanup, render } from "@testing-library/react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { useFilesFromAnywhere } from "./files";

const [take, takeText] = [vi.fn(), vi.fn()];

function Page({ text = true }: { text?: boolean }) {
  const over = useFilesFromAnywhere(take, text ? takeText : undefined);
  return (
    <main>
      <output>{over ? "over" : "not"}</output>
      <textarea aria-label="note" />
    </main>
  );
}

const report = new File(["channel,errors\nA0,3\n"], "run.csv");

function carry(name: string, carried: object, more: object = {}, target: EventTarget = document.body) {
  const event = Object.assign(new Event(name, { bubbles: true, cancelable: true }), carried, more);
  act(() => {
    target.dispatchEvent(event);
  });
  return event;
}

function transfer(files: File[], types = ["Files"]) {
  return { dataTransfer: { files, types } };
}

function clipboard(files: File[], text = "") {
  return { clipboardData: { files, getData: () => text } };
}

beforeEach(() => {
  take.mockReset();
  takeText.mockReset();
});
afterEach(cleanup);

test("files dropped anywhere are taken, and the browser does not open them", () => {
  const { getByRole } = render(<Page />);
  expect(carry("dragover", transfer([])).defaultPrevented).toBe(true);
  expect(getByRole("status").textContent).toBe("over");
  expect(carry("drop", transfer([report])).defaultPrevented).toBe(true);
  expect(take.mock.calls).toEqual([[[report]]]);
  expect(getByRole("status").textContent).toBe("not");
});

test("the sign goes when the files leave the window, not when they pass from one part to another", () => {
  const { getByRole } = render(<Page />);
  carry("dragover", transfer([]));
  carry("dragleave", {}, { relatedTarget: document.body });
  expect(getByRole("status").textContent).toBe("over");
  carry("dragleave", {}, { relatedTarget: null });
  expect(getByRole("status").textContent).toBe("not");
});

test("text dragged about the page is none of ours", () => {
  const { getByRole } = render(<Page />);
  expect(carry("dragover", transfer([], ["text/plain"])).defaultPrevented).toBe(false);
  expect(carry("drop", transfer([], ["text/plain"])).defaultPrevented).toBe(false);
  expect(getByRole("status").textContent).toBe("not");
  expect(take).not.toHaveBeenCalled();
});

test("pasted files come before pasted text; blank text is nothing", () => {
  render(<Page />);
  carry("paste", clipboard([report], "A0 failed"));
  expect([take.mock.calls.length, takeText.mock.calls.length]).toEqual([1, 0]);
  carry("paste", clipboard([], "A0 failed"));
  expect(takeText.mock.calls).toEqual([["A0 failed"]]);
  carry("paste", clipboard([], " \n"));
  expect(takeText).toHaveBeenCalledOnce();
});

test("what is pasted into a field belongs to the field", () => {
  const { getByLabelText } = render(<Page />);
  carry("paste", clipboard([], "2k2"), {}, getByLabelText("note"));
  expect(takeText).not.toHaveBeenCalled();
});

test("where text is not wanted it is let be", () => {
  render(<Page text={false} />);
  carry("paste", clipboard([], "A0 failed"));
  expect(take).not.toHaveBeenCalled();
});
