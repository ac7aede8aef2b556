import type { Units } from "../../../shared/format/units";
import type { Line } from "../draft/draft";

/** Whether a number stands alone in a line, in the unit that the line has. */
export function isBare({ typed }: Line): boolean {
  return !/[a-z%]/i.test(typed);
}

/** Whether it stands alone in grams where the kitchen weighs in ounces, or the other way round. */
export function isBareInOtherUnit(line: Line, units: Units): boolean {
  return isBare(line) && line.typed.trim() !== "" && line.unit !== units.massUnit && (line.unit === "g" || line.unit === "oz");
}

/** Whether what was typed says something else than the kitchen’s own unit. */
export function isConverted(line: Line, units: Units): boolean {
  if (isBare(line)) return line.unit !== units.massUnit && !isBareInOtherUnit(line, units);
  return !new RegExp(`\\d ?${units.massUnit}$`, "i").test(line.typed.trim());
}
