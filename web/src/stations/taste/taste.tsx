import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";

import { addressOf, answer, api, type Schemas } from "../../shared/api/client";
import { sessionQuery, tasteQuery } from "../../shared/api/queries";
import { useUnits } from "../../shared/format/units";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { SheetDialog } from "../../ui/sheet-dialog";
import { Waiting } from "../../ui/waiting";
import { ageOf } from "./age";
import { CardForm } from "./card-form";
import { DiagnosisPanel } from "./diagnosis";
import { MeltPanel } from "./melt";
import { NextBatch } from "./next-batch";
import { OverBatches } from "./over-batches";

/** A batch at the table: the card first, then why it is so, how it melts, and what comes next. */
export function TastePage() {
  const batch = Number(useParams().batchId);
  const taste = useQuery({ ...tasteQuery(batch), refetchOnMount: "always" });
  return <Waiting query={taste}>{(found) => <Tasted key={found.batch} taste={found} />}</Waiting>;
}

function Tasted({ taste }: { taste: Schemas["TasteOut"] }) {
  const session = useQuery(sessionQuery);
  const units = useUnits();
  const [weighing, setWeighing] = useState(false);
  return (
    <div className="px-4 pt-3 pb-8">
      <header className="flex flex-wrap items-center gap-x-3 gap-y-2 pb-3">
        <Link to="/taste" className="inline-flex min-h-[24px] items-center text-sm text-muted underline">
          Taste
        </Link>
        <h1 className="text-2xl">
          {taste.mix_name}, batch {taste.number}
        </h1>
        <span className="mr-auto text-muted">
          {ageOf(taste.age_h)} old, revision {taste.revision}
          {taste.overrun_pct !== null && `, ${units.number(taste.overrun_pct)} % of air`}
        </span>
        <Button onClick={() => setWeighing(true)}>Weigh the air</Button>
      </header>
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-3 lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
        <CardForm taste={taste} who={session.data?.name ?? ""} />
        <div className="grid gap-3">
          <DiagnosisPanel taste={taste} />
          <NextBatch taste={taste} />
          <MeltPanel taste={taste} />
          <OverBatches mix={taste.mix} />
        </div>
        <Photos taste={taste} />
      </div>
      {weighing && <AirDialog taste={taste} onClose={() => setWeighing(false)} />}
    </div>
  );
}

function Photos({ taste }: { taste: Schemas["TasteOut"] }) {
  if (taste.photos.length === 0) return null;
  return (
    <section aria-label="Photos" className="panel p-4 lg:col-span-2">
      <h2 className="text-lg">Photos side by side</h2>
      <ul className="mt-2 flex flex-wrap gap-3">
        {taste.photos.map((id, at) => (
          <li key={id}>
            <img src={addressOf(`/photos/${id}`)} alt={`${taste.mix_name}, ${at + 1}`} className="h-52 rounded-panel" />
          </li>
        ))}
      </ul>
    </section>
  );
}

/** One cup weighed twice: level with mix, level with the frozen. */
function AirDialog({ taste, onClose }: { taste: Schemas["TasteOut"]; onClose: () => void }) {
  const client = useQueryClient();
  const [mix, setMix] = useState("");
  const [frozen, setFrozen] = useState("");
  const [refused, setRefused] = useState<string | null>(null);
  const keep = useMutation({
    mutationFn: () =>
      answer(api.POST("/batches/{batch_id}/events", { params: { path: { batch_id: taste.batch } }, body: { events: [{ kind: "overrun", text: mix, more: frozen, key: crypto.randomUUID() }] } as Schemas["NewEvents"] })),
    onSuccess: async (kept) => {
      const wrong = kept.refused[0];
      if (wrong) {
        setRefused(wrong.problem.detail);
        return;
      }
      await client.invalidateQueries({ queryKey: ["tastings"] });
      onClose();
    },
  });
  return (
    <SheetDialog open onOpenChange={(open) => !open && onClose()} title="Weigh the air" explanation="The same cup twice, without its own weight: level with mix before the churn, level with the frozen after it, without holes.">
      <form
        className="grid gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate();
        }}
      >
        <Field label="The cup of mix, g" value={mix} required onChange={(event) => setMix(event.target.value)} />
        <Field label="The cup of the frozen, g" value={frozen} required onChange={(event) => setFrozen(event.target.value)} />
        {(refused ?? keep.error?.message) && (
          <p role="alert" className="text-hot">
            {refused ?? keep.error?.message}
          </p>
        )}
        <Button type="submit" kind="hot" disabled={keep.isPending}>
          Keep it
        </Button>
      </form>
    </SheetDialog>
  );
}
