import { useQuery } from "@tanstack/react-query";
import { lazy, type ReactNode, Suspense, useEffect } from "react";
import { useParams, useSearchParams } from "react-router";

import { Tub } from "../../charts/tub";
import type { Schemas } from "../../shared/api/client";
import { mixQuery } from "../../shared/api/queries";
import { useStableCallback } from "../../shared/use-stable-callback";
import { Waiting } from "../../ui/waiting";
import { BalanceContext, useBalance, useBalanceOf } from "./balance/use-balance";
import { ActionsContext, ComparisonContext, DraftContext, type OpenDialog, ReadingContext, SelectionContext, useBenchActions, useComparison, useDraft, useReading, useSelection } from "./bench-context";
import { ColdContext, useColdState } from "./cold/cold-context";
import { BenchDialogs } from "./dialogs";
import { DraftErrors } from "./draft/draft-errors";
import { useProposed } from "./draft/use-proposed";
import { FirstSteps } from "./first-steps";
import { FreezingPanel, NothingDrawn } from "./freezing/freezing-panel";
import { LinesPanel } from "./lines/lines-panel";
import { MixHead } from "./mix-head";
import { MixSheet } from "./mix-sheet";
import { NotesStrip } from "./notes-strip";
import { OutcomesPanel } from "./outcomes/outcomes-panel";
import { Air } from "./size/air";
import { useBench } from "./use-bench";
import { useBenchKeys } from "./use-bench-keys";
import { Verdict } from "./verdict";

const BalancePanel = lazy(() => import("./balance/balance-panel").then(({ BalancePanel }) => ({ default: BalancePanel })));

/** One mix on the Bench: the verdict, and the chain that leads there. */
export function Bench() {
  const mixId = Number(useParams().mixId);
  const mix = useQuery(mixQuery(mixId));
  return <Waiting query={mix}>{(loaded) => <LoadedBench key={`${mixId} ${loaded.version}`} mix={loaded} />}</Waiting>;
}

function LoadedBench({ mix }: { mix: Schemas["MixOut"] }) {
  const { actions, onBench, read, selection, comparison, dialog, notes } = useBench(mix);
  const cold = useColdState();
  return (
    <ActionsContext value={actions}>
      <DraftContext value={onBench}>
        <ReadingContext value={read}>
          <SelectionContext value={selection}>
            <ComparisonContext value={comparison}>
              <ColdContext value={cold}>
                <WithBalance mixId={mix.id}>
                  <Screen dialog={dialog} notes={notes} />
                </WithBalance>
              </ColdContext>
            </ComparisonContext>
          </SelectionContext>
        </ReadingContext>
      </DraftContext>
    </ActionsContext>
  );
}

/** Balance around what shows it: its proposal is drawn as outlines before a revision is. */
function WithBalance({ mixId, children }: { mixId: number; children: ReactNode }) {
  const { draft } = useDraft();
  const { freezer } = useReading();
  const comparison = useComparison();
  const balance = useBalanceOf(mixId, draft, freezer, useBenchActions().edit);
  useAskedFor(balance.askFor);
  const proposed = useProposed(draft, freezer, balance.open ? balance.proposal : null);
  return (
    <BalanceContext value={balance}>
      <ComparisonContext value={proposed ? { ...comparison, ghost: proposed } : comparison}>{children}</ComparisonContext>
    </BalanceContext>
  );
}

/** A tasting may lead here with what is to change: it is asked for once, and lies there as a ghost. */
function useAskedFor(askFor: (aim: Schemas["AimIn"]) => void) {
  const [search, setSearch] = useSearchParams();
  const aim = search.get("aim");
  const ask = useStableCallback(askFor);
  useEffect(() => {
    if (aim === null) return;
    const read = readAim(aim);
    if (read) ask(read);
    setSearch({}, { replace: true });
  }, [aim, ask, setSearch]);
}

function readAim(written: string): Schemas["AimIn"] | null {
  try {
    const read = JSON.parse(written) as Schemas["AimIn"] | null;
    return typeof read?.of === "string" ? read : null;
  } catch {
    return null;
  }
}

function Screen({ dialog, notes }: { dialog: OpenDialog; notes: boolean }) {
  const { typing } = useDraft();
  useBenchKeys();
  return (
    <>
      <div className={`${typing ? "typing " : ""}not-on-paper flex min-h-screen flex-col gap-2.5 pb-3 xl:h-screen xl:min-h-[44rem]`}>
        <MixHead />
        <div className="flex min-h-0 flex-1 flex-col gap-2.5 px-4">
          <DraftErrors />
          <FirstSteps />
          <Verdict />
          <div className="grid min-h-0 flex-1 gap-2.5 md:grid-cols-2 xl:grid-cols-[minmax(30rem,5fr)_3.1fr_3.5fr]">
            <div className="grid min-h-0 min-w-0 md:col-span-2 xl:col-span-1">
              <LinesPanel />
            </div>
            <TubPanel />
            <FreezingPanel />
          </div>
          <BelowDrawings />
        </div>
        {notes && <NotesStrip />}
        <BenchDialogs dialog={dialog} />
      </div>
      {dialog?.what !== "label" && <MixSheet />}
    </>
  );
}

function TubPanel() {
  const { analysis } = useReading();
  const { ghost } = useComparison();
  const { highlighted } = useSelection();
  const aim = useStableCallback(useBalance().aimAt);
  return (
    <section aria-labelledby="in-the-tub" className="panel flex min-h-96 flex-col p-3.5 xl:min-h-0">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h2 id="in-the-tub">In the tub</h2>
        <Air />
      </div>
      <div className="min-h-0 flex-1">
        {analysis ? <Tub analysis={analysis} aim={aim} {...(ghost ? { ghost } : {})} {...(highlighted ? { highlighted: highlighted.strata } : {})} /> : <NothingDrawn />}
      </div>
    </section>
  );
}

/** How it eats, or Balance in its place. */
function BelowDrawings() {
  const { analysis, reading } = useReading();
  const { open, show } = useBalance();
  if (!analysis || !reading) return null;
  if (!open) return <OutcomesPanel balance={show} />;
  return (
    <Suspense fallback={<section aria-busy className="panel xl:h-[19rem]" />}>
      <BalancePanel />
    </Suspense>
  );
}
