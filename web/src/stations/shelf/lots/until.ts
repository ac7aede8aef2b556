import type { Schemas } from "../../../shared/api/client";
import type { Units } from "../../../shared/format/units";

const SOON_DAYS = 4;

type Dated = Pick<Schemas["LotOut"], "good_until" | "days_left" | "blocked" | "asks">;

/** Whether it must go in the next days, or should have gone. */
export function isUrgent(lot: Dated): boolean {
  return lot.blocked || (lot.days_left !== null && lot.days_left <= SOON_DAYS);
}

/** Until when a lot is good, as somebody would say it; empty where nobody knows. */
export function untilSaid(lot: Dated, units: Units): string {
  if (lot.good_until === null || lot.days_left === null) return lot.blocked ? "past its day" : "";
  if (lot.blocked) return `past its day since ${units.day(lot.good_until)}: do not use`;
  if (lot.asks) return `was best before ${units.day(lot.good_until)}: look first`;
  if (lot.days_left === 0) return "must go today";
  if (lot.days_left === 1) return "must go by tomorrow";
  const weekday = new Date(lot.good_until).toLocaleDateString("en-GB", { weekday: "long" });
  return lot.days_left < 7 ? `until ${weekday}` : `until ${units.day(lot.good_until)}`;
}
