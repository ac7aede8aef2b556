import { useState } from "react";

import { answer, api, type Schemas } from "../../shared/api/client";
import { useWork } from "../../shared/api/jobs";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { SheetDialog } from "../../ui/sheet-dialog";
import { localTime } from "./clock";
import { usePlan } from "./use-plan";

/** Which of the kitchen's mixes can be ready by an hour, each made alone. */
export function ReadyDialog({ onClose }: { onClose: () => void }) {
  const { plan } = usePlan();
  const [at, setAt] = useState(plan.services[0]?.at.slice(0, 16) ?? "");
  const work = useWork(
    {
      ask: (hour: string, signal) => answer(api.POST("/plans/{plan_id}/readiness", { params: { path: { plan_id: plan.id } }, body: { at: hour, amount: "1 l" }, signal })),
      look: (id) => answer(api.GET("/readiness/{job_id}", { params: { path: { job_id: id } } })),
      stop: (id) => answer(api.GET("/readiness/{job_id}", { params: { path: { job_id: id } } })),
    },
    () => undefined,
  );
  const found = work.data ?? work.job?.best;
  return (
    <SheetDialog open onOpenChange={(open) => !open && onClose()} title="What can be ready by" explanation="A litre of each mix, made alone with what the kitchen has." wide>
      <form
        className="flex items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          work.mutate(at);
        }}
      >
        <Field label="Hour" type="datetime-local" required value={at} onChange={(event) => setAt(event.target.value)} />
        <Button type="submit" kind="hot" disabled={work.isPending}>
          {work.isPending ? `${Math.round(100 * (work.job?.share ?? 0))} %` : "Look"}
        </Button>
      </form>
      {work.error && (
        <p role="alert" className="mt-2 text-hot">
          {work.error.message}
        </p>
      )}
      {found && (
        <ul className="mt-4 grid gap-1">
          {found.mixes.map((mix) => (
            <li key={mix.mix}>
              <Ready mix={mix} by={at} />
            </li>
          ))}
        </ul>
      )}
    </SheetDialog>
  );
}

function Ready({ mix, by }: { mix: Schemas["ReadyMix"]; by: string }) {
  if (mix.at === null) return <span className="text-muted">{mix.name}: {mix.why}</span>;
  if (mix.at.slice(0, 16) <= by) return <b>{mix.name}: yes</b>;
  return (
    <>
      <b>{mix.name}</b>: {localTime(mix.at)} at the earliest. <span className="text-muted">{mix.why}</span>
    </>
  );
}
