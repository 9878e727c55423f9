import { useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { api, newId } from "../api/client";
import type { components, paths } from "../api/schema";
import { keyOf } from "../queries/keys";
import { useKeeping } from "../shared/keeping";

type Entry = paths["/api/v1/practice/jobs"]["post"]["requestBody"]["content"]["application/json"];
export type Beginning = Omit<Entry, "id">;
export type Help = components["schemas"]["AtTheBench"]["help"];

/** Begins a card and opens it where every card is opened: at Arrive. */
export function useBeginning() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const keeping = useKeeping([keyOf("practice"), keyOf("practice-day")]);
  const begin = async (body: Beginning) => {
    const begun = await keeping.keep(() =>
      api.POST("/api/v1/practice/jobs", { body: { id: newId(), ...body } }),
    );
    if (begun === null || begun === "kept") return;
    void queries.invalidateQueries({ queryKey: keyOf("practice") });
    navigate(`/jobs/${begun.number}/arrive`);
  };
  return { ...keeping, begin };
}
