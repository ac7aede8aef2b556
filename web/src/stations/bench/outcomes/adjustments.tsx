import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { answer, api, type Schemas } from "../../../shared/api/client";
import { useUnits } from "../../../shared/format/units";
import { useBenchActions, useReading } from "../bench-context";
import { bodyOf, type Exchange, newKey, writtenOf } from "../draft/draft";
import type { DraftReading } from "../draft/use-analysis";
import { useDebouncedValue } from "../draft/use-debounced-value";

type Adjustment = Schemas["AdjustmentOut"];

/** The smallest exchanges that would bring an outcome back, each done with one press; together where one is not enough. */
export function Adjustments({ outcome }: { outcome: Schemas["OutcomeOut"] }) {
  const { reading } = useReading();
  return reading && <AdjustmentsOf outcome={outcome} reading={reading} />;
}

function AdjustmentsOf({ outcome, reading }: { outcome: Schemas["OutcomeOut"]; reading: DraftReading }) {
  const { edit } = useBenchActions();
  const { freezer } = useReading();
  const units = useUnits();
  const draft = reading.of;
  const said = (adjustment: Adjustment) => `${units.mass(adjustment.grams)} ${adjustment.line_name} → ${adjustment.name}`;
  const rested = useDebouncedValue(draft);
  const cold = useDebouncedValue(freezer);
  const helped = useQuery({
    queryKey: ["analysis", "adjustments", writtenOf(rested), cold],
    queryFn: ({ signal }) => answer(api.POST("/adjustments", { body: { ...bodyOf(rested), freezer_c: cold }, signal })),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 30_000,
  });
  const found = helped.data?.find((help) => help.key === outcome.key);
  if (!found || helped.isPlaceholderData || rested !== draft || cold !== freezer) return null;

  function pull(adjustments: Adjustment[]) {
    const weights = new Map(draft.lines.map((line) => [line.key, reading.lines[line.key]?.grams ?? 0]));
    const takers = new Map(draft.lines.map((line) => [`${line.ingredient} ${line.stage ?? null}`, line.key]));
    const exchanges: Exchange[] = [];
    for (const adjustment of adjustments) {
      const line = draft.lines[adjustment.line];
      if (!line) return;
      const left = (weights.get(line.key) ?? 0) - adjustment.grams;
      weights.set(line.key, left);
      const taker = `${adjustment.ingredient} ${adjustment.stage}`;
      const into = takers.get(taker) ?? newKey();
      takers.set(taker, into);
      const grams = (weights.get(into) ?? 0) + adjustment.grams;
      weights.set(into, grams);
      exchanges.push({ key: line.key, left, coming: adjustment.ingredient, grams, into, stage: adjustment.stage });
    }
    edit({ kind: "exchange", exchanges });
  }

  const single = found.adjustments.length > 0 && (
    <ul className="text-sm">
      {found.adjustments.map((adjustment) => (
        <li key={adjustment.ingredient}>
          <p>
            {said(adjustment)}: {adjustment.word}
            {adjustment.effect.felt && <span className="text-muted">, {adjustment.effect.message}</span>}{" "}
            <Try label={`Try ${adjustment.name}`} pull={() => pull([adjustment])}>
              Try
            </Try>
          </p>
        </li>
      ))}
    </ul>
  );
  if (found.cured && found.together.length === 0) {
    return (
      <div>
        <h3>Would help</h3>
        {single}
      </div>
    );
  }
  return (
    <div>
      <h3>{found.cured ? "Together these would help" : "Nothing common cures it"}</h3>
      {found.together.length > 0 && (
        <p className="text-sm">
          {found.together.map(said).join(", then ")}: {found.together.at(-1)?.word}{" "}
          <Try label="Try all together" pull={() => pull(found.together)}>
            Try all
          </Try>
        </p>
      )}
      {found.otherwise && <p className="text-sm">{found.otherwise}</p>}
      {single && <h3 className="pt-1">By itself these gain most</h3>}
      {single}
    </div>
  );
}

function Try({ label, pull, children }: { label: string; pull: () => void; children: string }) {
  return (
    <button type="button" className="font-semibold text-hot underline" aria-label={label} onClick={pull}>
      {children}
    </button>
  );
}

