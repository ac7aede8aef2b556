/** Drafts, lines and answers of the server as the tests need them. */
import type { Schemas } from "../src/shared/api/client";
import { type Draft, type Line, newLine } from "../src/stations/bench/draft/draft";

export function line(ingredient: string, typed: string, changes: Partial<Line> = {}): Line {
  return { ...newLine(ingredient, typed, "pot", `key of ${ingredient}`), ...changes };
}

export function draft(lines: Line[], changes: Partial<Draft> = {}): Draft {
  return {
    name: "Smoked tea custard",
    style: "frozen-custard",
    overrun: "25",
    overrunRead: 25,
    restrictions: [],
    aims: {},
    machine: 1,
    basedOn: null,
    lines,
    ...changes,
  };
}

export const CUSTARD = draft([
  line("whole-milk", "480"),
  line("sugar", "113", { grams: 113 }),
  line("egg-yolk", "4", { unit: "yolk", stage: "yolks" }),
  line("cream-36", "118", { stage: "off-heat" }),
  line("honey", "24", { stage: "off-heat", grams: 24 }),
]);

export function mix(of: Draft, version: number): Schemas["MixOut"] {
  const lines = of.lines.map(({ key: _, ...rest }) => rest);
  return {
    id: 7,
    name: of.name,
    style: of.style,
    overrun_pct: of.overrunRead,
    restrictions: of.restrictions,
    aims: of.aims,
    machine: of.machine,
    based_on: of.basedOn,
    method: [],
    servings: null,
    makes: "",
    version,
    changed_at: "2026-11-25T10:00:00Z",
    lines,
  };
}

export function revision(number: number, parent: number | null): Schemas["RevisionOut"] {
  return { id: number, number, parent, name: `point ${number}`, note: "", kept_at: "2026-11-25T10:00:00Z" };
}

/** A browser's storage with so much room, in characters. */
export class MemoryStorage {
  private held = new Map<string, string>();
  constructor(private room = Infinity) {}

  get length(): number {
    return this.held.size;
  }

  key(at: number): string | null {
    return [...this.held.keys()][at] ?? null;
  }

  getItem(key: string): string | null {
    return this.held.get(key) ?? null;
  }

  setItem(key: string, value: string): void {
    if (value.length > this.room) throw new DOMException("full", "QuotaExceededError");
    this.held.set(key, value);
  }

  removeItem(key: string): void {
    this.held.delete(key);
  }
}
