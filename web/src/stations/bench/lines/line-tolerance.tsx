import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { answer, api, type Schemas } from "../../../shared/api/client";
import { type Units, useUnits } from "../../../shared/format/units";
import { useDraft, useReading, useSelection } from "../bench-context";
import { bodyOf, writtenOf } from "../draft/draft";
import { useDebouncedValue } from "../../../shared/use-debounced-value";

/** How far the line that is pointed at may be weighed wrong before a word changes. */
export function LineTolerance() {
  const { draft } = useDraft();
  const { freezer } = useReading();
  const { pointed: lineKey, highlighted } = useSelection();
  const units = useUnits();
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
  const said = highlighted ? `${highlighted.name}: ${units.number(highlighted.contributions.mass ?? 0, 1)} % of the mix. ${slack ? toleranceSentence(slack, units) : ""}` : "Point at a line, or type in it, to see its share in everything.";
  return (
    <p className="min-h-[1lh] truncate pt-1 text-sm text-muted" title={said} data-slack>
      {said}
    </p>
  );
}

function toleranceSentence(slack: Schemas["ToleranceOut"], units: Units): string {
  const short = slack.short_g === null ? null : `${units.mass(slack.short_g)} short changes ${slack.short}`;
  const over = slack.over_g === null ? null : `${units.mass(slack.over_g)} over ${short ? "" : "changes "}${slack.over}`;
  const both = [short, over].filter((said) => said !== null);
  const said = both.length > 0 ? both.join(", ") : "half of it more or less changes no word";
  return `${said.charAt(0).toUpperCase()}${said.slice(1)}.`;
}
