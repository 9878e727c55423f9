import { useQuery } from "@tanstack/react-query";
import { api, data } from "../api/client";
import { writeAs } from "./writing";

/** Write dates and amounts as the shop does; what shows them is drawn again where that has changed. */
export function useWriting() {
  return useQuery({
    queryKey: ["writing"],
    queryFn: async () => {
      const writing = data(await api.GET("/api/v1/writing"));
      writeAs(writing);
      return writing;
    },
  });
}
