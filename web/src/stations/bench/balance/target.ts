import type { Schemas } from "../../../shared/api/client";

export type Target = { of: string; min: number | null; max: number | null; at_c?: number | null };

/** What a target's quantity is in the mix as it stands; null where the analysis has no such figure. */
export function valueOf(of: string, analysis: Schemas["MixAnalysis"]): number | null {
  const { figures } = analysis;
  const known: Record<string, number | null> = {
    fat: figures.fat,
    msnf: figures.msnf,
    sugars: figures.sugars,
    total_solids: figures.total_solids,
    sweetness: figures.sweetness_pod,
    freezing_power: figures.freezing_power_pac,
    scoop_c: analysis.scoop_c,
    first_ice_c: analysis.first_ice_c,
    frozen_pct: analysis.freezer.frozen_pct,
    firmness: analysis.freezer.firmness,
  };
  const stratum = analysis.strata.find((part) => `stratum-${part.key}` === of);
  return known[of] ?? stratum?.grams ?? null;
}

const FROM_STYLE = ["fat", "msnf", "total_solids", "sweetness"];

/** Targets to begin with: the bands that hold for the mix, and the temperature at which its style is served. */
export function firstTargets(bands: Record<string, number[]>): Target[] {
  const figures = FROM_STYLE.filter((of) => bands[of]).map((of) => ({ of, min: bands[of]![0]!, max: bands[of]![1]! }));
  const serve = bands.serve_c;
  return serve ? [...figures, { of: "scoop_c", min: serve[0]!, max: serve[1]! }] : figures;
}

/** The range that a target is drawn and dragged on: room on both sides of its band and of what the mix has. */
export function rangeOf(target: Target, value: number | null): [number, number] {
  const known = [target.min, target.max, value].filter((figure) => figure !== null);
  const [low, high] = [Math.min(...known), Math.max(...known)];
  const room = Math.max(high - low, Math.abs(high) / 4, 1);
  const cold = target.of.endsWith("_c");
  return [cold ? Math.max(low - room, -32) : Math.max(low - room, 0), cold ? Math.min(high + room, 0) : high + room];
}
