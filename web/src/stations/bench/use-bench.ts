import { useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useReducer, useState } from "react";
import { useLocation, useNavigate } from "react-router";

import type { Schemas } from "../../shared/api/client";
import { useKitchen } from "../../shared/api/kitchen";
import { revisionsQuery } from "../../shared/api/queries";
import { useKitchenSettings } from "../../shared/api/use-kitchen-settings";
import type { FromPreparation } from "../shelf/preparation/preparing";
import type { BenchActions, ChartComparison, Comparison, DraftOnBench, OpenDialog, ReadingOnBench, Selection } from "./bench-context";
import { type Draft, edited } from "./draft/draft";
import { highlightOf } from "./draft/highlighted";
import { startOf } from "./draft/unsent";
import { type DraftReading, useAnalysis } from "./draft/use-analysis";
import { useDraftSync } from "./draft/use-draft-sync";
import { useHistory } from "./draft/use-history";
import { useView } from "./lines/view";
import { useRevisionGhost } from "./revisions/use-revision-ghost";
import { useMixActions } from "./use-mix-actions";

/** All that one mix on the Bench has: its draft, its reading, what is pointed at, and what can be done. */
export function useBench(mix: Schemas["MixOut"]) {
  const { draft, typing, edit, sync, synced } = useMixDraft(mix);
  const kitchen = useKitchen();
  const [freezer, setFreezer] = useState(kitchen.used_freezer_c);
  const { data, error, waits } = useAnalysis(draft, freezer);
  const selection = useLineSelection(draft, data);
  const comparison = useRevisionComparison(mix.id, draft.basedOn);
  const [dialog, ask] = useState<OpenDialog>(null);
  const [notes, setNotes] = useState(false);
  const flush = useCallback(() => sync.flush(), [sync]);
  const { make, prepare, saveFile, errors } = useMixActions(mix, draft, data, flush);
  const settings = useKitchenSettings();

  const hands = { edit, ask, flush, setFreezer, make: make.mutate, prepare: prepare.mutate, saveFile: saveFile.mutate, keep: settings.mutate };
  const actions = useActions(mix, hands, selection, comparison.compareWith, sync, setNotes);
  const failed = [...errors, settings.error?.message, error?.message];
  const onBench: DraftOnBench = { draft, typing, synced, making: make.isPending, errors: failed };
  const analysis = data?.analysis ?? null;
  const read = useMemo((): ReadingOnBench => ({ reading: data, analysis, sure: !waits, freezer }), [data, analysis, waits, freezer]);
  return { actions, onBench, read, selection: selection.value, comparison: comparison.value, dialog, notes };
}

type Hands = Pick<BenchActions, "edit" | "ask" | "flush" | "setFreezer" | "make" | "prepare" | "saveFile"> & {
  keep: (changes: Schemas["KitchenSettings"]) => void;
};

/** The actions as one object that stays the same while what it is made of does. */
function useActions(
  mix: Schemas["MixOut"],
  hands: Hands,
  selection: Pick<BenchActions, "point" | "choose" | "letGo" | "setView">,
  compareWith: BenchActions["compareWith"],
  sync: { settle: BenchActions["settle"] },
  setNotes: (change: (shown: boolean) => boolean) => void,
): BenchActions {
  const { edit, ask, flush, setFreezer, make, prepare, saveFile, keep } = hands;
  const { point, choose, letGo, setView } = selection;
  return useMemo(
    () => ({
      mix,
      edit,
      ask,
      flush,
      setFreezer,
      point,
      choose,
      letGo,
      setView,
      compareWith,
      prepare,
      make: () => make(),
      saveFile: (prices) => saveFile(prices),
      keepFreezer: (celsius) => keep({ freezer_c: celsius }),
      settle: (version, theirs) => sync.settle(version, theirs),
      toggleNotes: () => setNotes((shown) => !shown),
    }),
    [mix, edit, ask, flush, setFreezer, point, choose, letGo, setView, compareWith, prepare, make, saveFile, keep, sync, setNotes],
  );
}

/** The draft of a mix with its undo, kept as it is edited. */
function useMixDraft(mix: Schemas["MixOut"]) {
  const { mass_unit: unit } = useKitchen();
  const [start] = useState(() => startOf(mix, unit));
  const [state, edit] = useReducer(edited, start.state);
  const draft = state.shown;
  const typing = state.typing !== null;
  const { state: synced, sync } = useDraftSync(mix.id, start, draft, typing, edit);
  useHistory(mix.id, state);

  const navigate = useNavigate();
  const prepared = (useLocation().state as FromPreparation | null)?.prepared;
  // Back from preparing a line: what was made takes its place, once.
  useEffect(() => {
    const key = prepared && start.state.present.lines[prepared.at]?.key;
    if (!prepared || !key) return;
    const left: Record<string, string> = {};
    start.state.present.lines.forEach((line, at) => {
      const typed = prepared.left[at] ?? null;
      if (typed !== null) left[line.key] = typed;
    });
    edit({ kind: "prepared", key, line: { ingredient: prepared.ingredient, typed: prepared.typed }, left });
    void navigate(".", { replace: true, state: null });
  }, [prepared, start, navigate]);
  return { draft, typing, edit, sync, synced };
}

function useLineSelection(draft: Draft, reading: DraftReading | undefined) {
  const [pointed, point] = useState<string | null>(null);
  const [kept, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [view, setView] = useView();
  const choose = useCallback((key: string) => {
    setChosen((before) => (before.has(key) ? new Set([...before].filter((other) => other !== key)) : new Set([...before, key])));
  }, []);
  const letGo = useCallback(() => setChosen(new Set()), []);
  const highlighted = useMemo(() => highlightOf(reading, pointed), [reading, pointed]);
  const chosen = useMemo(() => new Set(draft.lines.map((line) => line.key).filter((key) => kept.has(key))), [draft.lines, kept]);
  const value = useMemo((): Selection => ({ pointed, highlighted, chosen, view }), [pointed, highlighted, chosen, view]);
  return { value, point, choose, letGo, setView };
}

const NONE: Schemas["RevisionOut"][] = [];

function useRevisionComparison(mixId: number, basedOn: number | null) {
  const [compared, setCompared] = useState<ChartComparison>({ revision: null, comparison: false });
  const revisions = useQuery(revisionsQuery(mixId)).data ?? NONE;
  const ghost = useRevisionGhost(mixId, compared.revision);
  const compareWith = useCallback((change: Partial<ChartComparison>) => setCompared((before) => ({ ...before, ...change })), []);
  const based = revisions.find(({ number }) => number === basedOn);
  const value = useMemo((): Comparison => ({ revisions, based, compared, ghost }), [revisions, based, compared, ghost]);
  return { value, compareWith };
}
