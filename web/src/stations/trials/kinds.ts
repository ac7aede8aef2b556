/** The kinds of tests as a cook calls them, the named questions first: they need the fewest tastings. */
export const KINDS: Record<string, { name: string; two: boolean; luck: number; asks: boolean }> = {
  "2-afc": { name: "Which has more", two: true, luck: 1 / 2, asks: true },
  preference: { name: "Which is better", two: true, luck: 1 / 2, asks: false },
  ranking: { name: "Put in order", two: false, luck: 0, asks: true },
  liking: { name: "Liking, 1 to 9", two: false, luck: 0, asks: false },
  triangle: { name: "Odd one out", two: true, luck: 1 / 3, asks: false },
  tetrad: { name: "Two and two", two: true, luck: 1 / 3, asks: false },
  "3-afc": { name: "Which of three has more", two: true, luck: 1 / 3, asks: true },
  "duo-trio": { name: "Same as the open cup", two: true, luck: 1 / 2, asks: false },
  pairs: { name: "All pairs", two: false, luck: 0, asks: false },
};

/** What can be asked for by name. */
export const ATTRIBUTES = [
  { key: "sweetness", name: "sweeter" },
  { key: "firmness", name: "firmer" },
  { key: "fat", name: "richer" },
  { key: "flavour_g_kg", name: "stronger in flavour" },
  { key: "acid_sweetness", name: "more tart" },
  { key: "overrun_pct", name: "airier" },
];
