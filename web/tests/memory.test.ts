import fc from "fast-check";
import { beforeEach, describe, expect, test, vi } from "vitest";

import { keyOf } from "../src/shared/device-store";
import { begun, type Draft, edited } from "../src/stations/bench/draft/draft";
import { historyOf, rememberHistory } from "../src/stations/bench/draft/history";
import { forgetUnsent, rememberUnsent, sameAs, startOf } from "../src/stations/bench/draft/unsent";
import { treeOf } from "../src/stations/bench/revisions/revision-tree";
import { CUSTARD, draft, line, MemoryStorage, mix, revision } from "./mixes";

const MIX = 7;
const typed = (of: Draft, amount: string) => edited(begun(of), { kind: "type", key: of.lines[1]!.key, typed: amount, read: 113 });
const withSugar = (amount: string) => typed(CUSTARD, amount).shown;
const said = (of: Draft) => of.lines.map((one) => one.typed);

beforeEach(() => {
  vi.stubGlobal("localStorage", new MemoryStorage());
  vi.stubGlobal("sessionStorage", new MemoryStorage());
});

describe("undo through a reload", () => {
  test("comes back as it was, lines that did not change once", () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 500 }), { maxLength: 20 }), fc.nat(20), (amounts, undone) => {
        let state = begun(CUSTARD);
        for (const amount of amounts) state = edited(edited(state, { kind: "type", key: CUSTARD.lines[1]!.key, typed: `${amount}`, read: 1 }), { kind: "done" });
        for (let step = 0; step < undone; step++) state = edited(state, { kind: "undo" });
        rememberHistory(MIX, state);
        expect(historyOf(MIX)).toEqual(state);
      }),
    );
    const written = sessionStorage.getItem(keyOf("history", MIX)) ?? "";
    expect(written.split("whole-milk")).toHaveLength(3); // its name and its key, each once
  });

  test("keeps the newer half where the browser has no room for all", () => {
    const steps = Array.from({ length: 64 }, (_, at) => `${100 + at}`);
    const state = steps.reduce((before, amount) => edited(edited(before, { kind: "type", key: CUSTARD.lines[1]!.key, typed: amount, read: 1 }), { kind: "done" }), begun(CUSTARD));
    rememberHistory(MIX, state);
    const whole = sessionStorage.getItem(keyOf("history", MIX))!.length;
    vi.stubGlobal("sessionStorage", new MemoryStorage(whole * 0.6));
    rememberHistory(MIX, state);
    const found = historyOf(MIX);
    expect(found?.present).toEqual(state.present);
    expect(found?.past).toEqual(state.past.slice(0, 32));
  });

  test("is nothing where nothing fits or nothing can be read", () => {
    vi.stubGlobal("sessionStorage", new MemoryStorage(10));
    rememberHistory(MIX, begun(CUSTARD));
    expect(historyOf(MIX)).toBeNull();
    for (const held of ["not json", "{}", "3", '{"pool":[],"drafts":[],"present":0}']) {
      vi.stubGlobal("sessionStorage", new MemoryStorage());
      sessionStorage.setItem(keyOf("history", MIX), held);
      expect(() => historyOf(MIX)).not.toThrow();
    }
  });
});

