const MINUS = "−";

/** A number with so many decimals, a true minus, and thin spaces between thousands. */
export function shown(value: number, decimals = 0): string {
  const [whole = "0", part] = Math.abs(value).toFixed(decimals).split(".");
  const grouped = whole.replace(/\B(?=(\d{3})+(?!\d))/g, "\u202f");
  const text = part ? `${grouped}.${part}` : grouped;
  return value < 0 && Number(text.replace("\u202f", "")) !== 0 ? MINUS + text : text;
}

/** Grams as a cook reads them: tenths only where they matter. */
export function grams(value: number): string {
  return shown(value, value < 10 && Math.abs(value - Math.round(value)) > 0.05 ? 1 : 0);
}

/** A sentence that keeps its figures and their units together at the end of a line. */
export function unbroken(sentence: string): string {
  return sentence.replace(/(\d) (?=(?:%|g|kg|ml|L|h|min|°C)(?![\p{L}\d]))/gu, "$1\u00a0");
}

export function degrees(value: number, decimals = 1): string {
  return `${shown(value, decimals)}°`;
}

export function day(iso: string): string {
  return new Date(iso).toLocaleDateString("en-GB", { day: "numeric", month: "short", year: "numeric" });
}

/** A plain number as typed, with a point or a comma; null where it is none. */
export function readNumber(typed: string): number | null {
  const plain = typed.trim().replace(",", ".").replace(MINUS, "-").replaceAll("\u202f", "");
  return /^-?(?:\d+\.?\d*|\.\d+)$/.test(plain) ? Number(plain) : null;
}

/** Return names as a sentence lists them: “milk”, “milk and egg”, “milk, egg and nuts”. */
export function listed(names: readonly string[]): string {
  const last = names[names.length - 1] ?? "";
  return names.length < 2 ? last : `${names.slice(0, -1).join(", ")} and ${last}`;
}
