import type { Schemas } from "../../../shared/api/client";

/** Whether a line of a proposal is another than the mix has. */
export function changes(line: Schemas["ProposedLine"]): boolean {
  return Math.abs(line.after_g - line.before_g) > 0.02 || line.was !== line.name;
}
