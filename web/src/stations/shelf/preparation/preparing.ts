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
 * What is left of each line of a mix once a preparation was made of them, and how much of the preparation goes in: as much as
 * the mix has what it is made of, and never more than it takes the place of.
 */
export function takenFrom(mix: readonly Weighed[], used: readonly Weighed[], weighs: number): { goesIn: number; left: number[] } {
  const held = totals(mix);
  const wanted = totals(used.filter(({ ingredient, grams }) => grams > 0 && (held.get(ingredient) ?? 0) > 0));
  const share = Math.min(1, ...[...wanted].map(([ingredient, grams]) => (held.get(ingredient) ?? 0) / grams));
  const left = mix.map((line) => {
    const taken = Math.min(share * (wanted.get(line.ingredient) ?? 0), line.grams);
    wanted.set(line.ingredient, (wanted.get(line.ingredient) ?? 0) - taken / share);
    return line.grams - taken;
  });
  const taken = mix.reduce((sum, line, at) => sum + line.grams - (left[at] ?? 0), 0);
  return { goesIn: taken > 0 ? Math.min(share * weighs, taken) : weighs, left };
}

function totals(lines: readonly Weighed[]): Map<string, number> {
  const found = new Map<string, number>();
  for (const { ingredient, grams } of lines) found.set(ingredient, (found.get(ingredient) ?? 0) + grams);
  return found;
}
