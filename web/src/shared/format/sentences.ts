import type { Schemas } from "../api/client";
import { listed, shown } from "./numbers";

/** Firmness where a mix is kept and served, beside the freezer that the verdict speaks of. */
export function placesSentence(places: Schemas["PlaceOut"][]): string {
  const parts = places
    .filter((place) => place.key !== "freezer")
    .map((place) => `${place.key === "cabinet" ? "in the cabinet" : "served"} at ${shown(place.t_c, Number.isInteger(place.t_c) ? 0 : 1)} °C ${place.word}`);
  return `${parts.join(", ").replace(/^./, (first) => first.toUpperCase())}.`;
}

/** What is in it that some must not eat, and of what that is not known. */
export function allergenSentence(of: { allergens: string[]; allergensNotStated: string[]; undisclosed?: string[] }): string {
  const { allergens, allergensNotStated, undisclosed = [] } = of;
  const contains = allergens.length > 0 ? `Contains ${listed(allergens)}.` : "";
  const open = allergensNotStated.length > 0 ? `Other allergens are not stated for ${allergensNotStated.join(", ")}.` : "";
  const closed = undisclosed.length > 0 ? `What is in ${undisclosed.join(", ")} is not disclosed: its figures are uncertain.` : "";
  return [contains, open, closed].filter(Boolean).join(" ");
}

/** What a litre costs, or what is known of it while something has no price. */
export function costSentence(cost: Schemas["CostOut"], currency: string): string {
  if (cost.per_litre !== null) return `${shown(cost.per_litre, 2)} ${currency} a litre.`;
  return `At least ${shown(cost.at_least, 2)} ${currency} in all: ${listed(cost.not_priced)} ${cost.not_priced.length === 1 ? "has" : "have"} no price.`;
}
