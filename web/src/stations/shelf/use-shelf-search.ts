import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";

import type { Schemas } from "../../api/client";
import { searchQuery } from "../../api/queries";

type Choose = (matches: Schemas["IngredientOut"][]) => void;

/**
 * What on the shelf answers the words typed so far. `choose` runs at once, or as soon as the answer to these
 * very words is there: who types fast and presses Enter means what is typed, not what was shown before.
 */
export function useShelfSearch(wanted: string, limit: number) {
  const search = useQuery({ ...searchQuery({ find: wanted, limit }), enabled: wanted !== "" });
  const settled = search.isFetched && !search.isPlaceholderData;
  const matches = wanted === "" ? [] : (search.data?.ingredients ?? []);
  const waiting = useRef<Choose>(null);
  useEffect(() => {
    waiting.current = null;
  }, [wanted]);
  useEffect(() => {
    if (!settled || !waiting.current) return;
    const choose = waiting.current;
    waiting.current = null;
    choose(matches);
  });
  function choose(then: Choose) {
    if (settled) then(matches);
    else waiting.current = then;
  }
  return { matches, settled, choose };
}
