import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { answer, api, type Schemas } from "../../../shared/api/client";
import { grams, shown } from "../../../shared/format/numbers";
import { bodyOf, type Draft, writtenOf } from "../draft/draft";
import type { Highlighted } from "../draft/highlighted";
import { useDebouncedValue } from "../draft/use-debounced-value";

/** How far the line that is pointed at may be weighed wrong before a word changes. */
export function LineTolerance({ draft, freezer, lineKey, highlighted }: { draft: Draft; freezer: number; lineKey: string | null; highlighted: Highlighted | null }) {
  const rested = useDebouncedValue(draft);
  const cold = useDebouncedValue(freezer);
  const asked = useQuery({
    queryKey: ["analysis", "slack", writtenOf(rested), cold],
    queryFn: ({ signal }) => answer(api.POST("/tolerances", { body: { ...bodyOf(rested), freezer_c: cold }, signal })),
    enabled: highlighted !== null,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 30_000,
  });
  const at = draft.lines.findIndex((line) => line.key === lineKey);
  const slack = asked.data?.find((found) => found.line === at);
  const said = highlighted ? `${highlighted.name}: ${shown(highlighted.contributions.mass ?? 0, 1)} % of the mix. ${slack ? toleranceSentence(slack) : ""}` : "Point at a line, or type in it, to see its share in everything.";
  return (
    <p className="min-h-[1lh] truncate pt-1 text-sm text-muted" title={said} data-slack>
      {said}
    </p>
  );
}

function toleranceSentence(slack: Schemas["ToleranceOut"]): string {
  const short = slack.short_g === null ? null : `${grams(slack.short_g)} g short changes ${slack.short}`;
  const over = slack.over_g === null ? null : `${grams(slack.over_g)} g over ${short ? "" : "changes "}${slack.over}`;
  const both = [short, over].filter((said) => said !== null);
  const said = both.length > 0 ? both.join(", ") : "half of it more or less changes no word";
  return `${said.charAt(0).toUpperCase()}${said.slice(1)}.`;
}
