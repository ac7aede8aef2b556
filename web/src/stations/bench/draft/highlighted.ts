import type { Schemas } from "../../../shared/api/client";
import type { DraftReading } from "./use-analysis";

/** A line that is pointed at or typed in: what of everything is its share. */
export type Highlighted = {
  name: string;
  /** Its part of each stratum, 0 to 1, by key. */
  strata: Record<string, number>;
  /** Its % of mass, freezing power and of what outcomes come from, by key. */
  contributions: Record<string, number>;
};

/** What lights up for a line; null where it weighs nothing or stands beside the mix. */
export function highlightOf(reading: DraftReading | undefined, key: string | null): Highlighted | null {
  const line = key === null ? undefined : reading?.lines[key];
  const analysis = reading?.analysis;
  const contributions = key === null ? undefined : reading?.contributions[key];
  if (!line || !analysis || !contributions || Object.keys(contributions).length === 0) return null;
  const whole = new Map(analysis.strata.map((part) => [part.key, (part.grams * analysis.mass_g) / 100]));
  const strata = Object.fromEntries(line.strata.map((part) => [part.key, shareOf(part, whole.get(part.key))]));
  return { name: line.name, strata, contributions };
}

function shareOf(part: Schemas["Part"], whole: number | undefined): number {
  return whole ? Math.min(1, part.grams / whole) : 0;
}
