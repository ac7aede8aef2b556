import type { QueryClient } from "@tanstack/react-query";

/** What was tasted or measured may teach: whatever goes by what was learnt is asked for anew. */
export async function relearn(client: QueryClient): Promise<void> {
  await Promise.all([["learnt"], ["analysis"], ["kitchen"], ["tastings"]].map((queryKey) => client.invalidateQueries({ queryKey })));
}
