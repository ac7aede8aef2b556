import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { answer, api, type Schemas } from "../../../shared/api/client";
import { type Units, useUnits } from "../../../shared/format/units";
import { useDraft, useReading, useSelection } from "../bench-context";
import { bodyOf, writtenOf } from "../draft/draft";
import { useDebouncedValue } from "../../../shared/use-debounced-value";

/** How far the line that is pointed at may be weighed wrong, as Make has it. */
export function LineTolerance() {
  const { draft } = useDraft();
  const { freezer } = useReading();
  const { pointed: lineKey, highlighted } = useSelection();
  const units = useUnits();
  const rested = useDebouncedValue(draft);
  const cold = useDebouncedValue(freezer);
  const asked = useQuery({
    queryKey: ["analysis", "tolerances", writtenOf(rested), cold],
    queryFn: ({ signal }) => answer(api.POST("/tolerances", { body: { ...bodyOf(rested), freezer_c: cold }, signal })),
    enabled: highlighted !== null,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 30_000,
  });
  const at = draft.lines.findIndex((line) => line.key === lineKey);
  const tolerance = asked.data?.find((found) => found.line === at);
  const said = highlighted ? `${highlighted.name}: ${units.number(highlighted.contributions.mass ?? 0, 1)} % of the mix. ${tolerance ? toleranceSentence(tolerance, units) : ""}` : "Hover over a line to see what it adds.";
  return (
    <p className="min-h-[1lh] truncate pt-1 text-sm text-muted" title={said} data-tolerance>
      {said}
    </p>
  );
}

function toleranceSentence(tolerance: Schemas["ToleranceOut"], units: Units): string {
  const within = `Weigh to ± ${units.mass(tolerance.close_g)}.`;
  return tolerance.noticed_g === null ? within : `${within} Off by ${units.mass(tolerance.noticed_g)} alone, it gets ${tolerance.what}.`;
}
