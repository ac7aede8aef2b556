import { useQuery } from "@tanstack/react-query";

import { answer, api, type Schemas } from "../../../shared/api/client";

/** How the revision that a mix is compared with comes out, to be drawn as outlines. */
export function useRevisionGhost(mixId: number, number: number | null): Schemas["MixAnalysis"] | undefined {
  const ghost = useQuery({
    queryKey: ["revision", mixId, number],
    queryFn: () => answer(api.GET("/mixes/{mix_id}/revisions/{number}/analysis", { params: { path: { mix_id: mixId, number: number ?? 0 } } })),
    enabled: number !== null,
    staleTime: Infinity,
  });
  return number === null ? undefined : ghost.data;
}
