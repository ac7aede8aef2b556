import { beforeEach, expect, test } from "vitest";

import { countdown } from "../src/stations/make/clock";
import type { Press } from "../src/stations/make/presses";
import { waitCutShort } from "../src/stations/make/waits";
import { isDone, isRunning, missingLines, nextStep, type State, type Step, withPresses } from "../src/stations/make/replay";

const LINE = { typed: null, grams: null, ticked: false, instead: null, said: "", also: [] };
const STATE: State = {
  events: 0, now: "2026-11-27T08:00:00Z", steps: {}, lines: [LINE, LINE, LINE], added: [], otherwise: [], gap: null, paused: null, closed: null,
  overrun_pct: null, quantities: {}, critical: [], credit: null, verdict: "", fault: "", effect: "", late: [], last: {},
};

function step(id: string, line?: number): Step {
  const weighing = line === undefined ? null : { line, target_g: 100, low_g: 90, high_g: 110, step_g: 1, fine: false, bowl: "the pot", bowl_g: 100, pieces: null };
  return {
    id, part: "weigh", kind: id.split(".")[0] ?? id, title: id, plan_step: null, do: [], why: null, cue: null, mind: [], lines: line === undefined ? [] : [line], weighing,
    readings: [], least_min: null, most_min: null, critical: null, choice: [], method: [], planned_from: null, planned_to: null,
  };
}

const STEPS = [step("weigh.0", 0), step("weigh.1", 1), step("weigh.2", 2), step("cool"), step("churn.1")];

let counter = 0;
beforeEach(() => {
  counter = 0;
});

function press(said: Partial<Press> & Pick<Press, "kind">): Press {
  counter += 1;
  return { batch: 1, key: `k${counter}`, device: "tablet", counter, at: Date.parse("2026-11-27T08:00:00Z"), mono: 0, page: "p", ...said };
}

test("a late press that is accepted or left out is asked about no more", () => {
  const late = [{ key: "a", what: "Sugar: 90", by: "Ada", at: "2026-11-27T07:30:00Z" }];
  for (const kind of ["accepted", "declined"] as const) {
    expect(withPresses({ ...STATE, late }, [press({ kind, late: "a" })]).late).toEqual([]);
    expect(withPresses({ ...STATE, late }, [press({ kind, late: "b" })]).late).toEqual(late);
  }
});

test("what waits on the device is on the screen already", () => {
  const state = withPresses(STATE, [press({ kind: "weighed", line: 1, text: "104", number: 104 }), press({ kind: "ticked", line: 1 }), press({ kind: "began", step: "cool" })]);
  expect(state.lines[1]).toMatchObject({ typed: "104", grams: 104, ticked: true });
  expect(isDone(STEPS[1]!, state)).toBe(true);
  expect(isRunning(STEPS[3]!, state)).toBe(true);
  expect(STATE.lines[1]).toBe(LINE);
});

test("after a step comes the next that is neither done nor runs, then what was passed over, then what runs", () => {
  const some = withPresses(STATE, [press({ kind: "ticked", line: 1 }), press({ kind: "began", step: "cool" })]);
  expect(nextStep(STEPS, some)?.id).toBe("weigh.0");
  expect(nextStep(STEPS, some, "weigh.1")?.id).toBe("weigh.2");
  expect(nextStep(STEPS, some, "weigh.2")?.id).toBe("churn.1");
  const most = withPresses(some, [press({ kind: "ticked", line: 0 }), press({ kind: "ticked", line: 2 }), press({ kind: "skipped", step: "churn.1", text: "no machine" })]);
  expect(nextStep(STEPS, most)?.id).toBe("cool");
  expect(nextStep(STEPS, withPresses(most, [press({ kind: "done", step: "cool" })]))).toBeNull();
});

test("a line that is not ticked is missing before the churn, unless it goes in later", () => {
  const state = withPresses(STATE, [press({ kind: "ticked", line: 0 })]);
  expect(missingLines(STEPS, state, new Set([2]))).toEqual([1]);
});

test("an undo takes back the last press of its device", () => {
  const ticked = [press({ kind: "ticked", line: 0 }), press({ kind: "ticked", line: 1 })];
  const state = withPresses(STATE, [...ticked, press({ kind: "undone", undoes: ticked[1]!.key })]);
  expect(state.lines.map((line) => line.ticked)).toEqual([true, false, false]);
  const began = press({ kind: "began", step: "cool" });
  expect(isRunning(STEPS[3]!, withPresses(STATE, [began, press({ kind: "undone", undoes: began.key })]))).toBe(false);
});

test.each([
  [760_000, "12:40"],
  [9_000, "0:09"],
  [11_100_000, "3 h 05"],
  [-5, "0:00"],
])("%d ms are shown as %s", (ms, shown) => expect(countdown(ms)).toBe(shown));

test("a press that cuts a wait short says which one, and how much of it is left", () => {
  const bowl: Step = { ...step("prefreeze"), least_min: 720 };
  const hold: Step = { ...step("cook"), least_min: 0.3 };
  const steps = [bowl, hold, step("churn.1")];
  const at = Date.parse("2026-11-27T08:00:00Z");
  const began = { began_at: "2026-11-27T08:00:00Z", done_at: null, by: "Ada", skipped: null, readings: {}, chosen: null, also: [] };
  const state: State = { ...STATE, steps: { prefreeze: began, cook: began } };
  expect(waitCutShort(steps[2]!, steps, state, at + 60_000)).toEqual({ step: bowl, ms: 719 * 60_000 });
  expect(waitCutShort(steps[2]!, steps, state, at + 720 * 60_000)).toBeNull();
  expect(waitCutShort(hold, steps, state, at + 6_000)?.ms).toBe(12_000);
  expect(waitCutShort(hold, steps, state, at + 20_000)).toBeNull();
  expect(waitCutShort(hold, steps, STATE, at)).toBeNull();
});
