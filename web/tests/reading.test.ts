import fc from "fast-check";
import { describe, expect, test } from "vitest";

import type { Schemas } from "../src/shared/api/client";
import { readNumber, unbroken } from "../src/shared/format/numbers";
import { fromUnit, typedMass, Units } from "../src/shared/format/units";
import { firstTargets, rangeOf } from "../src/stations/bench/balance/target";
import { highlightOf } from "../src/stations/bench/draft/highlighted";
import type { DraftReading } from "../src/stations/bench/draft/use-analysis";
import { inView } from "../src/stations/bench/lines/view";
import { beginReading, bodyOf, isOpen, nextOpen } from "../src/stations/bench/paste/reading";

const METRIC = new Units({ temperature_unit: "C", mass_unit: "g", locale: "en-GB", zone: "UTC" });
const OUNCES = new Units({ temperature_unit: "F", mass_unit: "oz", locale: "en-US", zone: "America/Denver" });
const GERMAN = new Units({ temperature_unit: "C", mass_unit: "g", locale: "de-DE", zone: "Asia/Tokyo" });

describe("numbers", () => {
  test.each([
    [1234567, 0, "1,234,567"],
    [-18, 0, "−18"],
    [-0.04, 1, "0.0"],
    [999.96, 1, "1000.0"],
    [0, 2, "0.00"],
  ])("%s with %s decimals is %j", (value, decimals, text) => expect(METRIC.number(value, decimals)).toBe(text));

  test("are written as the region does", () => {
    expect(GERMAN.number(12345.5, 1)).toBe("12.345,5");
    expect(GERMAN.temperature(-13.4)).toBe("−13,4\u00a0°C");
    expect(METRIC.day("2026-11-05T10:00:00Z")).toBe("5 Nov 2026");
    expect(OUNCES.day("2026-11-05T10:00:00Z")).toBe("Nov 5, 2026");
  });

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
  ])("%s g is said as %j", (value, text) => expect(METRIC.massFigure(value)).toBe(text));
});

describe("a kitchen in Fahrenheit and ounces", () => {
  test("reads what it writes", () => {
    fc.assert(
      fc.property(fc.double({ min: -40, max: 120, noNaN: true }), (celsius) => {
        expect(OUNCES.readTemperature(OUNCES.typedTemperature(celsius))).toBeCloseTo(celsius, 1);
      }),
    );
    fc.assert(
      fc.property(fc.double({ min: 0.5, max: 20_000, noNaN: true }), (grams) => {
        expect(Math.abs((OUNCES.readMass(OUNCES.typedMass(grams)) ?? 0) - grams)).toBeLessThan(Math.max(0.3, grams * 0.01));
      }),
    );
  });

  test.each([
    [-18, "0\u00a0°F"],
    [-12.2, "10\u00a0°F"],
    [0, "32\u00a0°F"],
  ])("says %s °C as %j", (celsius, text) => expect(OUNCES.temperature(celsius, 0)).toBe(text));

  test("weighs with the digits a kitchen scale shows", () => {
    expect([454, 28.35, 3, 0.5, 4540].map((grams) => OUNCES.mass(grams))).toEqual(["16.0\u00a0oz", "1.00\u00a0oz", "0.11\u00a0oz", "0.018\u00a0oz", "160\u00a0oz"]);
    expect(typedMass(113, "oz")).toBe("3.99");
    expect(fromUnit(4, "oz")).toBeCloseTo(113.4, 1);
  });

  test("has an axis of round degrees", () => {
    expect(OUNCES.ticks(1, -28).map((celsius) => OUNCES.degrees(celsius, 0))).toEqual(["−10°", "0°", "10°", "20°", "30°"]);
    expect(METRIC.ticks(1, -28)).toEqual([-28, -24, -20, -16, -12, -8, -4, 0].map((tick) => tick + 0));
  });

  test("says how much warmer without a zero of its own", () => expect(OUNCES.degreesApart(0.7)).toBe("1.3°"));
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
  ] as const)("%s shows %j", (view, text) => expect(inView(view, 113, "½ cup", 1000, METRIC)).toBe(text));

  test("what weighs nothing, or is in nothing, is left as it was typed", () => {
    expect(inView("percent", null, null, 1000, METRIC)).toBeNull();
    expect(inView("kilo", 113, null, 0, METRIC)).toBeNull();
    expect(inView("percent", 0.4, null, 1000, METRIC)).toBe("0.04 %");
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
    form: null,
    optional: false,
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
    expect(bodyOf(beginReading(recipe)).at(-1)).toEqual({ ingredient: "sugar", typed: "100 g", stage: "pot", form: null, reduced_to: 0.5 });
  });
});

describe("days and hours of a kitchen", () => {
  const late = "2026-12-01T23:30:00Z";
  test("are those of its own zone", () => {
    expect([METRIC.day(late), OUNCES.day(late), GERMAN.day(late)]).toEqual(["1 Dec 2026", "Dec 1, 2026", "2 Dec 2026"]);
    expect([METRIC.hour(Date.parse(late)), GERMAN.hour(Date.parse(late))]).toEqual(["23:30", "8:30"]);
  });

  test("a day without an hour is that day everywhere", () => {
    expect([METRIC, OUNCES, GERMAN].map((units) => units.day("2026-12-01"))).toEqual(["1 Dec 2026", "Dec 1, 2026", "1 Dec 2026"]);
  });

  test("an hour of another day says which", () => {
    const from = Date.parse("2026-12-01T10:34:00Z");
    expect(METRIC.hour(from + 22 * 3_600_000, from)).toBe("8:34 on Wednesday");
  });
});
