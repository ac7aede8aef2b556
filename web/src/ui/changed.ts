/** What of some values is another than it was: a form sends only that, so that it overwrites nothing else. */
export function changed<T extends object>(now: T, before: { [Key in keyof T]?: unknown }): Partial<T> {
  const entries = Object.entries(now).filter(([key, value]) => JSON.stringify(value) !== JSON.stringify(before[key as keyof T]));
  return Object.fromEntries(entries) as Partial<T>;
}
