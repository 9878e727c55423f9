import { cleanup, render } from "@testing-library/react";
import { afterEach, expect, test } from "vitest";
import { KEEPS_FOCUS, useFirstFocus } from "./focus";

function Field() {
  return <input id="first" ref={useFirstFocus<HTMLInputElement>()} />;
}

function Screen({ shown }: { shown: boolean }) {
  return (
    <>
      <input id="scan" />
      <a href="#probe" id="tab">
        Probe
      </a>
      <section {...KEEPS_FOCUS}>
        <button type="button" id="use">
          Read
        </button>
      </section>
      {shown && <Field />}
    </>
  );
}

/** Where the focus is once the field has appeared while it was at another control. */
function appears(at: string): string | undefined {
  const { rerender } = render(<Screen shown={false} />);
  document.getElementById(at)?.focus();
  rerender(<Screen shown />);
  return document.activeElement?.id;
}

afterEach(cleanup);

test("a field that appears takes the focus where nobody is at work", () => {
  expect(appears("")).toBe("first");
});

test("it takes it from the link that led to it", () => {
  expect(appears("tab")).toBe("first");
});

test("it leaves it in a field that somebody types in", () => {
  expect(appears("scan")).toBe("scan");
});

test("it leaves it at work that goes on beside the screen", () => {
  expect(appears("use")).toBe("use");
});
