import fc from "fast-check";
import { describe, expect, test } from "vitest";

import { begun, bodyOf, byStage, type Draft, type DraftState, type Edit, edited, overrunError, typedGrams, writtenOf } from "../src/stations/bench/draft/draft";
import { takenFrom } from "../src/stations/shelf/preparation/preparing";
import { CUSTARD, draft, line } from "./mixes";

const KEYS = CUSTARD.lines.map(({ key }) => key);
const STAGES = ["pot", "yolks", "off-heat"];

const someKeys = fc.subarray(KEYS);
const amount = fc.constantFrom("120", "1,5", "½ cup", "", "4 yolks", "nonsense");
const stage = fc.constantFrom(...STAGES, null);

/** Any edit that a hand can make but undo and redo. */
const anyEdit: fc.Arbitrary<Edit> = fc.oneof(
  fc.record({ kind: fc.constant("name" as const), name: fc.string({ maxLength: 20 }) }),
  fc.record({ kind: fc.constant("overrun" as const), overrun: fc.constantFrom("30", "", "x", "12,5", "400") }),
  fc.record({ kind: fc.constant("type" as const), key: fc.constantFrom(...KEYS), typed: amount, read: fc.constant(12) }),
  fc.record({ kind: fc.constant("style" as const), style: fc.constantFrom("gelato", null) }),
  fc.record({ kind: fc.constant("machine" as const), machine: fc.constantFrom(1, 2, null) }),
  fc.record({ kind: fc.constant("pin" as const), keys: someKeys }),
  fc.record({ kind: fc.constant("hold" as const), key: fc.constantFrom(...KEYS), held: fc.record({ least_g: fc.constantFrom(5, null) }) }),
  fc.record({ kind: fc.constant("remove" as const), keys: someKeys }),
  fc.record({ kind: fc.constant("stage" as const), keys: someKeys, stage }),
  fc.record({ kind: fc.constant("shift" as const), key: fc.constantFrom(...KEYS), by: fc.constantFrom(1 as const, -1 as const) }),
  fc.record({ kind: fc.constant("times" as const), keys: someKeys, times: fc.constantFrom(0, 1, 1.1, 2), read: fc.constant({}) }),
  fc.record({ kind: fc.constant("aim" as const), of: fc.constantFrom("fat", "msnf"), band: fc.constantFrom<number[] | null>([1, 2], null) }),
  fc.record({ kind: fc.constant("restrictions" as const), restrictions: fc.subarray(["vegan", "nut-free"]) }),
  fc.constant<Edit>({ kind: "swap", key: KEYS[1]!, lines: [{ ingredient: "dextrose", typed: "100" }, { ingredient: "water", typed: "5" }] }),
  fc.constant({ kind: "done" as const }),
  fc.constant({ kind: "retract" as const }),
);
const edits = fc.array(anyEdit, { maxLength: 30 });

function frozen<T>(value: T): T {
  if (typeof value === "object" && value !== null && !Object.isFrozen(value)) Object.values(Object.freeze(value)).forEach(frozen);
  return value;
}

function after(...made: Edit[]): DraftState {
  return made.reduce((state, edit) => frozen(edited(state, edit)), frozen(begun(CUSTARD)));
}

function amounts(of: Draft): string[] {
  return of.lines.map(({ ingredient, typed, unit }) => `${ingredient} ${typed} ${unit}`);
}

