import { t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { chipsQuery } from "../queries/job";
import { ballMapQuery } from "../queries/library";

export const STATES = ["in circuit", "site pads", "chip alone"] as const;
export type State = (typeof STATES)[number];

/** In words: where the probe is. */
export const SAYS: Record<State, string> = {
  "in circuit": t`in circuit`,
  "site pads": t`on the empty pads`,
  "chip alone": t`on the lifted chip`,
};

export function useChips(number: number) {
  return useQuery(chipsQuery(number));
}

/** The ball map of a chip; none where its package is not known. */
export function useBallMap(slug: string, designator: string | undefined, known: boolean) {
  return useQuery({ ...ballMapQuery(slug, designator), enabled: known && designator !== undefined });
}
