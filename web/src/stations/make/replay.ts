import type { Schemas } from "../../shared/api/client";
import type { Press } from "./presses";

export type State = Schemas["MakingState"];
export type Step = Schemas["MakingStepOut"];
type StepNoted = Schemas["StepNoted"];

const NOTHING: StepNoted = { began_at: null, done_at: null, by: "", skipped: null, chosen: null, readings: {}, also: [] };

/** What the server has said, with the presses that still wait on this device: the screen never goes back. */
export function withPresses(state: State, waiting: readonly Press[]): State {
  return waiting.reduce(pressed, state);
}

function pressed(state: State, press: Press): State {
  const now = new Date(press.at).toISOString();
  const last = { ...state.last, [press.device]: { key: press.key, kind: press.kind, step: press.step ?? "", line: press.line ?? null } };
  const after = { ...state, last };
  if (press.kind === "undone") return takenBack(after, state.last[press.device]);
  if (press.line !== undefined && press.line !== null) return ofLine(after, press.line, press);
  if (press.step) return ofStep(after, press.step, press, now);
  if (press.kind === "finished" || press.kind === "abandoned") return { ...after, closed: press.kind };
  if (press.kind === "paused") return { ...after, paused: press.text ?? "" };
  if (press.kind === "resumed") return { ...after, paused: null };
  if (press.kind === "accepted" || press.kind === "declined") return { ...after, late: state.late.filter((one) => one.key !== press.late) };
  if (press.kind === "gap" && state.gap) return { ...after, gap: { ...state.gap, to: press.name ?? null } };
  return after;
}

function ofLine(state: State, line: number, press: Press): State {
  const before = state.lines[line];
  if (!before) return state;
  const after =
    press.kind === "ticked"
      ? { ...before, ticked: press.done ?? true }
      : press.kind === "weighed"
        ? { ...before, typed: press.text || null, grams: press.number ?? before.grams, said: "" }
        : before;
  return { ...state, lines: state.lines.map((one, at) => (at === line ? after : one)) };
}

function ofStep(state: State, step: string, press: Press, now: string): State {
  const before = state.steps[step] ?? NOTHING;
  return { ...state, steps: { ...state.steps, [step]: noted(before, press, now) } };
}

function noted(before: StepNoted, press: Press, now: string): StepNoted {
  switch (press.kind) {
    case "began":
      return { ...before, began_at: before.began_at ?? now, done_at: null, skipped: null };
    case "done":
      return { ...before, done_at: (press.done ?? true) ? now : null, skipped: null };
    case "skipped":
      return { ...before, done_at: now, skipped: press.text ?? "" };
    case "chose":
      return { ...before, chosen: press.text ?? "" };
    case "read":
      return { ...before, readings: { ...before.readings, [press.name ?? ""]: press.number ?? null } };
    default:
      return before;
  }
}

/** What the last press of a device had said is said no more; what stood there before it comes with the next answer. */
function takenBack(state: State, last: Schemas["LastPress"] | undefined): State {
  if (!last) return state;
  if (last.line !== null) {
    const back = (line: State["lines"][number]) => (last.kind === "ticked" ? { ...line, ticked: false } : { ...line, typed: null, grams: null });
    return { ...state, lines: state.lines.map((line, at) => (at === last.line ? back(line) : line)) };
  }
  const before = state.steps[last.step];
  if (!before) return state;
  const after = last.kind === "began" ? { ...before, began_at: null } : { ...before, done_at: null, skipped: null };
  return { ...state, steps: { ...state.steps, [last.step]: after } };
}

/** Whether a step is done or left out: a line is once it is ticked. */
export function isDone(step: Step, state: State): boolean {
  if (step.weighing) return state.lines[step.weighing.line]?.ticked ?? false;
  return (state.steps[step.id]?.done_at ?? null) !== null;
}

/** Whether a step runs: it began and is not done. */
export function isRunning(step: Step, state: State): boolean {
  return !isDone(step, state) && (state.steps[step.id]?.began_at ?? null) !== null;
}

/** What to do now: the first step, from one on, that is neither done nor runs; else the first before it; else what still runs. */
export function nextStep(steps: readonly Step[], state: State, after: string | null = null): Step | null {
  const from = steps.findIndex((step) => step.id === after) + 1;
  const left = [...steps.slice(from), ...steps.slice(0, from)].filter((step) => !isDone(step, state) && step.id !== after);
  return left.find((step) => !isRunning(step, state)) ?? left[0] ?? null;
}

/** The lines that are not in yet when the churn begins; what goes in at its end or beside it may wait. */
export function missingLines(steps: readonly Step[], state: State, later: ReadonlySet<number>): number[] {
  return steps.flatMap((step) => (step.weighing && !isDone(step, state) && !later.has(step.weighing.line) ? [step.weighing.line] : []));
}