describe("where a mix begins", () => {
  test("with what the server holds", () => {
    const start = startOf(mix(CUSTARD, 4));
    expect(start.version).toBe(4);
    expect(start.kept).toBe(start.state.present);
    expect(said(start.kept)).toEqual(said(CUSTARD));
    expect(start.state.past).toEqual([]);
  });

  test("with edits that nobody confirmed, from the version they were made on", () => {
    rememberUnsent(MIX, { version: 3, draft: withSugar("120") });
    const start = startOf(mix(CUSTARD, 4));
    expect(said(start.state.present)[1]).toBe("120");
    expect(said(start.kept)[1]).toBe("113");
    expect(start.version).toBe(3); // so that what somebody saved meanwhile is noticed
    expect(start.ours.map((one) => said(one)[1])).toEqual(["120"]);
  });

  test("knowing what it sent and never heard of", () => {
    rememberUnsent(MIX, { version: 3, draft: withSugar("130"), sent: [withSugar("110"), withSugar("120")] });
    const start = startOf(mix(withSugar("120"), 4));
    expect(said(start.state.present)[1]).toBe("130");
    expect(start.ours.some((one) => sameAs(mix(withSugar("120"), 4), one))).toBe(true);
    expect(start.ours.some((one) => sameAs(mix(withSugar("99"), 4), one))).toBe(false);
    forgetUnsent(MIX);
    expect(startOf(mix(CUSTARD, 4)).ours).toEqual([]);
  });

  test("with what the server holds where those edits have arrived, or were forgotten", () => {
    rememberUnsent(MIX, { version: 3, draft: withSugar("120") });
    expect(startOf(mix(withSugar("120"), 4)).version).toBe(4);
    forgetUnsent(MIX);
    expect(said(startOf(mix(CUSTARD, 5)).state.present)[1]).toBe("113");
  });

  test("with the undo of this tab where it leads there, and without where it does not", () => {
    const state = edited(typed(CUSTARD, "120"), { kind: "done" });
    rememberHistory(MIX, state);
    const there = startOf(mix(state.present, 5)).state;
    expect(said(edited(there, { kind: "undo" }).present)[1]).toBe("113");
    expect(startOf(mix(withSugar("99"), 6)).state.past).toEqual([]);
  });

  test("although what was left behind cannot be read", () => {
    localStorage.setItem(keyOf("unsent", MIX), "{half");
    expect(startOf(mix(CUSTARD, 4)).version).toBe(4);
  });
});

describe("two drafts", () => {
  test("say the same whatever their lines weighed and whatever the order of their aims", () => {
    const one = draft([line("sugar", "½ cup", { unit: "cup", grams: 106 })], { aims: { fat: [1, 2], msnf: [3, 4] } });
    const other = draft([line("sugar", "½ cup", { unit: "cup", grams: null })], { aims: { msnf: [3, 4], fat: [1, 2] } });
    expect(sameAs(mix(one, 1), other)).toBe(true);
  });

  test.each([
    ["a name", { name: "Other" }],
    ["a machine", { machine: null }],
    ["air", { overrunRead: 30 }],
    ["a note", { lines: [line("sugar", "1", { note: "fine" })] }],
    ["a limit", { lines: [line("sugar", "1", { most_g: 3 })] }],
    ["a pin", { lines: [line("sugar", "1", { pinned: true })] }],
  ])("that differ in %s do not", (_, changes) => {
    const one = draft([line("sugar", "1")]);
    expect(sameAs(mix(one, 1), { ...one, ...changes })).toBe(false);
  });
});

describe("the tree of revisions", () => {
  test("holds each once, none before its parent, none further in than it has branches", () => {
    const parents = fc.array(fc.nat(), { maxLength: 30 }).map((picks) => picks.map((pick, at) => (at === 0 || pick % 5 === 0 ? null : (pick % at) + 1)));
    fc.assert(
      fc.property(parents, (chosen) => {
        const tree = treeOf(chosen.map((parent, at) => revision(at + 1, parent)));
        expect(tree.map((branch) => branch.revision.number).sort((a, b) => a - b)).toEqual(chosen.map((_, at) => at + 1));
        const place = new Map(tree.map((branch, at) => [branch.revision.number, at]));
        for (const { revision: one, depth } of tree) {
          if (one.parent === null) continue;
          expect(place.get(one.number)).toBeLessThan(place.get(one.parent)!);
          const parentDepth = tree[place.get(one.parent)!]!.depth;
          expect([parentDepth, parentDepth + 1]).toContain(depth);
        }
      }),
    );
  });

  test("is a straight line, newest first, until something goes on from an older one", () => {
    const straight = treeOf([1, 2, 3].map((number) => revision(number, number > 1 ? number - 1 : null)));
    expect(straight.map(({ revision: { number }, depth }) => [number, depth])).toEqual([[3, 0], [2, 0], [1, 0]]);
    const branched = treeOf([revision(1, null), revision(2, 1), revision(3, 1), revision(4, 3)]);
    expect(branched.map(({ revision: { number }, depth, from }) => [number, depth, from])).toEqual([[4, 1, null], [3, 1, 1], [2, 0, null], [1, 0, null]]);
  });

  test("takes one whose parent is not there for a beginning", () => {
    expect(treeOf([revision(5, 4)])).toMatchObject([{ depth: 0, from: null }]);
  });
});