describe("whatever is done", () => {
  test("undo leads back to the beginning and redo to the end again", () => {
    fc.assert(
      fc.property(edits, (made) => {
        const end = after(...made, { kind: "done" });
        const steps = end.past.length;
        const back = Array.from({ length: steps }).reduce<DraftState>((state) => edited(state, { kind: "undo" }), end);
        expect(back.present).toEqual(CUSTARD);
        expect(edited(back, { kind: "undo" })).toEqual(back);
        const forth = Array.from({ length: steps }).reduce<DraftState>((state) => edited(state, { kind: "redo" }), back);
        expect(forth.present).toEqual(end.present);
        expect(edited(forth, { kind: "redo" }).present).toEqual(end.present);
      }),
    );
  });

  test("no two lines share a key, and no step says what the one before says", () => {
    fc.assert(
      fc.property(edits, (made) => {
        const { past, present, shown } = after(...made);
        for (const one of [...past, present, shown]) expect(new Set(one.lines.map(({ key }) => key)).size).toBe(one.lines.length);
        [present, ...past].forEach((one, at, all) => expect(JSON.stringify(one)).not.toBe(JSON.stringify(all[at + 1])));
      }),
    );
  });

  test("a new edit forgets what was undone", () => {
    const state = after({ kind: "style", style: "gelato" }, { kind: "undo" }, { kind: "machine", machine: 2 });
    expect(state.future).toEqual([]);
    expect(state.present.style).toBe("frozen-custard");
  });

  test("two hundred steps are remembered and no more", () => {
    const many = Array.from({ length: 230 }, (_, number): Edit => ({ kind: "machine", machine: number }));
    expect(after(...many).past).toHaveLength(200);
  });
});

describe("typing", () => {
  const type = (typed: string, key = KEYS[1]!): Edit => ({ kind: "type", key, typed, read: 113 });

  test("counts at once and is one step when it is done", () => {
    const state = after(type("1"), type("12"), type("120"));
    expect(state.shown.lines[1]?.typed).toBe("120");
    expect(state.present.lines[1]?.typed).toBe("113");
    expect(edited(state, { kind: "done" }).past).toHaveLength(1);
  });

  test("in another place ends what was typed before", () => {
    const state = after(type("120"), type("500", KEYS[0]));
    expect(state.present.lines[1]?.typed).toBe("120");
    expect(state.past).toHaveLength(1);
    expect(state.shown.lines[0]?.typed).toBe("500");
  });

  test("is taken back whole, and leaves no step where it says the same", () => {
    expect(after(type("1"), type(""), { kind: "retract" }).shown).toEqual(CUSTARD);
    expect(after(type("1"), type("113"), { kind: "done" }).past).toEqual([]);
  });

  test("keeps what the line weighed for as long as nothing readable stands there", () => {
    expect(after(type("nonsense")).shown.lines[1]).toMatchObject({ typed: "nonsense", grams: 113 });
  });

  test("undo takes what is being typed for a step", () => {
    expect(after(type("120"), { kind: "undo" }).shown).toEqual(CUSTARD);
  });
});

describe("air", () => {
  test.each([
    ["40", 40, null],
    ["12,5", 12.5, null],
    [" ", null, null],
    ["much", 25, "Air is 0 to 300 % overrun."],
    ["301", 25, "Air is 0 to 300 % overrun."],
    ["-3", 25, "Air is 0 to 300 % overrun."],
  ])("%j counts as %s", (overrun, read, error) => {
    const { shown } = after({ kind: "overrun", overrun });
    expect([shown.overrun, shown.overrunRead, overrunError(shown)]).toEqual([overrun, read, error]);
  });
});

