import type { Schemas } from "../../api/client";
import type { DraftReading } from "./use-analysis";

/** A line that is pointed at or typed in: what of everything is its share. */
export type Lit = {
  name: string;
  /** Its part of each stratum, 0 to 1, by key. */
  strata: Record<string, number>;
  /** Its % of mass, freezing power and of what outcomes come from, by key. */
  shares: Record<string, number>;
};

/** What lights up for a line; null where it weighs nothing or stands beside the mix. */
export function litOf(reading: DraftReading | undefined, key: string | null): Lit | null {
  const line = key === null ? undefined : reading?.lines[key];
  const analysis = reading?.analysis;
  const shares = key === null ? undefined : reading?.shares[key];
  if (!line || !analysis || !shares || Object.keys(shares).length === 0) return null;
  const whole = new Map(analysis.strata.map((part) => [part.key, (part.grams * analysis.mass_g) / 100]));
  const strata = Object.fromEntries(line.strata.map((part) => [part.key, shareOf(part, whole.get(part.key))]));
  return { name: line.name, strata, shares };
}

function shareOf(part: Schemas["Part"], whole: number | undefined): number {
  return whole ? Math.min(1, part.grams / whole) : 0;
}
