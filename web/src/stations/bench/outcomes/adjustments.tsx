import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { answer, api, type Schemas } from "../../../shared/api/client";
import { unbroken } from "../../../shared/format/numbers";
import { useBenchActions, useReading } from "../bench-context";
import { bodyOf, writtenOf } from "../draft/draft";
import type { DraftReading } from "../draft/use-analysis";
import { useDebouncedValue } from "../../../shared/use-debounced-value";

type Adjustment = Schemas["AdjustmentOut"];

/** What a cook would try against a fault, each done with one press, or why there is nothing. */
export function Adjustments({ outcome }: { outcome: Schemas["OutcomeOut"] }) {
  const { reading } = useReading();
  return reading && <AdjustmentsOf outcome={outcome} reading={reading} />;
}

function AdjustmentsOf({ outcome, reading }: { outcome: Schemas["OutcomeOut"]; reading: DraftReading }) {
  const { edit } = useBenchActions();
  const { freezer } = useReading();
  const draft = reading.of;
  const rested = useDebouncedValue(draft);
  const cold = useDebouncedValue(freezer);
  const helped = useQuery({
    queryKey: ["analysis", "adjustments", writtenOf(rested), cold],
    queryFn: ({ signal }) => answer(api.POST("/adjustments", { body: { ...bodyOf(rested), freezer_c: cold }, signal })),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 30_000,
  });
  const help = helped.data?.find(({ key }) => key === outcome.key);
  if (!help || helped.isPlaceholderData || rested !== draft || cold !== freezer) return null;

  function attempt({ lines, overrun_pct }: Adjustment) {
    const accepted = lines.map(({ line, ...rest }) => ({ ...rest, key: line === null ? null : (draft.lines[line]?.key ?? null) }));
    edit({ kind: "accept", lines: accepted, overrun: overrun_pct });
  }

  return (
    <div>
      <h3>Would help</h3>
      {help.none && <p className="text-sm">{help.none}</p>}
      <ul className="grid gap-1 text-sm">
        {help.found.map((adjustment) => (
          <li key={adjustment.said}>
            {unbroken(adjustment.said)}{" "}
            {(adjustment.lines.length > 0 || adjustment.overrun_pct !== null) && (
              <button type="button" className="font-semibold text-hot underline" aria-label={`Try: ${adjustment.said}`} onClick={() => attempt(adjustment)}>
                Try
              </button>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}
