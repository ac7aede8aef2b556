import type { Schemas } from "../../api/client";

/** Ingredients whose name, other names or kind hold every word that is looked for; names that begin with it come first. */
export function found(ingredients: Schemas["IngredientOut"][], wanted: string): Schemas["IngredientOut"][] {
  const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
  const first = words[0] ?? "";
  const rank = (ingredient: Schemas["IngredientOut"]) => (ingredient.name.toLowerCase().startsWith(first) ? 0 : 1);
  return ingredients
    .filter((ingredient) => {
      const text = [ingredient.name, ingredient.kind, ...ingredient.also].join(" ").toLowerCase();
      return words.every((word) => text.includes(word));
    })
    .sort((a, b) => rank(a) - rank(b));
}
