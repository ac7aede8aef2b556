import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";

import type { Schemas } from "../../shared/api/client";
import { useKitchen } from "../../shared/api/kitchen";
import { readTypedLine, typedLineQuery } from "../../shared/api/queries";

/** Gets what a line may mean, null where the shelf could not be asked. */
type Choose = (matches: Schemas["TypedMatch"][] | null) => void;

/**
 * What the line typed so far says: its amount, its words, and what on the shelf they may be. `choose` runs as soon as
 * the answer to this very line is there: who types fast and presses Enter means what is typed, not what was shown
 * before, whatever is typed after it and also when the field is left. `sought` are the lines that still wait, in
 * their order; `forget` takes them back.
 */
export function useTypedLine(text: string, limit: number) {
  const [sought, setSought] = useState<string[]>([]);
  const turn = useRef<Promise<void>>(Promise.resolve());
  const round = useRef(0);
  const { query, matches, settled, failed } = useReading(text, limit);

  function choose(then: Choose) {
    const line = text.trim();
    const before = turn.current;
    const mine = round.current;
    if (settled) return then(failed ? null : matches);
    setSought((all) => [...all, text]);
    const answered = readTypedLine(line, limit).then(
      (found) => found.matches,
      () => null,
    );
    turn.current = Promise.all([answered, before]).then(([found]) => {
      if (mine !== round.current) return;
      setSought((all) => all.slice(1));
      then(found);
    });
  }

  function forget() {
    round.current += 1;
    setSought([]);
  }

  return { query, matches, settled, failed, sought, choose, forget };
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

/** Writes an amount as it is shown before a name; a number alone is in the kitchen's unit. */
export function useAmountText(): (amount: string) => string {
  const { mass_unit: unit } = useKitchen();
  return (amount) => (/[a-z%]/i.test(amount) ? amount : `${amount}\u00a0${unit}`);
}
