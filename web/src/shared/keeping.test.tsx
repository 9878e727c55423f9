import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, renderHook } from "@testing-library/react";
import type { ReactNode } from "react";
import { expect, test } from "vitest";
import { Problem } from "../api/client";
import { useKeeping } from "./keeping";

const REFUSED = new Problem(409, "unit-slip", "about a thousandfold off", {});
const refused = () => Promise.reject(REFUSED);

function entering(after?: () => unknown) {
  const queries = new QueryClient();
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={queries}>{children}</QueryClientProvider>
  );
  return { queries, ...renderHook(() => useKeeping([], after), { wrapper }) };
}

test("an entry is through when what follows from it is there: the next one builds on it", async () => {
  const order: string[] = [];
  const { result } = entering(async () => {
    await Promise.resolve();
    order.push("asked anew");
  });
  await act(async () => {
    await result.current.keep(async () => ({ data: 1 }));
    order.push("through");
  });
  expect(order).toEqual(["asked anew", "through"]);
});

test("the answer is put where it is shown", async () => {
  const { result, queries } = entering();
  await act(() => result.current.keep(async () => ({ data: "now" }), ["shown"]));
  expect(queries.getQueryData(["shown"])).toBe("now");
});

test("a refusal is kept until the next entry, or until it is forgotten", async () => {
  const { result } = entering();
  await act(async () => expect(await result.current.keep(refused)).toBeNull());
  expect(result.current.said).toBe(REFUSED.message);
  act(() => result.current.forget());
  expect(result.current.problem).toBeNull();
  await act(() => result.current.keep(refused));
  await act(() => result.current.keep(async () => ({ data: 1 })));
  expect(result.current.problem).toBeNull();
  expect(result.current.busy).toBe(false);
});

test("a question is no refusal", async () => {
  const { result } = entering();
  const asked: string[] = [];
  await act(() =>
    result.current.keep(refused, undefined, ({ code }) => {
      asked.push(code);
      return true;
    }),
  );
  expect(asked).toEqual(["unit-slip"]);
  expect(result.current.problem).toBeNull();
});
