import { isDone, isRunning, type State, type Step } from "./replay";

const MINUTE_MS = 60_000;
/** Whose least minutes the clock decides, not the eye or the thermometer. */
const BY_THE_CLOCK = new Set(["prefreeze", "precool", "age", "cook", "scald", "boil"]);
/** What a run of the machine waits for. */
const BEFORE_A_RUN = new Set(["prefreeze", "precool", "age"]);

export type Wait = { step: Step; ms: number };

/** The longest wait that a press at this step would cut short, with what is left of it; null where none would be. */
export function waitCutShort(step: Step, steps: readonly Step[], state: State, now: number): Wait | null {
  const begins = !isRunning(step, state) && !isDone(step, state);
  const before = steps.slice(0, steps.indexOf(step));
  const waits = ["churn", "shake"].includes(step.kind) && begins ? before.filter((one) => BEFORE_A_RUN.has(one.kind)) : begins || !BY_THE_CLOCK.has(step.kind) ? [] : [step];
  const left = waits.filter((one) => isRunning(one, state)).map((one) => ({ step: one, ms: msLeft(one, state, now) }));
  return left.filter((one) => one.ms > 0).sort((one, other) => other.ms - one.ms)[0] ?? null;
}

function msLeft(step: Step, state: State, now: number): number {
  return Date.parse(state.steps[step.id]?.began_at ?? "") + (step.least_min ?? 0) * MINUTE_MS - now;
}
