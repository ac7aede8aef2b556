import { beforeEach, expect, test, vi } from "vitest";

import { forgetLeftBehind, unsentWork } from "../src/shared/left-behind";
import { keyOf, pressesOfOthers, storeFor, takeOver } from "../src/shared/device-store";
import { keepPress, waitingPresses } from "../src/stations/make/presses";
import { rememberUnsent, startOf } from "../src/stations/bench/draft/unsent";
import { CUSTARD, MemoryStorage, mix } from "./mixes";

const KITCHEN = { installation: "quay", kitchen: "sluice" };
const ada = () => storeFor({ ...KITCHEN, person: 1, name: "Ada" });
const bo = () => storeFor({ ...KITCHEN, person: 12, name: "Bo" });

beforeEach(() => {
  vi.stubGlobal("localStorage", new MemoryStorage());
  vi.stubGlobal("sessionStorage", new MemoryStorage());
  vi.stubGlobal("window", {});
});

test("what one person pressed is not there for the next, and is when they are back", () => {
  ada();
  const press = keepPress(3, { kind: "note", text: "foams" });
  bo();
  expect(waitingPresses()).toEqual([]);
  expect(pressesOfOthers()).toEqual([{ person: "1", name: "Ada", keys: [expect.stringContaining(press.key)] }]);
  ada();
  expect(waitingPresses(3)).toEqual([press]);
  expect(pressesOfOthers()).toEqual([]);
});

test("presses are handed on knowingly, once", () => {
  ada();
  const press = keepPress(3, { kind: "note", text: "foams" });
  bo();
  takeOver(pressesOfOthers()[0]!.keys);
  expect([waitingPresses(), pressesOfOthers()]).toEqual([[press], []]);
  ada();
  expect(waitingPresses()).toEqual([]);
});

test("another kitchen and another installation have things of their own", () => {
  ada();
  keepPress(3, { kind: "note", text: "foams" });
  for (const other of [{ ...KITCHEN, kitchen: "lock" }, { ...KITCHEN, installation: "pier" }]) {
    storeFor({ ...other, person: 1, name: "Ada" });
    expect([waitingPresses(), pressesOfOthers()]).toEqual([[], []]);
  }
});

test("edits of a mix belong to who made them", () => {
  ada();
  rememberUnsent(7, { version: 1, draft: { ...CUSTARD, name: "Ada’s" } });
  bo();
  expect(startOf(mix(CUSTARD, 1)).state.present.name).toBe(CUSTARD.name);
  ada();
  expect(startOf(mix(CUSTARD, 1)).state.present.name).toBe("Ada’s");
});

test.each([true, false])("signing out forgets what is one’s own; unsent work stays: %s", (unsentStays) => {
  bo();
  keepPress(3, { kind: "note", text: "foams" });
  ada();
  keepPress(3, { kind: "note", text: "thick" });
  localStorage.setItem(keyOf("answer", "making.3"), "{}");
  sessionStorage.setItem(keyOf("step", 3), "cook");
  forgetLeftBehind({ unsentStays });
  expect(localStorage.getItem(keyOf("answer", "making.3"))).toBeNull();
  expect(sessionStorage.getItem(keyOf("step", 3))).toBeNull();
  expect(unsentWork()).toEqual({ mixes: 0, presses: unsentStays ? 1 : 0 });
  expect(pressesOfOthers()).toHaveLength(1);
});
