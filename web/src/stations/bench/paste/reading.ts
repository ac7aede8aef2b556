import type { Schemas } from "../../../shared/api/client";

/** A line of a pasted recipe while it is looked through; `ingredient` is empty while nothing is chosen. */
export type PastedLine = Schemas["RecipeLineOut"] & {
  ingredient: string;
  ingredientName: string;
  /** Whether somebody has looked at it and said that it is right. */
  settled: boolean;
  left: boolean;
  /** Whether what the recipe says of cooking it down is done as a preparation. */
  cookedDown: boolean;
};

export function beginReading(recipe: Schemas["RecipeOut"]): PastedLine[] {
  return recipe.lines.map((line) => ({
    ...line,
    ingredient: line.choices[0]?.ingredient ?? "",
    ingredientName: line.choices[0]?.name ?? "",
    settled: line.doubts.length === 0,
    left: false,
    cookedDown: line.reduced_to !== null,
  }));
}

/** Whether a line still waits for somebody: nothing chosen, no amount, or doubts that nobody has settled. */
export function isOpen(line: PastedLine): boolean {
  return !line.left && (!line.settled || line.ingredient === "" || line.typed.trim() === "");
}

/** The next line that waits, after the given one and then from the top; -1 where none does. */
export function nextOpen(lines: PastedLine[], after: number): number {
  const later = lines.findIndex((line, index) => index > after && isOpen(line));
  return later >= 0 ? later : lines.findIndex(isOpen);
}

export function bodyOf(lines: PastedLine[]): Schemas["RecipeLineIn"][] {
  return lines
    .filter((line) => !line.left)
    .map((line) => ({
      ingredient: line.ingredient,
      typed: line.typed,
      stage: line.stage,
      form: line.form,
      reduced_to: line.cookedDown ? line.reduced_to : null,
    }));
}
