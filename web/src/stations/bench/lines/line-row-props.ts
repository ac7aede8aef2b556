import type { Schemas } from "../../../shared/api/client";
import type { BenchActions } from "../bench-context";
import type { Line } from "../draft/draft";
import type { LineReading } from "../draft/use-analysis";
import type { View } from "./view";

/** What a line is drawn from; none of it changes with an edit of another line. */
export type LineRowProps = {
  line: Line;
  proposed: Schemas["ProposedLine"] | undefined;
  reading: LineReading | undefined;
  mixIn: Schemas["MixInOut"] | undefined;
  mistakable: string[] | undefined;
  actions: BenchActions;
  /** g that fill a bar. */
  most: number;
  /** g of the mix, where the row has to do with it. */
  massG: number | null;
  /** What the kitchen's scale can tell apart, g. */
  step: number;
  view: View;
  water: boolean;
  chosen: boolean;
  choosing: boolean;
};
