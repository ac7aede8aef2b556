import { infiniteQueryOptions, keepPreviousData, type QueryClient, queryOptions } from "@tanstack/react-query";

import { keptOnDevice } from "../kept-on-device";
import { askSession } from "../session";
import { answer, api, type KitchenPaths, type Schemas, server } from "./client";

export const sessionQuery = queryOptions({
  queryKey: ["session"],
  queryFn: askSession,
  staleTime: Infinity,
  retry: false,
});

export const kitchenQuery = queryOptions({
  queryKey: ["kitchen"],
  queryFn: () => keptOnDevice("kitchen", () => answer(api.GET(""))),
  staleTime: Infinity,
});

export const peopleQuery = queryOptions({
  queryKey: ["people"],
  queryFn: () => answer(api.GET("/people")),
});

export const vocabularyQuery = queryOptions({
  queryKey: ["vocabulary"],
  queryFn: () => keptOnDevice("vocabulary", async () => (await answer(server.GET("/vocabulary"))) as Schemas["Vocabulary"]),
  staleTime: Infinity,
});

const MOST_AT_ONCE = 100;
const SOMEBODY_ELSE_MS = 10_000; // two at one batch see each other's presses soon enough

type Page<T> = { items: T[]; total: number };

/** All of a list that is wanted whole, page after page. */
async function everyPage<T>(fetchPage: (page: { limit: number; offset: number }) => Promise<Page<T>>): Promise<T[]> {
  const items: T[] = [];
  for (;;) {
    const page = await fetchPage({ limit: MOST_AT_ONCE, offset: items.length });
    items.push(...page.items);
    if (page.items.length === 0 || items.length >= page.total) return items;
  }
}

export type Search = NonNullable<KitchenPaths["/ingredients"]["get"]["parameters"]["query"]>;

/** What a typed line may mean; without a signal it is awaited whatever is typed meanwhile. */
export function readTypedLine(text: string, limit: number, signal?: AbortSignal) {
  return answer(api.GET("/typed-lines", { params: { query: { text, limit } }, ...(signal ? { signal } : {}) }));
}

export const typedLineQuery = (text: string, limit: number) =>
  queryOptions({
    queryKey: ["ingredients", "typed", text, limit],
    queryFn: ({ signal }) => readTypedLine(text, limit, signal),
    staleTime: 60_000,
    placeholderData: keepPreviousData,
  });

export const ingredientQuery = (slug: string) =>
  queryOptions({
    queryKey: ["ingredient", slug],
    queryFn: () => answer(api.GET("/ingredients/{slug}", { params: { path: { slug } } })),
    staleTime: 60_000,
  });

export const placesQuery = queryOptions({
  queryKey: ["places"],
  queryFn: () => answer(api.GET("/places")),
  staleTime: 60_000,
});

export const vesselsQuery = queryOptions({
  queryKey: ["vessels"],
  queryFn: () => answer(api.GET("/vessels")),
  staleTime: 60_000,
});

export const usesQuery = (slug: string) =>
  queryOptions({
    queryKey: ["ingredient", slug, "uses"],
    queryFn: () => answer(api.GET("/ingredients/{slug}/uses", { params: { path: { slug } } })),
  });

export const versionsQuery = (slug: string) =>
  queryOptions({
    queryKey: ["ingredient", slug, "versions"],
    queryFn: () => everyPage((query) => answer(api.GET("/ingredients/{slug}/versions", { params: { path: { slug }, query } }))),
  });

export const correctionsQuery = queryOptions({
  queryKey: ["ingredients", "corrections"],
  queryFn: () => everyPage((query) => answer(api.GET("/corrections", { params: { query } }))),
  staleTime: 60_000,
});

export const lotsQuery = queryOptions({
  queryKey: ["lots"],
  queryFn: () => everyPage((query) => answer(api.GET("/lots", { params: { query } }))),
});

export const lotQuery = (id: number) =>
  queryOptions({
    queryKey: ["lots", id],
    queryFn: () => answer(api.GET("/lots/{lot_id}", { params: { path: { lot_id: id } } })),
  });

export const lotTraceQuery = (id: number) =>
  queryOptions({
    queryKey: ["lots", id, "trace"],
    queryFn: () => answer(api.GET("/lots/{lot_id}/trace", { params: { path: { lot_id: id } } })),
  });

export const pricesQuery = (slug: string) =>
  queryOptions({
    queryKey: ["ingredient", slug, "prices"],
    queryFn: () => answer(api.GET("/ingredients/{slug}/prices", { params: { path: { slug } } })),
  });

