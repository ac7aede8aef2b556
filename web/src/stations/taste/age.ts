/** How old a batch is, as one says it. */
export function ageOf(hours: number): string {
  if (hours < 1) return "less than an hour";
  if (hours < 36) return Math.round(hours) === 1 ? "an hour" : `${Math.round(hours)} hours`;
  const days = Math.round(hours / 24);
  return days === 1 ? "a day" : `${days} days`;
}
