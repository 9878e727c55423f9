import { t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import type { components } from "../api/schema";
import { lifeQuery, stockQuery } from "../queries/stock";
import type { Kinds } from "../shared/useKinds";

export type StockData = components["schemas"]["Stock"];
export type Life = components["schemas"]["Life"];
export type Drawn = components["schemas"]["Genealogy"];
export type DonorsData = components["schemas"]["Donors"];
export type Donor = components["schemas"]["Donor"];
export type LotsData = components["schemas"]["Lots"];
export type ModelValues = components["schemas"]["ModelValues"];
export type Move = components["schemas"]["NewMoveRequest"];

export type Kind = Exclude<components["schemas"]["Part"]["kind"], "">;
export const COUNTED: readonly string[] = ["balls", "small"];
export type Condition = NonNullable<Move["condition"]>;

/** What a part is called by its kind; one that Stock has no kind of came with a card. */
export function partWords(kinds: Kinds["stock"], kind: string): string {
  return kinds.find(({ name }) => name === kind)?.words ?? t`part of a card`;
}

export function lifeAt(label: string): string {
  return `/stock?label=${encodeURIComponent(label)}`;
}

export function useStock(asked: { text: string; kind: string; place: string }) {
  return useQuery(stockQuery(asked));
}

export function useLife(label: string) {
  return useQuery({ ...lifeQuery(label), enabled: label !== "" });
}
