import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";

import type { Schemas } from "../../shared/api/client";
import { typedLineQuery } from "../../shared/api/queries";

/** Gets what a line may mean, null where the shelf could not be asked. */
type Choose = (matches: Schemas["TypedMatch"][] | null) => void;

/**
 * What the line typed so far says: its amount, its words, and what on the shelf they may be. `choose` runs at once, or
 * as soon as the answer to this very line is there: who types fast and presses Enter means what is typed, not what was
 * shown before, whatever is typed after it and also when the field is left. `sought` are the lines that still wait,
 * `forget` takes them back.
 */
export function useTypedLine(text: string, limit: number) {
  const [waiting, setWaiting] = useState<{ text: string; choose: Choose }[]>([]);
  const { query, matches, settled, failed } = useReading(text, limit);
  const next = waiting[0];
  const asked = useReading(next?.text ?? "", limit);
  useEffect(() => {
    if (!next || !asked.settled) return;
    setWaiting((all) => all.slice(1));
    next.choose(asked.failed ? null : asked.matches);
  });
  function choose(then: Choose) {
    if (settled) then(failed ? null : matches);
    else setWaiting((all) => [...all, { text, choose: then }]);
  }
  return { query, matches, settled, failed, sought: waiting.map(({ text: line }) => line), choose, forget: () => setWaiting([]) };
}

function useReading(text: string, limit: number) {
  const line = text.trim();
  const reading = useQuery({ ...typedLineQuery(line, limit), enabled: line !== "" });
  const found = line === "" || reading.isError ? undefined : reading.data;
  return {
    query: found?.query ?? "",
    matches: found?.matches ?? [],
    settled: reading.isFetched && !reading.isPlaceholderData,
    failed: reading.isError,
  };
}

/** An amount as it is shown before a name; a number alone is g. */
export function withUnit(amount: string): string {
  return /[a-z%]/i.test(amount) ? amount : `${amount} g`;
}
