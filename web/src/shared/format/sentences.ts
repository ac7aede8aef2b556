import type { Schemas } from "../api/client";
import { listed } from "./numbers";
import type { Units } from "./units";

/** Firmness where a mix is kept and served, beside the freezer that the verdict speaks of. */
export function placesSentence(places: Schemas["PlaceOut"][], units: Units): string {
  const parts = places
    .filter((place) => place.key !== "freezer")
    .map((place) => `${place.key === "cabinet" ? "in the cabinet" : "served"} at ${units.setting(place.t_c)} ${place.word}`);
  return `${parts.join(", ").replace(/^./, (first) => first.toUpperCase())}.`;
}

type Held = { allergens: string[]; mayHold: string[]; allergensNotStated: string[]; undisclosed?: string[] };

/** What is in it that some must not eat, what may be, and of what that is not known. */
export function allergenSentence(of: Held): string {
  const { allergens, mayHold, allergensNotStated, undisclosed = [] } = of;
  const contains = allergens.length > 0 ? `Contains ${listed(allergens)}.` : "";
  const perhaps = mayHold.length > 0 ? `May hold ${listed(mayHold, "or")}: check the labels.` : "";
  const open = allergensNotStated.length > 0 ? `Other allergens are not stated for ${allergensNotStated.join(", ")}.` : "";
  const closed = undisclosed.length > 0 ? `What is in ${undisclosed.join(", ")} is not disclosed: its figures are uncertain.` : "";
  return [contains, perhaps, open, closed].filter(Boolean).join(" ");
}

/** What a litre costs, or what is known of it while something has no price. */
export function costSentence(cost: Schemas["CostOut"], currency: string, units: Units): string {
  if (cost.per_litre !== null) return `${units.number(cost.per_litre, 2)}\u00a0${currency} a litre.`;
  if (cost.at_least === null) return "";
  const least = `At least ${units.number(cost.at_least, 2)}\u00a0${currency} in all`;
  return `${least}: ${listed(cost.not_priced)} ${cost.not_priced.length === 1 ? "has" : "have"} no price.`;
}
