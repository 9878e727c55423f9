import { useQuery } from "@tanstack/react-query";
import { api, data } from "../api/client";

/** Customers that are to be written to. */
export function useReminders() {
  return useQuery({
    queryKey: ["reminders"],
    queryFn: async () => data(await api.GET("/api/v1/reminders")),
  });
}