export const priceEffectsQuery = (slug: string, perKg: number) =>
  queryOptions({
    queryKey: ["ingredient", slug, "price-effects", perKg],
    queryFn: () => answer(api.GET("/ingredients/{slug}/price-effects", { params: { path: { slug }, query: { per_kg: perKg } } })),
  });

export const lotsOfBatchQuery = (id: number) =>
  queryOptions({
    queryKey: ["batches", id, "lots"],
    queryFn: () => answer(api.GET("/batches/{batch_id}/lots", { params: { path: { batch_id: id } } })),
  });

export const tubsOfBatchQuery = (id: number) =>
  queryOptions({
    queryKey: ["batches", id, "tubs"],
    queryFn: () => answer(api.GET("/batches/{batch_id}/tubs", { params: { path: { batch_id: id } } })),
  });

export const originsQuery = (batchId: number) =>
  queryOptions({
    queryKey: ["batches", batchId, "origins"],
    queryFn: () => answer(api.GET("/batches/{batch_id}/origins", { params: { path: { batch_id: batchId } } })),
  });

/** Forget everything that was computed from the shelf or the kitchen, now that one of them has changed. */
export async function shelfChanged(client: QueryClient): Promise<void> {
  await Promise.all(
    ["analysis", "ingredients", "ingredient", "lots", "mixes", "line"].map((key) => client.invalidateQueries({ queryKey: [key] })),
  );
}

export type MixFilter = NonNullable<KitchenPaths["/mixes"]["get"]["parameters"]["query"]>;

export const PAGE = 40;

/** Where the next page of a list begins, null after the last. */
function nextOffset(last: Page<unknown>, pages: Page<unknown>[]): number | null {
  return pages.length * PAGE < last.total ? pages.length * PAGE : null;
}

export const shelfQuery = (wanted: Omit<Search, "limit" | "offset">) =>
  infiniteQueryOptions({
    queryKey: ["ingredients", wanted],
    queryFn: ({ pageParam, signal }) => answer(api.GET("/ingredients", { params: { query: { ...wanted, limit: PAGE, offset: pageParam } }, signal })),
    initialPageParam: 0,
    getNextPageParam: nextOffset,
    staleTime: 60_000,
    placeholderData: keepPreviousData,
  });

export const mixesQuery = (wanted: MixFilter) =>
  infiniteQueryOptions({
    queryKey: ["mixes", wanted],
    queryFn: ({ pageParam, signal }) => answer(api.GET("/mixes", { params: { query: { ...wanted, limit: PAGE, offset: pageParam } }, signal })),
    initialPageParam: 0,
    getNextPageParam: nextOffset,
    placeholderData: keepPreviousData,
  });

/** All mixes, to choose from. */
export const everyMixQuery = queryOptions({
  queryKey: ["mixes", "every"],
  queryFn: () => everyPage((page) => answer(api.GET("/mixes", { params: { query: page } }))),
});

export const tagsQuery = queryOptions({
  queryKey: ["mixes", "tags"],
  queryFn: () => answer(api.GET("/tags")),
  staleTime: 60_000,
});

export const machinesQuery = queryOptions({
  queryKey: ["machines"],
  queryFn: () => answer(api.GET("/machines")),
  staleTime: 60_000,
});

export const notesQuery = (mixId: number) =>
  queryOptions({
    queryKey: ["notes", mixId],
    queryFn: () => everyPage((query) => answer(api.GET("/mixes/{mix_id}/notes", { params: { path: { mix_id: mixId }, query } }))),
  });

export const revisionsQuery = (mixId: number) =>
  queryOptions({
    queryKey: ["revisions", mixId],
    queryFn: () => everyPage((query) => answer(api.GET("/mixes/{mix_id}/revisions", { params: { path: { mix_id: mixId }, query } }))),
  });

export const batchesOfMixQuery = (mixId: number) =>
  queryOptions({
    queryKey: ["batches", "of", mixId],
    queryFn: () => everyPage((query) => answer(api.GET("/mixes/{mix_id}/batches", { params: { path: { mix_id: mixId }, query } }))),
  });

export const lastBatchQuery = (mixId: number, machine: number | null) =>
  queryOptions({
    queryKey: ["batches", "last", mixId, machine],
    queryFn: () => answer(api.GET("/mixes/{mix_id}/last-batch", { params: { path: { mix_id: mixId } } })),
  });

