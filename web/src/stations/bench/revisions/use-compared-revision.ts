import { useQuery } from "@tanstack/react-query";

import { answer, api, type Schemas } from "../../../shared/api/client";
import { revisionsQuery } from "../../../shared/api/queries";

const NONE: Schemas["RevisionOut"][] = [];

/** The revisions of a mix, newest first, and how the one that it is compared with comes out. */
export function useComparedRevision(mixId: number, number: number | null): { revisions: Schemas["RevisionOut"][]; ghost: Schemas["MixAnalysis"] | undefined } {
  const revisions = useQuery(revisionsQuery(mixId));
  const ghost = useQuery({
    queryKey: ["revision", mixId, number],
    queryFn: () => answer(api.GET("/mixes/{mix_id}/revisions/{number}/analysis", { params: { path: { mix_id: mixId, number: number ?? 0 } } })),
    enabled: number !== null,
    staleTime: Infinity,
  });
  return { revisions: revisions.data ?? NONE, ghost: number === null ? undefined : ghost.data };
}
