import { describe, expect, it } from "vitest";

import { hoursTyped, readHours } from "../src/stations/kitchen/hours";
import { lasting, PlanClock } from "../src/stations/plan/clock";

describe("weekly hours as they are typed", () => {
  it("are read and written the same", () => {
    for (const typed of ["Mon–Sat 9:00–17:30", "Fri, Sat 16:00–1:00", "Mon–Wed, Sun 7:00–12:00; Thu 8:15–9:45"]) {
      expect(hoursTyped(readHours(typed)!)).toBe(typed);
    }
  });

  it("are read however they are written, and over the end of the week", () => {
    expect(readHours("monday-wednesday 9-17")).toEqual([{ days: [0, 1, 2], start: 540, end: 1020 }]);
    expect(readHours("Sat-Mon 10.30 to 12")).toEqual([{ days: [0, 5, 6], start: 630, end: 720 }]);
    expect(readHours("9:00–17:00")).toEqual([{ days: [0, 1, 2, 3, 4, 5, 6], start: 540, end: 1020 }]);
    expect(readHours("  ")).toEqual([]);
  });

  it("are refused where they cannot be", () => {
    for (const typed of ["always", "Mon 9", "Moonday 9–17", "Mon 9–25", "Mon 9:00–17:00;"]) expect(readHours(typed)).toBeNull();
  });
});

describe("the clock of a plan", () => {
  const clock = new PlanClock({ origin: "2026-03-28T12:00:00", clock_changes: [{ minute: 840, by: 60 }] });

  it("goes on by an hour where the wall's does", () => {
    expect(clock.when(0)).toBe("Sat 28, 12:00");
    expect(clock.when(839)).toBe("Sun 29, 1:59");
    expect(clock.when(840)).toBe("Sun 29, 3:00");
    expect(clock.iso(840)).toBe("2026-03-29T03:00");
    expect(clock.hours(700, 900, 1)).toEqual([720, 780, 840, 900]);
  });

  it("says how long something takes", () => {
    expect([5, 60, 65, 220].map(lasting)).toEqual(["5\u00a0min", "1\u00a0h", "1\u00a0h\u00a005", "3\u00a0h\u00a040"]);
  });
});
