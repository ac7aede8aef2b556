import { infiniteQueryOptions, keepPreviousData, type QueryClient, queryOptions } from "@tanstack/react-query";

import { answer, api, type Schemas } from "./client";
import type { paths } from "./schema";

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

export type Search = { find?: string; brings?: string; diet?: string; own?: boolean; limit?: number };

export const searchQuery = (search: Search) =>
  queryOptions({
    queryKey: ["ingredients", search],
    queryFn: ({ signal }) => answer(api.GET("/api/ingredients", { params: { query: search }, signal })),
    staleTime: 60_000,
    placeholderData: keepPreviousData,
  });

export const typedLineQuery = (text: string, limit: number) =>
  queryOptions({
    queryKey: ["ingredients", "typed", text, limit],
    queryFn: ({ signal }) => answer(api.GET("/api/typed-lines", { params: { query: { text, limit } }, signal })),
    staleTime: 60_000,
    placeholderData: keepPreviousData,
  });

export const ingredientQuery = (slug: string) =>
  queryOptions({
    queryKey: ["ingredient", slug],
    queryFn: () => answer(api.GET("/api/ingredients/{slug}", { params: { path: { slug } } })),
    staleTime: 60_000,
  });

export const stockQuery = queryOptions({
  queryKey: ["stock"],
  queryFn: () => answer(api.GET("/api/stock")),
});

/** Forget everything that was computed from the shelf or the kitchen, now that one of them has changed. */
export async function shelfChanged(client: QueryClient): Promise<void> {
  await Promise.all(
    ["analysis", "ingredients", "ingredient", "stock", "mixes", "line"].map((key) => client.invalidateQueries({ queryKey: [key] })),
  );
}

export type MixFilter = NonNullable<paths["/api/mixes"]["get"]["parameters"]["query"]>;

export const PAGE = 40;

export const mixesQuery = (wanted: MixFilter) =>
  infiniteQueryOptions({
    queryKey: ["mixes", wanted],
    queryFn: ({ pageParam, signal }) => answer(api.GET("/api/mixes", { params: { query: { ...wanted, limit: PAGE, offset: pageParam } }, signal })),
    initialPageParam: 0,
    getNextPageParam: (last, pages) => (pages.length * PAGE < last.total ? pages.length * PAGE : null),
    placeholderData: keepPreviousData,
  });

export const tagsQuery = queryOptions({
  queryKey: ["mixes", "tags"],
  queryFn: () => answer(api.GET("/api/tags")),
  staleTime: 60_000,
});

export const machinesQuery = queryOptions({
  queryKey: ["machines"],
  queryFn: () => answer(api.GET("/api/machines")),
  staleTime: 60_000,
});

export const notesQuery = (mixId: number) =>
  queryOptions({
    queryKey: ["notes", mixId],
    queryFn: () => answer(api.GET("/api/mixes/{mix_id}/notes", { params: { path: { mix_id: mixId } } })),
  });

export const revisionsQuery = (mixId: number) =>
  queryOptions({
    queryKey: ["revisions", mixId],
    queryFn: () => answer(api.GET("/api/mixes/{mix_id}/revisions", { params: { path: { mix_id: mixId } } })),
  });

export const batchesOfMixQuery = (mixId: number) =>
  queryOptions({
    queryKey: ["batches", "of", mixId],
    queryFn: () => answer(api.GET("/api/mixes/{mix_id}/batches", { params: { path: { mix_id: mixId } } })),
  });

export const lastBatchQuery = (mixId: number, machine: number | null) =>
  queryOptions({
    queryKey: ["batches", "last", mixId, machine],
    queryFn: () => answer(api.GET("/api/mixes/{mix_id}/last-batch", { params: { path: { mix_id: mixId } } })),
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