describe("lines", () => {
  test("several become so many times as much; one of which nobody knows what it weighs stays", () => {
    const { present } = after({ kind: "times", keys: KEYS, times: 1.1, read: { [KEYS[2]!]: 68, [KEYS[3]!]: null } });
    expect(amounts(present)).toEqual(["whole-milk 528 g", "sugar 124.3 g", "egg-yolk 74.8 g", "cream-36 129.8 g", "honey 26.4 g"]);
    const unread = after({ kind: "times", keys: [KEYS[2]!], times: 2, read: {} });
    expect(amounts(unread.present)).toEqual(amounts(CUSTARD));
  });

  test.each([
    ["113", "g", 113],
    ["1,5", "g", 1.5],
    ["24 g", "g", 24],
    ["24 g", "cup", 24],
    ["½", "g", null],
    ["4", "yolk", null],
    ["", "g", null],
  ])("%j in %s says %s g in so many words", (typed, unit, weight) => {
    expect(typedGrams(line("x", typed, { unit }))).toBe(weight);
  });

  test("are moved within their stage and back", () => {
    fc.assert(
      fc.property(fc.constantFrom(...KEYS), fc.constantFrom(1 as const, -1 as const), (key, by) => {
        const { present } = after({ kind: "shift", key, by });
        expect(new Set(present.lines)).toEqual(new Set(CUSTARD.lines));
        if (present !== CUSTARD) {
          const back = edited(begun(present), { kind: "shift", key, by: by === 1 ? -1 : 1 }).present;
          const order = (of: Draft) => byStage(of.lines, STAGES).map(({ lines }) => lines.map((one) => one.key));
          expect(order(back)).toEqual(order(CUSTARD));
        }
      }),
    );
  });

  test("stand by stage, those of none first", () => {
    const { present } = after({ kind: "stage", keys: [KEYS[4]!], stage: null });
    const read = byStage(present.lines, STAGES).map(({ stage: at, lines }) => [at, lines.map((one) => one.ingredient)]);
    expect(read).toEqual([[null, ["honey"]], ["pot", ["whole-milk", "sugar"]], ["yolks", ["egg-yolk"]], ["off-heat", ["cream-36"]]]);
  });

  test("pinning several pins all, and only all pinned are let go", () => {
    const one = after({ kind: "pin", keys: [KEYS[0]!] });
    const all = edited(one, { kind: "pin", keys: KEYS });
    expect(all.present.lines.every(({ pinned }) => pinned)).toBe(true);
    expect(edited(all, { kind: "pin", keys: KEYS }).present.lines.some(({ pinned }) => pinned)).toBe(false);
  });

  test("what is tried changes lines that are there, brings others in and sets the air", () => {
    const lines = [
      { key: KEYS[1]!, ingredient: "sugar", grams: 93, stage: null },
      { key: null, ingredient: "dextrose", grams: 20, stage: "pot" },
    ];
    const { present } = after({ kind: "accept", lines, overrun: 35 });
    expect(amounts(present)).toEqual([...amounts(CUSTARD).map((said) => said.replace("sugar 113", "sugar 93")), "dextrose 20 g"]);
    expect(present).toMatchObject({ overrun: "35", overrunRead: 35 });
    expect(after({ kind: "accept", lines, overrun: null }).present.overrun).toBe(CUSTARD.overrun);
  });

  test("other goods take the place, stage and key of a line", () => {
    const { present } = after({ kind: "swap", key: KEYS[3]!, lines: [{ ingredient: "coconut-cream", typed: "90" }, { ingredient: "water", typed: "28" }] });
    expect(present.lines.map(({ ingredient }) => ingredient)).toEqual(["whole-milk", "sugar", "egg-yolk", "coconut-cream", "water", "honey"]);
    expect(present.lines[3]).toMatchObject({ key: KEYS[3], stage: "off-heat" });
  });

  test("their limits grow with another size", () => {
    const held = draft([line("sugar", "100", { least_g: 80, most_g: null })]);
    const scaled: Edit = { kind: "scale", times: 2.5, lines: [{ key: "key of sugar", typed: "250", unit: "g", grams: 250 }] };
    expect(edited(begun(held), scaled).present.lines[0]).toMatchObject({ typed: "250", least_g: 200, most_g: null });
  });

  test("what is accepted is weighed to the milligram, new goods at their stage", () => {
    const lines = [
      { key: KEYS[1]!, ingredient: "sugar", grams: 99.99949, stage: "pot" },
      { key: null, ingredient: "guar-gum", grams: 0.8, stage: "dry" },
    ];
    const { present } = after({ kind: "accept", lines });
    expect(amounts(present)[1]).toBe("sugar 99.999 g");
    expect(present.lines.at(-1)).toMatchObject({ ingredient: "guar-gum", typed: "0.8", stage: "dry" });
  });
});

