import { useQuery } from "@tanstack/react-query";

import { answer, api, type Schemas } from "../../api/client";

/** The last revision of a mix, and how it comes out where it is to be laid behind the mix. */
export function useBehind(mixId: number, shown: boolean): { last: Schemas["RevisionOut"] | undefined; ghost: Schemas["MixAnalysis"] | undefined } {
  const path = { mix_id: mixId };
  const revisions = useQuery({
    queryKey: ["revisions", mixId],
    queryFn: () => answer(api.GET("/api/mixes/{mix_id}/revisions", { params: { path } })),
  });
  const last = revisions.data?.[0];
  const ghost = useQuery({
    queryKey: ["revision", mixId, last?.number],
    queryFn: () => answer(api.GET("/api/mixes/{mix_id}/revisions/{number}/analysis", { params: { path: { ...path, number: last?.number ?? 0 } } })),
    enabled: shown && last !== undefined,
    staleTime: Infinity,
  });
  return { last, ghost: shown ? ghost.data : undefined };
}
