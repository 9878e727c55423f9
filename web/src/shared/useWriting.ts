import { useQuery } from "@tanstack/react-query";
import { writingQuery } from "../queries/shop";

/** Write dates and amounts as the shop does; what shows them is drawn again where that has changed. */
export function useWriting() {
  return useQuery(writingQuery());
}
