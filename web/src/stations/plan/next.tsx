import { useEffect, useMemo, useRef, useState } from "react";

import type { Schemas } from "../../shared/api/client";
import { ring } from "../../shared/ring";
import { Select } from "../../ui/select";
import { lasting, PlanClock } from "./clock";
import { StepActions } from "./step-actions";
import { usePlan } from "./use-plan";

type Task = Schemas["TaskPlanned"];

/** What each hand does next; a plan that was started calls out when the last minute for something comes. */
export function Next({ now }: { now: number | null }) {
  const { shown, plan, chosen, choose } = usePlan();
  const [who, setWho] = useState("");
  const clock = useMemo(() => (shown ? new PlanClock(shown) : null), [shown]);
  if (!shown || !clock || shown.tasks.length === 0) {
    return (
      <section className="panel p-4">
        <h2 className="text-lg">Next</h2>
        <p className="text-muted">Who does what when comes here.</p>
      </section>
    );
  }
  const people = Object.keys(shown.people);
  const steps = new Map(shown.steps.map((step) => [step.id, step]));
  const left = shown.tasks.filter((task) => (who === "" || task.who === who) && (now === null || task.end > now));
  return (
    <section className="panel grid content-start gap-2 p-4 max-md:order-first" aria-label="Next">
      <div className="flex items-center justify-between gap-2">
        <h2 className="text-lg">Next</h2>
        {people.length > 1 && (
          <Select
            label="Whose work"
            hideLabel
            value={who}
            options={[{ key: "", name: "everybody" }, ...people.map((name) => ({ key: name, name }))]}
            onChange={setWho}
            className="flex min-h-9 items-center gap-2 rounded-button border border-line px-2.5"
          />
        )}
      </div>
      {plan.state === "started" && now !== null && <Alarm tasks={shown.tasks} now={now} clock={clock} />}
      <ol className="grid max-h-[28rem] gap-1 overflow-y-auto" aria-label="Tasks">
        {left.map((task, at) => (
          <li key={task.id}>
            {(at === 0 || clock.dayNumber(left[at - 1]!.start) !== clock.dayNumber(task.start)) && <p className="mt-1 text-sm font-semibold text-muted">{clock.day(task.start)}</p>}
            <button type="button" className={`w-full text-left ${task.step === chosen ? "bg-steel" : ""}`} onClick={() => choose(task.step)}>
              <b>{clock.hour(task.start)}</b> {people.length > 1 ? `${task.who}: ` : ""}
              {task.title} <span className="text-muted">{lasting(task.end - task.start)}</span>
              {now !== null && task.start <= now && <b className="text-hot"> now</b>}
            </button>
            {plan.state === "started" && task.step === chosen && steps.has(task.step) && (
              <div className="flex flex-wrap gap-2 py-1 md:hidden">
                <StepActions step={steps.get(task.step)!} />
              </div>
            )}
          </li>
        ))}
        {left.length === 0 && <li className="text-muted">Nothing is left to do.</li>}
      </ol>
    </section>
  );
}

const SOON_MIN = 5;

/** Says in words and with a sound what must begin now or never. */
function Alarm({ tasks, now, clock }: { tasks: Task[]; now: number; clock: PlanClock }) {
  const { shown } = usePlan();
  const begun = new Set(shown?.steps.filter((step) => step.begun).map((step) => step.id));
  const due = tasks.filter((task) => !begun.has(task.step) && task.latest !== null && now >= task.latest - SOON_MIN && now <= task.latest + 2 * SOON_MIN);
  const said = due.map((task) => task.id).join();
  const rung = useRef("");
  useEffect(() => {
    if (said === "" || said === rung.current) return;
    rung.current = said;
    ring();
  }, [said]);
  if (due.length === 0) return null;
  return (
    <p role="alert" className="border-l-3 border-hot pl-2 font-semibold">
      {due.map((task) => `${task.title}: at ${clock.hour(task.latest!)} at the latest.`).join(" ")}
    </p>
  );
}
