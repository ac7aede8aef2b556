/** A line of a mix that is to be prepared first, and where to come back to; handed over as the page's state. */
export type PrepareLine = {
  start: { slug: string; name: string; typed: string };
  back: { mixId: number; at: number; mix: Weighed[] };
};

/** So many g of an ingredient. */
export type Weighed = { ingredient: string; grams: number };

/** What comes back to the Bench: the preparation that takes the place of the line. */
export type FromPreparation = { prepared: { at: number; ingredient: string; typed: string; left: (string | null)[] } };

/**
 * What is left of each line of a mix once a preparation was made of them, and which share of the preparation goes in: a mix
 * never grows by what it is made of.
 */
export function takenFrom(mix: readonly Weighed[], used: readonly Weighed[]): { share: number; left: number[] } {
  const wanted = new Map<string, number>();
  for (const { ingredient, grams } of used) wanted.set(ingredient, (wanted.get(ingredient) ?? 0) + grams);
  const held = (ingredient: string) => mix.filter((line) => line.ingredient === ingredient).reduce((sum, line) => sum + line.grams, 0);
  const whole = [...wanted.values()].reduce((sum, grams) => sum + grams, 0);
  const there = [...wanted].reduce((sum, [ingredient, grams]) => sum + Math.min(grams, held(ingredient)), 0);
  const share = whole > 0 ? there / whole : 1;
  const left = mix.map((line) => {
    const taken = Math.min(wanted.get(line.ingredient) ?? 0, line.grams);
    wanted.set(line.ingredient, (wanted.get(line.ingredient) ?? 0) - taken);
    return line.grams - taken;
  });
  return { share, left };
}
