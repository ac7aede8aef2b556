import { memo } from "react";

import type { Schemas } from "../../shared/api/client";
import { allergenSentence, costSentence, placesSentence } from "../../shared/format/sentences";
import { Why } from "../../ui/why";
import type { Edit } from "./draft/draft";
import type { DraftReading } from "./draft/use-analysis";
import { MachineFill } from "./size/machine-fill";

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
