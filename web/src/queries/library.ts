/** What is asked of the library: board models, families, plans, recipes, readers, images, settings. */
import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { api, data } from "../api/client";
import type { components } from "../api/schema";
import type { BoardDocument } from "../editor/document";
import { keptDraft } from "../editor/useDraft";
import { keyOf } from "./keys";

export const ballMapQuery = (slug: string, designator: string | undefined) =>
  queryOptions({
    queryKey: keyOf("ball-map", slug, designator),
    queryFn: async () =>
      data(
        await api.GET("/api/v1/board-models/{slug}/ball-maps/{designator}", {
          params: { path: { slug, designator: designator ?? "" } },
        }),
      ),
  });

export const benchPlansQuery = () =>
  queryOptions({
    queryKey: keyOf("bench-plans"),
    queryFn: async () => data(await api.GET("/api/v1/bench-plans")),
  });

export const boardEditionQuery = (slug: string, edition: string) =>
  queryOptions({
    queryKey: keyOf("board-edition", slug, edition),
    queryFn: async () => {
      const path = { slug, edition: Number(edition) };
      return data(await api.GET("/api/v1/board-models/{slug}/editions/{edition}", { params: { path } }));
    },
  });

export const boardModelEditionsQuery = (slug: string, newest: number) =>
  queryOptions({
    queryKey: keyOf("board-model", slug, "editions", newest),
    queryFn: async () =>
      data(await api.GET("/api/v1/board-models/{slug}/editions", { params: { path: { slug } } })),
  });

export const boardModelInheritedQuery = (slug: string) =>
  queryOptions({
    queryKey: keyOf("board-model", slug, "inherited"),
    queryFn: async () =>
      data(await api.GET("/api/v1/board-models/{slug}/inherited", { params: { path: { slug } } })),
  });

export const boardModelQuery = (slug: string) =>
  queryOptions({
    queryKey: keyOf("board-model", slug),
    queryFn: async () => data(await api.GET("/api/v1/board-models/{slug}", { params: { path: { slug } } })),
  });

export const boardModelsQuery = () =>
  queryOptions({
    queryKey: keyOf("board-models"),
    queryFn: async () => data(await api.GET("/api/v1/board-models")),
  });

export const editStartupQuery = (slug: string) =>
  queryOptions({
    queryKey: keyOf("edit-startup", slug),
    queryFn: async () => {
      const params = { path: { slug } };
      const model = data(await api.GET("/api/v1/board-models/{slug}", { params }));
      if (model.edition === 0) return null;
      const lent = data(await api.GET("/api/v1/board-models/{slug}/lent-map", { params }));
      const key = `uvrix-startup-${slug}`;
      const kept = keptDraft(key);
      if (kept && kept.base === model.edition) return { key, ...kept, model, lent };
      const path = { slug, edition: model.edition };
      const edition = data(
        await api.GET("/api/v1/board-models/{slug}/editions/{edition}", { params: { path } }),
      );
      return { key, document: edition.document as BoardDocument, base: model.edition, model, lent };
    },
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
  });

export const familiesQuery = () =>
  queryOptions({
    queryKey: keyOf("families"),
    queryFn: async () => data(await api.GET("/api/v1/families")),
  });

export const knownGoodFiguresQuery = (slug: string) =>
  queryOptions({
    queryKey: keyOf("figures", slug),
    queryFn: async () =>
      data(await api.GET("/api/v1/board-models/{slug}/known-good/figures", { params: { path: { slug } } })),
  });

export const imagesComparedQuery = (old: string, other: string, begin: number) =>
  queryOptions({
    queryKey: keyOf("images-compared", old, other, begin),
    queryFn: async () => {
      const params = { path: { sha256: old, other }, query: { begin } };
      return data(await api.GET("/api/v1/images/{sha256}/against/{other}", { params }));
    },
  });

export const knownGoodQuery = (slug: string) =>
  queryOptions({
    queryKey: keyOf("known-good", slug),
    queryFn: async () =>
      data(await api.GET("/api/v1/board-models/{slug}/known-good", { params: { path: { slug } } })),
  });

export const packagesQuery = () =>
  queryOptions({
    queryKey: keyOf("packages"),
    queryFn: async () => data(await api.GET("/api/v1/packages")),
  });

export const pinoutsQuery = () =>
  queryOptions({
    queryKey: keyOf("pinouts"),
    queryFn: async () => data(await api.GET("/api/v1/pinouts")),
  });

export const readersQuery = () =>
  queryOptions({
    queryKey: keyOf("readers"),
    queryFn: async () => data(await api.GET("/api/v1/readers")),
  });

export const recipesQuery = () =>
  queryOptions({
    queryKey: keyOf("recipes"),
    queryFn: async () => data(await api.GET("/api/v1/recipes")),
  });

export const referenceCardsQuery = (slug: string) =>
  queryOptions({
    queryKey: keyOf("reference-cards", slug),
    queryFn: async () =>
      data(
        await api.GET("/api/v1/board-models/{slug}/reference-cards", { params: { path: { slug: slug } } }),
      ),
  });

export const reworkSettingsQuery = () =>
  queryOptions({
    queryKey: keyOf("rework-settings"),
    queryFn: async () => data(await api.GET("/api/v1/rework-settings")),
  });

export const sketchQuery = (id: string | undefined) =>
  queryOptions({
    queryKey: keyOf("sketch", id),
    queryFn: async () =>
      data(
        await api.GET("/api/v1/board-models/{slug}/sketch", {
          params: { path: { slug: String(id) } },
        }),
      ),
    retry: false,
  });

export const valuesQuery = (slug: string) =>
  queryOptions({
    queryKey: keyOf("values", slug),
    queryFn: async () =>
      data(await api.GET("/api/v1/board-models/{slug}/values", { params: { path: { slug } } })),
  });

/** What a reader that is being taught reads of its sample. */
export const tryReaderQuery = (draft: object, body: components["schemas"]["TryRequest"]) =>
  queryOptions({
    queryKey: keyOf("try-reader", draft),
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: async () => data(await api.POST("/api/v1/readers/try", { body })),
  });