export const mixQuery = (id: number) =>
  queryOptions({
    queryKey: ["mix", id],
    queryFn: () => answer(api.GET("/mixes/{mix_id}", { params: { path: { mix_id: id } } })),
    staleTime: Infinity,
    gcTime: 0,
  });

export const batchesQuery = infiniteQueryOptions({
  queryKey: ["batches"],
  queryFn: ({ pageParam }) => answer(api.GET("/batches", { params: { query: { limit: PAGE, offset: pageParam } } })),
  initialPageParam: 0,
  getNextPageParam: nextOffset,
});

export const batchQuery = (id: number) =>
  queryOptions({
    queryKey: ["batch", id],
    queryFn: () => answer(api.GET("/batches/{batch_id}", { params: { path: { batch_id: id } } })),
  });

/** A batch as it is made; this device keeps it, so that work goes on without a connection. */
export const makingQuery = (id: number) =>
  queryOptions({
    queryKey: ["making", id],
    queryFn: () => keptOnDevice(`making.${id}`, () => answer(api.GET("/batches/{batch_id}/making", { params: { path: { batch_id: id } } }))),
    refetchInterval: SOMEBODY_ELSE_MS,
  });

export const atWorkQuery = queryOptions({
  queryKey: ["at-work"],
  queryFn: () => keptOnDevice("at-work", () => answer(api.GET("/at-work"))),
});

export const batchesOfPlanQuery = (plan: number) =>
  queryOptions({
    queryKey: ["plan", plan, "batches"],
    queryFn: () => answer(api.GET("/plans/{plan_id}/batches", { params: { path: { plan_id: plan } } })),
  });

export const photosQuery = (batch: number) =>
  queryOptions({
    queryKey: ["batch", batch, "photos"],
    queryFn: () => answer(api.GET("/batches/{batch_id}/photos", { params: { path: { batch_id: batch } } })),
  });

export const plansQuery = queryOptions({
  queryKey: ["plans"],
  queryFn: () => everyPage((page) => answer(api.GET("/plans", { params: { query: page } }))),
});

/** A plan; somebody else may be at it too, so it is looked at again now and then. */
export const planQuery = (id: number) =>
  queryOptions({
    queryKey: ["plan", id],
    queryFn: () => answer(api.GET("/plans/{plan_id}", { params: { path: { plan_id: id } } })),
    refetchInterval: 10_000,
  });

export const workplaceQuery = queryOptions({
  queryKey: ["workplace"],
  queryFn: () => answer(api.GET("/workplace")),
});

export const trialsQuery = infiniteQueryOptions({
  queryKey: ["trials"],
  queryFn: ({ pageParam }) => answer(api.GET("/trials", { params: { query: { limit: PAGE, offset: pageParam } } })),
  initialPageParam: 0,
  getNextPageParam: nextOffset,
});

/** A trial with its tests; guests answer meanwhile, so it is looked at again now and then. */
export const trialQuery = (id: number) =>
  queryOptions({
    queryKey: ["trials", id],
    queryFn: () => answer(api.GET("/trials/{trial_id}", { params: { path: { trial_id: id } } })),
    refetchInterval: SOMEBODY_ELSE_MS,
  });

export const tastingsQuery = queryOptions({
  queryKey: ["tastings"],
  queryFn: () => answer(api.GET("/tastings")),
});

export const tasteQuery = (batch: number) =>
  queryOptions({
    queryKey: ["tastings", batch],
    queryFn: () => answer(api.GET("/batches/{batch_id}/taste", { params: { path: { batch_id: batch } } })),
  });

export const mixCardsQuery = (mix: number) =>
  queryOptions({
    queryKey: ["tastings", "mix", mix],
    queryFn: () => answer(api.GET("/mixes/{mix_id}/cards", { params: { path: { mix_id: mix } } })),
  });

export const learntQuery = queryOptions({
  queryKey: ["learnt"],
  queryFn: () => answer(api.GET("/learnt")),
});

export const dosesQuery = queryOptions({
  queryKey: ["doses"],
  queryFn: () => answer(api.GET("/doses")),
});

export const instrumentsQuery = queryOptions({
  queryKey: ["instruments"],
  queryFn: () => answer(api.GET("/instruments")),
  refetchInterval: 3000,
  retry: false,
});

export const rescuesQuery = (batch: number, step: string) =>
  queryOptions({
    queryKey: ["rescues", batch, step],
    queryFn: () => answer(api.GET("/batches/{batch_id}/steps/{step}/rescues", { params: { path: { batch_id: batch, step } } })),
  });
