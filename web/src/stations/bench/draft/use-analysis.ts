import { keepPreviousData, replaceEqualDeep, useQuery } from "@tanstack/react-query";
import { useRef } from "react";

import { answer, api, Offline, type Schemas } from "../../../shared/api/client";
import { bodyOf, type Draft, writtenOf } from "./draft";

const RETRY_MS = 3000;

export type LineReading = Omit<Schemas["LineAnalysis"], "contributions">;

export type DraftReading = {
  /** The draft that was read: what is drawn of the reading alone is not drawn anew while the next is on its way. */
  of: Draft;
  analysis: Schemas["MixAnalysis"] | null;
  allergens: string[];
  mayHold: string[];
  guestCautions: Schemas["CautionOut"][];
  allergensNotStated: string[];
  undisclosed: string[];
  mixIns: Record<string, Schemas["MixInOut"]>;
  product: Schemas["ProductOut"] | null;
  cost: Schemas["CostOut"] | null;
  fill: Schemas["FillOut"] | null;
  lines: Record<string, LineReading>;
  /** What each line contributes to, in %; apart from the lines, for it changes in all of them when one does. */
  contributions: Record<string, Record<string, number>>;
};

/**
 * The server's reading of a draft: the newest answer, the one before it while the next is on its way, and
 * whether it `waits` for a server that does not answer. What an edit leaves as it was stays the same object, so
 * that only what changed is drawn again.
 */
export function useAnalysis(draft: Draft, freezer: number) {
  const last = useRef<DraftReading>(undefined);
  const keys = draft.lines.map((line) => line.key);
  const { data, error, isPaused, failureCount } = useQuery({
    queryKey: ["analysis", writtenOf(draft), freezer, keys],
    queryFn: async ({ signal }): Promise<DraftReading> => {
      const found = await answer(api.POST("/analyses", { body: { ...bodyOf(draft), freezer_c: freezer }, signal }));
      const reading: Omit<DraftReading, "of"> = {
        analysis: found.analysis,
        allergens: found.allergens,
        mayHold: found.may_hold,
        guestCautions: found.guest_cautions,
        allergensNotStated: found.allergens_not_stated,
        undisclosed: found.undisclosed,
        mixIns: Object.fromEntries(found.mix_ins.map((mixIn) => [keys[mixIn.line]!, mixIn])),
        product: found.product,
        cost: found.cost,
        fill: found.fill,
        lines: Object.fromEntries(keys.map((key, index) => [key, withoutContributions(found.lines[index]!)])),
        contributions: Object.fromEntries(keys.map((key, index) => [key, found.lines[index]!.contributions])),
      };
      last.current = { ...replaceEqualDeep<typeof reading>(last.current, reading), of: draft };
      return last.current;
    },
    structuralSharing: false,
    placeholderData: keepPreviousData,
    retry: (_, failure) => failure instanceof Offline,
    retryDelay: RETRY_MS,
    staleTime: Infinity,
    gcTime: 30_000,
  });
  return { data, error, waits: isPaused || failureCount > 0 };
}

function withoutContributions({ contributions: _, ...line }: Schemas["LineAnalysis"]): LineReading {
  return line;
}
