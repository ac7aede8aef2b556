import { memo } from "react";

import type { Schemas } from "../../api/client";
import { listed, shown } from "../../ui/numbers";
import type { Edit } from "./draft";
import { Why } from "../../ui/why";
import { MachineFill } from "./machine-fill";
import type { DraftReading } from "./use-analysis";

type Props = {
  reading: DraftReading | undefined;
  machine: number | null;
  edit: (edit: Edit) => void;
  currency: string;
  lastBatch: Schemas["LastBatch"] | null;
  scale: () => void;
};

/** What a cook would say of the mix, and beside it the machine that it must fit. */
export const Verdict = memo(function Verdict({ reading, machine, edit, currency, lastBatch, scale }: Props) {
  const analysis = reading?.analysis ?? null;
  return (
    <section aria-label="Verdict" className="panel flex flex-wrap items-center gap-x-6 gap-y-2 px-4 py-2.5">
      <div className="min-w-0 flex-1 basis-80">
        <div>
          <p aria-live="polite" className="inline font-name text-xl font-bold tracking-tight" data-verdict>
            {analysis?.verdict ?? "Nothing in it yet."}
          </p>
          {analysis && (
            <>
              {" "}
              <Why of="scoop" />
            </>
          )}
        </div>
        {analysis && (
          <p className="text-sm text-muted">
            {placesSentence(analysis.places)} <Why of="cabinet" />
          </p>
        )}
        {reading && (
          <p className="text-sm text-muted">
            {allergenSentence(reading)} {reading.cost && costSentence(reading.cost, currency)} {reading.cost && <Why of="cost" />}
          </p>
        )}
        {analysis?.cautions.map((caution) => (
          <p key={caution} className="text-sm text-muted">
            {caution}
          </p>
        ))}
      </div>
      <MachineFill machine={machine} reading={reading} lastBatch={lastBatch} edit={edit} scale={scale} />
    </section>
  );
});

/** Firmness where the mix is kept and served, beside the freezer that the verdict speaks of. */
function placesSentence(places: Schemas["PlaceOut"][]): string {
  const parts = places
    .filter((place) => place.key !== "freezer")
    .map((place) => `${place.key === "cabinet" ? "in the cabinet" : "served"} at ${shown(place.t_c, Number.isInteger(place.t_c) ? 0 : 1)} °C ${place.word}`);
  return `${parts.join(", ").replace(/^./, (first) => first.toUpperCase())}.`;
}

export function allergenSentence(reading: DraftReading): string {
  const has = reading.allergens.length > 0 ? `Contains ${listed(reading.allergens)}.` : "";
  const open = reading.allergensNotStated.length > 0 ? `Other allergens are not stated for ${reading.allergensNotStated.join(", ")}.` : "";
  const closed = reading.undisclosed.length > 0 ? `What is in ${reading.undisclosed.join(", ")} is not disclosed: its figures are uncertain.` : "";
  return [has, open, closed].filter(Boolean).join(" ");
}

function costSentence(cost: Schemas["CostOut"], currency: string): string {
  if (cost.per_litre !== null) return `${shown(cost.per_litre, 2)} ${currency} a litre.`;
  return `At least ${shown(cost.at_least, 2)} ${currency} in all: ${listed(cost.not_priced)} ${cost.not_priced.length === 1 ? "has" : "have"} no price.`;
}
