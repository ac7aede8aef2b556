import type { Schemas } from "../../shared/api/client";
import { strictContext } from "../../shared/strict-context";
import type { Draft, Edit } from "./draft/draft";
import type { SyncState } from "./draft/draft-sync";
import type { Highlighted } from "./draft/highlighted";
import type { DraftReading } from "./draft/use-analysis";
import type { View } from "./lines/view";

/** The dialog that is open over the Bench, one at a time. */
export type OpenDialog = { what: "keys" | "scale" | "table" | "revisions" | "copy" | "method" | "run" | "ice" | "pot" | "label" | "cost" } | { what: "look" | "replace"; key: string } | null;

/** What is drawn beside the mix: one of its revisions by number, and the line of another school. */
export type ChartComparison = { revision: number | null; comparison: boolean };

/** What hands can do on the Bench: the same from edit to edit, so that nothing is drawn anew for it. */
export type BenchActions = {
  mix: Schemas["MixOut"];
  edit: (edit: Edit) => void;
  /** Open one of the dialogs over the Bench, or none. */
  ask: (dialog: OpenDialog) => void;
  point: (key: string | null) => void;
  /** Choose a line for several at once, or let it go. */
  choose: (key: string) => void;
  letGo: () => void;
  setView: (view: View) => void;
  setFreezer: (celsius: number) => void;
  /** Let the kitchen's own freezer be at a temperature from now on. */
  keepFreezer: (celsius: number) => void;
  compareWith: (compared: Partial<ChartComparison>) => void;
  toggleNotes: () => void;
  /** Send what is not kept yet. */
  flush: () => Promise<void>;
  /** After a conflict: go on from what the server holds, with that draft, or with ours to be sent over it. */
  settle: (version: number, theirs: Draft | null) => void;
  make: () => void;
  /** Make a preparation of a line first, by its number. */
  prepare: (at: number) => void;
  /** Save the mix as a file, with what its lines cost only where that is asked for. */
  saveFile: (prices: boolean) => void;
};

/** The mix as it is being typed, and how far it is kept. */
export type DraftOnBench = { draft: Draft; typing: boolean; synced: SyncState; making: boolean; errors: (string | undefined)[] };

/** What the server has read of it, at the freezer that is looked at. */
export type ReadingOnBench = {
  reading: DraftReading | undefined;
  analysis: Schemas["MixAnalysis"] | null;
  /** Whether the reading is of what stands there, or the last that could be had. */
  sure: boolean;
  freezer: number;
};

/** The lines that are pointed at and chosen, and how their amounts are read. */
export type Selection = { pointed: string | null; highlighted: Highlighted | null; chosen: ReadonlySet<string>; view: View };

/** What is drawn beside the mix: its revisions, and one of them or a proposal as outlines. */
export type Comparison = {
  revisions: Schemas["RevisionOut"][];
  based: Schemas["RevisionOut"] | undefined;
  compared: ChartComparison;
  ghost: Schemas["MixAnalysis"] | undefined;
};

export const [ActionsContext, useBenchActions] = strictContext<BenchActions>("Bench");
export const [DraftContext, useDraft] = strictContext<DraftOnBench>("draft");
export const [ReadingContext, useReading] = strictContext<ReadingOnBench>("reading");
export const [SelectionContext, useSelection] = strictContext<Selection>("selection");
export const [ComparisonContext, useComparison] = strictContext<Comparison>("comparison");
