import { useMemo } from "react";

import { Button } from "../../ui/button";
import { lasting, PlanClock } from "./clock";
import type { Step } from "./lanes";
import { StepActions } from "./step-actions";
import { usePlan } from "./use-plan";

/** The chosen product step by step: what may slip and until when, what holds it, and why each wait is as it is. */
export function Thread() {
  const { shown, chosen, plan } = usePlan();
  const clock = useMemo(() => (shown ? new PlanClock(shown) : null), [shown]);
  const step = shown?.steps.find((one) => one.id === chosen);
  const product = step?.product ?? shown?.services[0]?.product;
  if (!shown || !clock || !product || shown.steps.length === 0) {
    return (
      <section className="panel p-4">
        <h2 className="text-lg">What may slip</h2>
        <p className="text-muted">Once there is a plan, choose a step on the board: its product’s thread stands out, with how far each step may slip.</p>
      </section>
    );
  }
  const steps = shown.steps.filter((one) => one.product === product).sort((one, other) => one.start - other.start);
  return (
    <section className="panel grid content-start gap-2 p-4" aria-label={`What may slip of ${shown.products[product]}`}>
      <h2 className="text-lg">{shown.products[product]} may slip</h2>
      <ul className="grid gap-1.5">
        {steps.filter((one) => one.people.length > 0 || one.machine).map((one) => (
          <Slip key={one.id} step={one} clock={clock} open={one.id === chosen} started={plan.state === "started"} />
        ))}
      </ul>
    </section>
  );
}

function Slip({ step, clock, open, started }: { step: Step; clock: PlanClock; open: boolean; started: boolean }) {
  const { choose, change } = usePlan();
  const held = step.held_by ? `: ${step.held_by}` : "";
  return (
    <li>
      <button type="button" className="text-left" aria-expanded={open} onClick={() => choose(step.id)}>
        <b>
          {clock.hour(step.start)} {step.title}
        </b>{" "}
        {step.begun ? (
          <span className="text-muted">begun</span>
        ) : step.slip === 0 ? (
          <b>may not slip</b>
        ) : (
          <span>
            {lasting(step.slip)}
            <span className="text-muted">, to {clock.hour(step.start + step.slip)}</span>
          </span>
        )}
      </button>
      {open && (
        <div className="mt-1 grid gap-1 border-l-3 border-line pl-3 text-sm">
          {!step.begun && (
            <p>
              {step.slip === 0 ? "It cannot begin later" : "Not later"}
              {held}.
            </p>
          )}
          {step.waits.map((wait) => (
            <p key={wait} className="text-muted">
              {wait}.{step.safety && wait.includes("°C") ? " This is for safety and cannot be dragged away; your local code goes first." : ""}
            </p>
          ))}
          <div className="flex flex-wrap gap-2">
            {step.pinned && <Button onClick={() => void change({ pins: { [step.id]: null } }, true)}>Let it go from {clock.hour(step.start)}</Button>}
            {started && <StepActions step={step} />}
          </div>
          {!started && !step.begun && <p className="text-muted">Drag it on the board, or move it with Alt and the arrows: it is pinned there.</p>}
        </div>
      )}
    </li>
  );
}
