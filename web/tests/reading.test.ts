import fc from "fast-check";
import { describe, expect, test } from "vitest";

import type { Schemas } from "../src/shared/api/client";
import { grams, readNumber, shown, unbroken } from "../src/shared/format/numbers";
import { firstTargets, rangeOf } from "../src/stations/bench/balance/target";
import { highlightOf } from "../src/stations/bench/draft/highlighted";
import type { DraftReading } from "../src/stations/bench/draft/use-analysis";
import { inView } from "../src/stations/bench/lines/view";
import { beginReading, bodyOf, isOpen, nextOpen } from "../src/stations/bench/paste/reading";

describe("numbers", () => {
  test("that are shown are read again", () => {
    fc.assert(
      fc.property(fc.double({ min: -1e6, max: 1e6, noNaN: true }), fc.integer({ min: 0, max: 3 }), (value, decimals) => {
        expect(readNumber(shown(value, decimals))).toBeCloseTo(value, decimals - 0.01);
      }),
    );
  });

  test.each([
    [1234567, 0, "1\u202f234\u202f567"],
    [-18, 0, "−18"],
    [-0.04, 1, "0.0"],
    [999.96, 1, "1\u202f000.0"],
    [0, 2, "0.00"],
  ])("%s with %s decimals is %j", (value, decimals, text) => expect(shown(value, decimals)).toBe(text));

  test.each([
    ["1,5", 1.5],
    [" .5 ", 0.5],
    ["12.", 12],
    ["−3", -3],
    ["", null],
    ["1/2", null],
    ["1e3", null],
    ["1,2,3", null],
    ["NaN", null],
  ])("%j is read as %s", (typed, value) => expect(readNumber(typed)).toBe(value));

  test.each([
    [0.84, "0.8"],
    [3.02, "3"],
    [9.96, "10"],
    [24.6, "25"],
  ])("%s g is said as %j", (value, text) => expect(grams(value)).toBe(text));
});

test("figures stay with their units, and other words may go to the next line", () => {
  expect(unbroken("One run, 61 % full, 0.9 L in 12 min at −18 °C; 3 guests have 2 hours")).toBe(
    "One run, 61\u00a0% full, 0.9\u00a0L in 12\u00a0min at −18\u00a0°C; 3 guests have 2 hours",
  );
});

describe("views of an amount", () => {
  test.each([
    ["typed", null],
    ["percent", "11.3 %"],
    ["kilo", "113 g"],
    ["cups", "½ cup"],
  ] as const)("%s shows %j", (view, text) => expect(inView(view, 113, "½ cup", 1000)).toBe(text));

  test("what weighs nothing, or is in nothing, is left as it was typed", () => {
    expect(inView("percent", null, null, 1000)).toBeNull();
    expect(inView("kilo", 113, null, 0)).toBeNull();
    expect(inView("percent", 0.4, null, 1000)).toBe("0.04 %");
  });
});

describe("what lights up", () => {
  const reading = {
    analysis: { mass_g: 200, strata: [{ key: "sugars", grams: 20 }, { key: "water", grams: 80 }] },
    lines: { a: { name: "Sugar", strata: [{ key: "sugars", grams: 10 }] }, b: { name: "Nothing", strata: [] } },
    contributions: { a: { mass: 5 }, b: {} },
  } as unknown as DraftReading;

  test("is the line's part of each stratum", () => {
    expect(highlightOf(reading, "a")).toEqual({ name: "Sugar", strata: { sugars: 0.25 }, contributions: { mass: 5 } });
  });

  test("is nothing for a line without a share, none, and one that is not read yet", () => {
    for (const key of ["b", null, "c"]) expect(highlightOf(reading, key)).toBeNull();
    expect(highlightOf(undefined, "a")).toBeNull();
  });
});

describe("targets", () => {
  test("begin with the style's bands and where it is served", () => {
    expect(firstTargets({ fat: [8, 12], protein: [1, 2], serve_c: [-14, -12] })).toEqual([
      { of: "fat", min: 8, max: 12 },
      { of: "scoop_c", min: -14, max: -12 },
    ]);
    expect(firstTargets({})).toEqual([]);
  });

  test("are drawn with their band and value inside, on a scale that exists", () => {
    const end = fc.double({ min: -31, max: 100, noNaN: true });
    fc.assert(
      fc.property(fc.constantFrom("fat", "scoop_c"), fc.tuple(end, end), end, (of, pair, value) => {
        const cold = of.endsWith("_c");
        const possible = (figure: number) => (cold ? Math.min(figure, 0) : Math.max(figure, 0));
        const [min, max] = pair.map(possible).sort((one, other) => one - other) as [number, number];
        const [low, high] = rangeOf({ of, min, max }, possible(value));
        expect(low).toBeLessThan(high);
        for (const figure of [min, max, possible(value)]) {
          expect(figure).toBeGreaterThanOrEqual(low);
          expect(figure).toBeLessThanOrEqual(high);
        }
        if (cold) expect(high).toBeLessThanOrEqual(0);
        else expect(low).toBeGreaterThanOrEqual(0);
      }),
    );
  });
});

describe("a pasted recipe", () => {
  const understood = (changes: Partial<Schemas["RecipeLineOut"]>): Schemas["RecipeLineOut"] => ({
    raw: "100 g sugar",
    name: "sugar",
    note: "",
    choices: [{ ingredient: "sugar", name: "Table sugar", score: 1 }],
    typed: "100 g",
    grams: 100,
    assumed: null,
    stage: "pot",
    reduced_to: null,
    doubts: [],
    ...changes,
  });
  const recipe = {
    name: "Ice",
    lines: [understood({}), understood({ doubts: ["Which sugar?"] }), understood({ choices: [] }), understood({ reduced_to: 0.5 })],
    method: [],
  } as unknown as Schemas["RecipeOut"];

  test("waits at what is doubtful or not found, after the last and from the top again", () => {
    const lines = beginReading(recipe);
    expect(lines.map(isOpen)).toEqual([false, true, true, false]);
    expect([-1, 1, 2].map((after) => nextOpen(lines, after))).toEqual([1, 2, 1]);
    expect(nextOpen(lines.map((line) => ({ ...line, left: true })), -1)).toBe(-1);
  });

  test("goes to the server without what is left out, cooked down only where that is wanted", () => {
    const lines = beginReading(recipe).map((line, at) => ({ ...line, left: at === 2, cookedDown: at !== 3 }));
    expect(bodyOf(lines).map((line) => [line.ingredient, line.reduced_to])).toEqual([["sugar", null], ["sugar", null], ["sugar", null]]);
    expect(bodyOf(beginReading(recipe)).at(-1)).toEqual({ ingredient: "sugar", typed: "100 g", stage: "pot", reduced_to: 0.5 });
  });
});
