import { t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import type { components } from "../api/schema";
import { lifeQuery, stockQuery } from "../queries/stock";

export type StockData = components["schemas"]["Stock"];
export type Life = components["schemas"]["Life"];
export type Drawn = components["schemas"]["Genealogy"];
export type DonorsData = components["schemas"]["Donors"];
export type Donor = components["schemas"]["Donor"];
export type LotsData = components["schemas"]["Lots"];
export type ModelValues = components["schemas"]["ModelValues"];
export type Move = components["schemas"]["NewMoveRequest"];

export const KINDS = [
  ["chip", t`memory chip`],
  ["core", t`core`],
  ["small", t`small part`],
  ["connector", t`connector`],
  ["set", t`set of parts`],
  ["stencil", t`stencil`],
  ["balls", t`balls`],
  ["other", t`something else`],
] as const;
export type Kind = (typeof KINDS)[number][0];
export const COUNTED: readonly string[] = ["balls", "small"];
export const CONDITIONS = [
  ["", t`not recorded`],
  ["new", t`new`],
  ["tested", t`tested`],
  ["pulled", t`pulled off a card`],
  ["doubtful", t`doubtful`],
  ["dead", t`dead`],
] as const;
export type Condition = (typeof CONDITIONS)[number][0];

export function kindWords(kind: string): string {
  return KINDS.find(([word]) => word === kind)?.[1] ?? t`part of a card`;
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
