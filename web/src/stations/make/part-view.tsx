import { Check } from "lucide-react";

import { unbroken } from "../../shared/format/numbers";
import { useUnits } from "../../shared/format/units";
import { actionOf } from "./actions";
import { Readings } from "./readings";
import { isDone, type Step } from "./replay";
import { useWork } from "./use-making";

/** A whole part of the work on one page, for who knows it by heart: targets, ticks, and what is read. */
export function PartView() {
  const { making, step } = useWork();
  const part = making.parts.find((one) => one.key === step?.part) ?? making.parts[0];
  if (!part) return null;
  return (
    <section aria-label={part.name} className="grid content-start gap-2">
      <h1 className="text-4xl">{part.name}</h1>
      <ul className="panel divide-y divide-line">
        {making.steps
          .filter((one) => one.part === part.key)
          .map((one) => (
            <Row key={one.id} step={one} />
          ))}
      </ul>
    </section>
  );
}

function Row({ step }: { step: Step }) {
  const { state, press } = useWork();
  const units = useUnits();
  const done = isDone(step, state);
  const action = actionOf(step, state);

  function toggle() {
    if (step.weighing) press({ kind: "ticked", line: step.weighing.line, done: !done });
    else if (done) press({ kind: "done", step: step.id, done: false });
    else press(...action.said);
  }

  return (
    <li className="grid grid-cols-[64px_minmax(0,1fr)_auto] items-center gap-x-3 px-3 py-2">
      <button type="button" role="checkbox" aria-checked={done} aria-label={step.title} onClick={toggle} className="grid size-16 place-items-center">
        <span className={`grid size-10 place-items-center rounded-button border-2 ${done ? "border-band-edge bg-band text-ink" : "border-muted"}`}>{done && <Check size={26} strokeWidth={3} aria-hidden />}</span>
      </button>
      <span className="text-xl">
        <b>{unbroken(step.title)}</b>
        {!step.weighing && step.do[0] && <span className="block text-base text-muted">{unbroken(step.do[0])}</span>}
      </span>
      <b className="text-2xl">{step.weighing ? units.mass(step.weighing.target_g) : !done && action.said[0]?.kind === "began" ? <span className="text-base font-normal text-muted">{action.label}</span> : null}</b>
      {step.readings.length > 0 && !done && (
        <span className="col-span-2 col-start-2">
          <Readings step={step} />
        </span>
      )}
    </li>
  );
}
