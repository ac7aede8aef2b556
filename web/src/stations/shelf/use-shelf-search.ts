import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";

import type { Schemas } from "../../api/client";
import { searchQuery } from "../../api/queries";

/** Gets what answers the words, null where the shelf could not be asked. */
type Choose = (matches: Schemas["IngredientOut"][] | null) => void;

/**
 * What on the shelf answers the words typed so far. `choose` runs at once, or as soon as the answer to these
 * very words is there: who types fast and presses Enter means what is typed, not what was shown before, whatever
 * is typed after it and also when the field is left. `sought` are the words that still wait, `forget` takes them back.
 */
export function useShelfSearch(wanted: string, limit: number) {
  const [waiting, setWaiting] = useState<{ words: string; choose: Choose }[]>([]);
  const { matches, settled, failed } = useMatches(wanted, limit);
  const next = waiting[0];
  const asked = useMatches(next?.words ?? "", limit);
  useEffect(() => {
    if (!next || !asked.settled) return;
    setWaiting((all) => all.slice(1));
    next.choose(asked.failed ? null : asked.matches);
  });
  function choose(then: Choose) {
    if (settled) then(failed ? null : matches);
    else setWaiting((all) => [...all, { words: wanted, choose: then }]);
  }
  return { matches, settled, failed, sought: waiting.map(({ words }) => words), choose, forget: () => setWaiting([]) };
}

function useMatches(words: string, limit: number) {
  const search = useQuery({ ...searchQuery({ find: words, limit }), enabled: words !== "" });
  return {
    matches: words === "" || search.isError ? [] : (search.data?.ingredients ?? []),
    settled: search.isFetched && !search.isPlaceholderData,
    failed: search.isError,
  };
}
