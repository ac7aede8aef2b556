import { queryOptions, useQuery } from "@tanstack/react-query";

import { answer, api, type Schemas } from "./client";

export const meQuery = queryOptions({
  queryKey: ["me"],
  queryFn: () => answer(api.GET("/api/session")),
  staleTime: Infinity,
  retry: false,
});

export const vocabularyQuery = queryOptions({
  queryKey: ["vocabulary"],
  queryFn: async () => (await answer(api.GET("/api/vocabulary"))) as Schemas["Vocabulary"],
  staleTime: Infinity,
});

export const ingredientsQuery = queryOptions({
  queryKey: ["ingredients"],
  queryFn: () => answer(api.GET("/api/ingredients")),
  staleTime: 60_000,
});

export const mixesQuery = queryOptions({
  queryKey: ["mixes"],
  queryFn: () => answer(api.GET("/api/mixes")),
});

export const mixQuery = (id: number) =>
  queryOptions({
    queryKey: ["mix", id],
    queryFn: () => answer(api.GET("/api/mixes/{mix_id}", { params: { path: { mix_id: id } } })),
    staleTime: Infinity,
    gcTime: 0,
  });

export const batchesQuery = queryOptions({
  queryKey: ["batches"],
  queryFn: () => answer(api.GET("/api/batches")),
});

export const batchQuery = (id: number) =>
  queryOptions({
    queryKey: ["batch", id],
    queryFn: () => answer(api.GET("/api/batches/{batch_id}", { params: { path: { batch_id: id } } })),
  });

const NO_WORDS: Schemas["Vocabulary"] = { strata: [], stages: [], styles: [], units: [], firmness_words: [] };

/** The words that all screens share; empty lists until they have come. */
export function useVocabulary(): Schemas["Vocabulary"] {
  return useQuery(vocabularyQuery).data ?? NO_WORDS;
}
