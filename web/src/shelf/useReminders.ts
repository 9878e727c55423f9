import { useQuery } from "@tanstack/react-query";
import { remindersQuery } from "../queries/shop";

/** Customers that are to be written to. */
export function useReminders() {
  return useQuery(remindersQuery());
}