describe("going back to a revision", () => {
  test("brings its lines, style, air and aims; name, machine and restrictions stay", () => {
    const [kept] = [line("sugar", "90")].map(({ key: _, ...rest }) => rest);
    const revision = { number: 3, style: null, overrun_pct: 40, aims: { fat: [8, 10] }, lines: [kept!] };
    const before = draft([line("honey", "5")], { restrictions: ["vegan"], machine: 2 });
    const { present } = edited(begun(before), { kind: "restore", revision: revision as never });
    expect(present).toMatchObject({ name: before.name, machine: 2, restrictions: ["vegan"], style: null, overrun: "40", overrunRead: 40, basedOn: 3 });
    expect(amounts(present)).toEqual(["sugar 90 g"]);
  });

  test("saying what the draft goes on from is no step of its own", () => {
    const state = after({ kind: "style", style: "gelato" }, { kind: "based", on: 2 });
    expect(state.past).toHaveLength(1);
    expect(state.present.basedOn).toBe(2);
  });
});

describe("as the server takes it", () => {
  test("is written once, without the browser's keys, what an older page left out filled in", () => {
    const { restrictions: _, aims: __, ...older } = draft([line("sugar", "1")]);
    const body = bodyOf(older as Draft);
    expect(body).toMatchObject({ restrictions: [], aims: {} });
    expect(JSON.stringify(body)).not.toContain("key of sugar");
    expect(bodyOf(CUSTARD)).toBe(bodyOf(CUSTARD));
    expect(writtenOf(CUSTARD)).toBe(JSON.stringify(bodyOf(CUSTARD)));
  });
});

describe("a preparation in the place of what it is made of", () => {
  const mix = [
    { ingredient: "whole-milk", grams: 500 },
    { ingredient: "mint", grams: 25 },
    { ingredient: "whole-milk", grams: 100 },
    { ingredient: "sugar", grams: 150 },
  ];

  test("takes all of a line and part of another", () => {
    const used = [{ ingredient: "mint", grams: 25 }, { ingredient: "whole-milk", grams: 520 }];
    expect(takenFrom(mix, used, 520)).toEqual({ goesIn: 520, left: [0, 0, 80, 150] });
  });

  test("does not count what is sieved out and was never in the mix", () => {
    const used = [{ ingredient: "whole-milk", grams: 600 }, { ingredient: "tea-leaves", grams: 12 }];
    expect(takenFrom(mix, used, 590)).toEqual({ goesIn: 590, left: [0, 25, 0, 150] });
  });

  test("goes in by its share where the mix holds less", () => {
    expect(takenFrom(mix, [{ ingredient: "whole-milk", grams: 1200 }], 1100)).toEqual({ goesIn: 550, left: [0, 25, 0, 150] });
  });

  test("never makes a mix grow", () => {
    const used = fc.array(fc.record({ ingredient: fc.constantFrom("whole-milk", "mint", "sugar", "water"), grams: fc.double({ min: 0.1, max: 900, noNaN: true }) }), { minLength: 1 });
    fc.assert(
      fc.property(used, fc.double({ min: 1, max: 3000, noNaN: true }), (parts, weighs) => {
        fc.pre(parts.some((part) => part.ingredient !== "water"));
        const { goesIn, left } = takenFrom(mix, parts, weighs);
        expect(goesIn + left.reduce((sum, grams) => sum + grams, 0)).toBeLessThanOrEqual(775 + 1e-6);
        expect(Math.min(...left)).toBeGreaterThanOrEqual(0);
      }),
    );
  });

  test("is one edit, and one undo brings all of it back", () => {
    const [first, second, third] = KEYS as [string, string, string];
    const made = after({ kind: "prepared", key: first, line: { ingredient: "mint-milk", typed: "480" }, left: { [second]: "", [third]: "12" } });
    const lines = made.shown.lines;
    expect(lines.map(({ key }) => key)).toEqual(KEYS.filter((key) => key !== second));
    expect([lines[0]?.ingredient, lines[0]?.typed, lines[1]?.typed]).toEqual(["mint-milk", "480", "12"]);
    expect(edited(made, { kind: "undo" }).shown.lines).toEqual(CUSTARD.lines);
  });
});
