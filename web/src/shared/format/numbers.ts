const MINUS = "−";

/** A sentence that keeps its figures and their units together at the end of a line. */
export function unbroken(sentence: string): string {
  return sentence.replace(/(\d) (?=(?:%|g|kg|oz|ml|L|h|min|°[CF])(?![\p{L}\d]))/gu, "$1\u00a0");
}

/** A plain number as typed, with a point or a comma; null where it is none. */
export function readNumber(typed: string): number | null {
  const plain = typed.trim().replace(",", ".").replace(MINUS, "-").replace(/[\u202f\u00a0]/g, "");
  return /^-?(?:\d+\.?\d*|\.\d+)$/.test(plain) ? Number(plain) : null;
}

/** Return names as a sentence lists them: “milk”, “milk and egg”, “milk, egg and nuts”. */
export function listed(names: readonly string[], word = "and"): string {
  const last = names[names.length - 1] ?? "";
  return names.length < 2 ? last : `${names.slice(0, -1).join(", ")} ${word} ${last}`;
}
