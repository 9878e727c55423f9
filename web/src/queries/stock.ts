/** What is asked of stock: parts, donors, lots, substitutes. */
import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { api, data } from "../api/client";
import type { paths } from "../api/schema";
import { keyOf } from "./keys";

export const bearersQuery = (marking: string) =>
  queryOptions({
    queryKey: keyOf("bearers", marking),
    queryFn: async () => data(await api.GET("/api/v1/stock/bearers", { params: { query: { marking } } })),
  });

export const donorsQuery = () =>
  queryOptions({
    queryKey: keyOf("donors"),
    queryFn: async () => data(await api.GET("/api/v1/stock/donors")),
  });

export const lifeQuery = (label: string) =>
  queryOptions({
    queryKey: keyOf("life", label),
    queryFn: async () => data(await api.GET("/api/v1/stock/life", { params: { query: { label } } })),
  });

export const lotsQuery = () =>
  queryOptions({
    queryKey: keyOf("lots"),
    queryFn: async () => data(await api.GET("/api/v1/stock/lots")),
  });

export const partsSoughtQuery = (sought: string) =>
  queryOptions({
    queryKey: keyOf("parts-sought", sought),
    queryFn: async () => data(await api.GET("/api/v1/stock/sought", { params: { query: { text: sought } } })),
  });

/** Parts that fit what is sought, and the whole: trays, loans, what to order. */
export const stockQuery = (asked: { text: string; kind: string; place: string }) =>
  queryOptions({
    queryKey: keyOf("stock", asked),
    placeholderData: keepPreviousData,
    queryFn: async () => {
      const query = Object.fromEntries(Object.entries(asked).filter(([, value]) => value));
      return data(await api.GET("/api/v1/stock", { params: { query } }));
    },
  });

type Connector = paths["/api/v1/stock/substitutes"]["get"]["parameters"]["query"];

export const substitutesQuery = (asked: Connector) =>
  queryOptions({
    queryKey: keyOf("substitutes", asked),
    retry: false,
    queryFn: async () => data(await api.GET("/api/v1/stock/substitutes", { params: { query: asked } })),
  });
