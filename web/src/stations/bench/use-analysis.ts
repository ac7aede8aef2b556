import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { answer, api, type Schemas } from "../../api/client";
import { bodyOf, type Draft } from "./draft";

export type DraftReading = {
  analysis: Schemas["MixAnalysis"] | null;
  allergens: string[];
  allergensNotStated: string[];
  lines: Map<string, Schemas["LineAnalysis"]>;
};

/** The server's reading of a draft: the newest answer, the one before it while the next is on its way. */
export function useAnalysis(draft: Draft, freezer: number) {
  const body = { ...bodyOf(draft), freezer_c: freezer };
  const keys = draft.lines.map((line) => line.key);
  return useQuery({
    queryKey: ["analysis", body, keys],
    queryFn: async ({ signal }): Promise<DraftReading> => {
      const found = await answer(api.POST("/api/analyse", { body, signal }));
      return {
        analysis: found.analysis,
        allergens: found.allergens,
        allergensNotStated: found.allergens_not_stated,
        lines: new Map(keys.map((key, index) => [key, found.lines[index]!])),
      };
    },
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 30_000,
  });
}
