/** How each stratum is painted; the letter tells it apart without its colour. */
export const PAINT: Record<string, { colour: string; letter: string; on: string }> = {
  gums: { colour: "var(--gums)", letter: "G", on: "#0b2a22" },
  other: { colour: "var(--other)", letter: "R", on: "#ffffff" },
  spirit: { colour: "var(--spirit)", letter: "A", on: "#ffffff" },
  "milk-fat": { colour: "var(--milk-fat)", letter: "F", on: "#2b2105" },
  egg: { colour: "var(--egg)", letter: "E", on: "#2b1705" },
  sugars: { colour: "var(--sugars)", letter: "S", on: "#ffffff" },
  "milk-solids": { colour: "var(--milk-solids)", letter: "M", on: "#0b2136" },
  water: { colour: "var(--water)", letter: "W", on: "var(--ink)" },
};

export function paint(key: string): string {
  return PAINT[key]?.colour ?? "var(--muted)";
}

/** Move labels apart so that none is closer to its neighbour than `gap`, as little as needed, within bounds. */
export function spread(wanted: number[], gap: number, top: number, bottom: number): number[] {
  const order = wanted.map((_, index) => index).sort((a, b) => (wanted[a] ?? 0) - (wanted[b] ?? 0));
  const placed = [...wanted];
  let last = top - gap;
  for (const index of order) {
    last = Math.max(placed[index] ?? 0, last + gap);
    placed[index] = last;
  }
  let next = bottom + gap;
  for (const index of order.reverse()) {
    next = Math.min(placed[index] ?? 0, next - gap);
    placed[index] = next;
  }
  return placed;
}
