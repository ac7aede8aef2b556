import { useQuery } from "@tanstack/react-query";

import { answer, api, type Schemas } from "../../../shared/api/client";
import { bare, bodyOf, type Draft, newLine, writtenOf } from "./draft";

/** How the mix would come out with all that is proposed. */
export function useProposed(draft: Draft, freezer: number, proposal: Schemas["Proposal"] | null): Schemas["MixAnalysis"] | undefined {
  const lines = () => (proposal?.lines ?? []).map((line) => bare(newLine(line.ingredient, String(line.after_g), line.stage)));
  const asked = useQuery({
    queryKey: ["analysis", "proposed", proposal, writtenOf(draft), freezer],
    queryFn: async ({ signal }) => (await answer(api.POST("/analyses", { body: { ...bodyOf(draft), lines: lines(), freezer_c: freezer }, signal }))).analysis,
    enabled: proposal !== null,
    staleTime: Infinity,
    gcTime: 30_000,
  });
  return proposal ? (asked.data ?? undefined) : undefined;
}
