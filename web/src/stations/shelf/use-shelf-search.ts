import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";

import type { Schemas } from "../../api/client";
import { searchQuery } from "../../api/queries";

type Choose = (matches: Schemas["IngredientOut"][]) => void;

/**
 * What on the shelf answers the words typed so far. `choose` runs at once, or as soon as the answer to these
 * very words is there: who types fast and presses Enter means what is typed, not what was shown before, also
 * when the field is left or closed meanwhile. Other words, or `forget`, take the choice back.
 */
export function useShelfSearch(wanted: string, limit: number) {
  const [waiting, setWaiting] = useState<{ words: string; choose: Choose } | null>(null);
  const words = wanted || (waiting?.words ?? "");
  const search = useQuery({ ...searchQuery({ find: words, limit }), enabled: words !== "" });
  const settled = search.isFetched && !search.isPlaceholderData;
  const found = search.data?.ingredients ?? [];
  useEffect(() => {
    if (!waiting || (waiting.words === words && !settled)) return;
    setWaiting(null);
    if (waiting.words === words) waiting.choose(found);
  });
  function choose(then: Choose) {
    if (settled) then(found);
    else setWaiting({ words, choose: then });
  }
  return { matches: wanted === "" ? [] : found, settled, choose, forget: () => setWaiting(null) };
}
