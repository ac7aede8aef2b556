import type { Schemas } from "../../../shared/api/client";
import { readNumber } from "../../../shared/format/numbers";
import type { Units } from "../../../shared/format/units";

export type Kind = Schemas["PrepStep"]["kind"];

/** How it is known what a step leaves: estimated as a share, weighed, or by the temperature at which it boils. */
export type KnownBy = "share" | "weighed" | "heat";

/** A step while it is edited: numbers as typed. */
export type Step = {
  key: string;
  kind: Kind;
  by: KnownBy;
  share: string;
  measured: string;
  heat: string;
  pot: string;
  brix: string;
  pressed: boolean;
  madeUp: Schemas["PrepStep"]["made_up"];
  keep: Schemas["PrepStep"]["keep"];
};

type Words = {
  name: string;
  /** The same where there is little room. */
  short?: string;
  /** What is typed for each way of knowing what it leaves; a way that is missing is not offered. */
  by: Partial<Record<KnownBy, string>>;
  pot?: boolean;
  /** The share it begins with. */
  usual?: string;
  /** What leaves the strand is called so, and leaves upwards where it is steam. */
  leaves: string;
  up?: boolean;
};

export const KINDS: Record<Kind, Words> = {
  reduce: { name: "Reduce", by: { share: "% of its weight is left", weighed: "g are left", heat: "boils at" }, pot: true, usual: "33", leaves: "steam", up: true },
  cook: { name: "Cook", by: { share: "% of its weight is lost", weighed: "g are left", heat: "boils at" }, pot: true, usual: "5", leaves: "steam", up: true },
  steep: { name: "Steep and take out", short: "Steep", by: { share: "", weighed: "g are left" }, leaves: "held by the leaves" },
  macerate: { name: "Macerate", by: { share: "% of its liquid runs off", weighed: "g of it" }, usual: "", leaves: "left behind" },
  strain: { name: "Strain", by: { share: "% passes", weighed: "g passed" }, usual: "85", leaves: "in the sieve" },
  trim: { name: "Trim", by: { share: "% is lost", weighed: "g are left" }, usual: "10", leaves: "trimmed away" },
  sour: { name: "Sour with acid", by: {}, leaves: "" },
  invert: { name: "Boil with acid", by: { share: "% of its table sugar is split" }, usual: "30", leaves: "" },
  brix: { name: "Read °Brix", by: {}, leaves: "too much counted" },
};

export function newStep(kind: Kind, units: Units): Step {
  return stepOf({ kind, share_pct: readNumber(KINDS[kind].usual ?? ""), pressed: true, made_up: "", keep: kind === "macerate" ? "syrup" : "both" }, units);
}

export function stepOf(step: Schemas["PrepStep"], units: Units): Step {
  return {
    key: Math.random().toString(36).slice(2),
    kind: step.kind,
    by: step.measured_g != null ? "weighed" : step.to_c != null ? "heat" : "share",
    share: step.share_pct?.toString() ?? "",
    measured: step.measured_g?.toString() ?? "",
    heat: step.to_c == null ? "" : units.typedTemperature(step.to_c),
    pot: step.pot_g?.toString() ?? "",
    brix: step.brix?.toString() ?? "",
    pressed: step.pressed ?? true,
    madeUp: step.made_up ?? "",
    keep: step.keep ?? "both",
  };
}

/** The step as the server takes it; null while a number cannot be read. */
export function stepBody(step: Step, units: Units): Schemas["PrepStep"] | null {
  const typed = [step.share, step.measured, step.pot, step.brix, step.heat];
  if (typed.some((text) => text.trim() !== "" && readNumber(text) === null)) return null;
  return {
    kind: step.kind,
    share_pct: step.by === "share" ? readNumber(step.share) : null,
    measured_g: step.by === "weighed" ? readNumber(step.measured) : null,
    to_c: step.by === "heat" ? units.readTemperature(step.heat) : null,
    pot_g: readNumber(step.pot),
    brix: readNumber(step.brix),
    pressed: step.pressed,
    made_up: step.madeUp,
    keep: step.keep,
  };
}
