import type { QueryClient } from "@tanstack/react-query";
import { keyOf } from "../queries/keys";

/** An act on a card may make untrue what any screen shows of its job: all of it is asked for anew. */
export function afterAct(queries: QueryClient, number: number) {
  void queries.invalidateQueries({
    predicate: ({ queryKey: [, of] }) => of === number || of === String(number),
  });
}

/** A photograph of the job; where its model is not drawn yet, it serves as the board on every screen. */
export function afterPhotograph(queries: QueryClient, number: number) {
  afterAct(queries, number);
  return queries.invalidateQueries({ queryKey: keyOf("board-model") });
}
