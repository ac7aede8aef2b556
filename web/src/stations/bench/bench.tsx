import { useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useReducer, useState } from "react";
import { useLocation, useNavigate, useParams } from "react-router";

import { Tub } from "../../charts/tub";
import { type Schemas } from "../../shared/api/client";
import { useKitchen } from "../../shared/api/kitchen";
import { lastBatchQuery, mixQuery } from "../../shared/api/queries";
import { useKitchenSettings } from "../../shared/api/use-kitchen-settings";
import { Waiting } from "../../ui/waiting";
import type { FromPreparation } from "../shelf/preparation/preparing";
import { BalancePanel } from "./balance/balance-panel";
import type { Target } from "./balance/target";
import { type OpenDialog, BenchDialogs } from "./dialogs";
import { type Draft, edited } from "./draft/draft";
import { DraftErrors } from "./draft/draft-errors";
import { highlightOf } from "./draft/highlighted";
import { startOf } from "./draft/unsent";
import { useAnalysis } from "./draft/use-analysis";
import { useDraftSync } from "./draft/use-draft-sync";
import { useHistory } from "./draft/use-history";
import { useProposed } from "./draft/use-proposed";
import { FirstSteps } from "./first-steps";
import { type ChartComparison, FreezingPanel, NothingDrawn } from "./freezing/freezing-panel";
import { LinesPanel } from "./lines/lines-panel";
import { useView } from "./lines/view";
import { MixHead } from "./mix-head";
import { MixSheet } from "./mix-sheet";
import { NotesStrip } from "./notes-strip";
import { OutcomesPanel } from "./outcomes/outcomes-panel";
import { useComparedRevision } from "./revisions/use-compared-revision";
import { Air } from "./size/air";
import { useBenchKeys } from "./use-bench-keys";
import { useMixActions } from "./use-mix-actions";
import { Verdict } from "./verdict";

/** How far a share that was dragged to may be missed, in %: a gum not as far as sugar. */
function missable(pct: number): number {
  return Math.max(0.02, Math.min(0.2, pct / 50));
}

/** One mix on the Bench: the verdict, and the chain that leads there. */
export function Bench() {
  const me = useKitchen();
  const mixId = Number(useParams().mixId);
  const mix = useQuery(mixQuery(mixId));
  return <Waiting query={mix}>{(loaded) => <LoadedBench key={`${mixId} ${loaded.version}`} me={me} mix={loaded} />}</Waiting>;
}

function LoadedBench({ me, mix }: { me: Schemas["KitchenOut"]; mix: Schemas["MixOut"] }) {
  const [start] = useState(() => startOf(mix));
  const [state, edit] = useReducer(edited, start.state);
  const draft = state.shown;
  const [freezer, setFreezer] = useState(me.freezer_c);
  const reading = useAnalysis(draft, freezer);
  const { state: synced, sync } = useDraftSync(mix.id, start, draft, state.typing !== null, edit);
  const flush = useCallback(() => sync.flush(), [sync]);
  const settle = useCallback((version: number, theirs: Draft | null) => sync.settle(version, theirs), [sync]);
  const navigate = useNavigate();
  const [openDialog, ask] = useState<OpenDialog>(null);
  const [notes, setNotes] = useState(false);
  const [pointed, setPointed] = useState<string | null>(null);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [view, setView] = useView();
  const [compared, setCompared] = useState<ChartComparison>({ revision: null, comparison: false });
  const [balancing, setBalancing] = useState(false);
  const [aimed, setAimed] = useState<Target | null>(null);
  const [proposal, setProposal] = useState<Schemas["Proposal"] | null>(null);
  const { revisions, ghost: before } = useComparedRevision(mix.id, compared.revision);
  const proposed = useProposed(draft, freezer, proposal);
  const lastBatch = useQuery(lastBatchQuery(mix.id, draft.machine));
  const ghost = proposed ?? before;
  const prepared = (useLocation().state as FromPreparation | null)?.prepared;

  // Back from preparing a line: what was made takes its place, once.
  useEffect(() => {
    const key = prepared && start.state.present.lines[prepared.at]?.key;
    if (!prepared || !key) return;
    edit({ kind: "swap", key, lines: [{ ingredient: prepared.ingredient, typed: prepared.typed }] });
    void navigate(".", { replace: true, state: null });
  }, [prepared, start, navigate]);

  useHistory(mix.id, state);

  const { make, prepare, saveFile, errors } = useMixActions(mix, draft, reading.data, flush);
  const settings = useKitchenSettings();
  const setSettings = settings.mutate;
  const keepFreezer = useCallback((celsius: number) => setSettings({ freezer_c: celsius }), [setSettings]);

  const choose = useCallback((key: string) => {
    setChosen((before) => (before.has(key) ? new Set([...before].filter((other) => other !== key)) : new Set([...before, key])));
  }, []);
  const askOfLine = useCallback((what: "look" | "replace", key: string) => ask({ what, key }), []);
  const aimAt = useCallback((stratum: string, pct: number) => {
    setBalancing(true);
    setAimed({ of: `stratum-${stratum}`, min: Math.max(0, pct - missable(pct)), max: pct + missable(pct) });
  }, []);

  const balance = useCallback(() => setBalancing(true), []);
  const scale = useCallback(() => ask({ what: "scale" }), []);

  useBenchKeys({
    pointed,
    view,
    setView,
    edit,
    ask,
    choose,
    make: () => make.mutate(),
    balance,
    notes: () => setNotes(!notes),
  });

  const read = reading.data;
  const analysis = read?.analysis ?? null;
  const highlighted = useMemo(() => highlightOf(read, pointed), [read, pointed]);
  const held = new Set(draft.lines.map((line) => line.key));
  const chosenHere = new Set([...chosen].filter((key) => held.has(key)));
  return (
    <>
      <div className={`${state.typing ? "typing " : ""}not-on-paper flex min-h-screen flex-col gap-2.5 pb-3 xl:h-screen xl:min-h-[44rem]`}>
        <MixHead
          mix={mix}
          draft={draft}
          edit={edit}
          sync={synced}
          make={() => make.mutate()}
          making={make.isPending}
          saveFile={() => saveFile.mutate()}
          ask={ask}
          notes={() => setNotes(!notes)}
          kitchenRestrictions={me.restrictions}
          based={revisions.find(({ number }) => number === draft.basedOn)}
        />
        <div className="flex min-h-0 flex-1 flex-col gap-2.5 px-4">
          <DraftErrors
            mixId={mix.id}
            draft={draft}
            sync={synced}
            settle={settle}
            edit={edit}
            others={[...errors, settings.error?.message, reading.error?.message]}
          />
          <FirstSteps draft={draft} revisions={revisions.length} balance={balance} keep={() => ask({ what: "revisions" })} />
          <Verdict reading={read} machine={draft.machine} edit={edit} currency={me.currency} lastBatch={lastBatch.data ?? null} scale={scale} />
          <div className="grid min-h-0 flex-1 gap-2.5 md:grid-cols-2 xl:grid-cols-[minmax(30rem,5fr)_3.1fr_3.5fr]">
            <div className="grid min-h-0 min-w-0 md:col-span-2 xl:col-span-1">
              <LinesPanel
                draft={draft}
                reading={read}
                edit={edit}
                freezer={freezer}
                step={me.scale_g}
                pointed={pointed}
                point={setPointed}
                highlighted={highlighted}
                proposal={proposal}
                view={view}
                setView={setView}
                chosen={chosenHere}
                choose={choose}
                letGo={() => setChosen(new Set())}
                ask={askOfLine}
                table={() => ask({ what: "table" })}
              />
            </div>
            <section aria-labelledby="in-the-tub" className="panel flex min-h-96 flex-col p-3.5 xl:min-h-0">
              <div className="flex flex-wrap items-baseline gap-x-3">
                <h2 id="in-the-tub">In the tub</h2>
                <Air draft={draft} edit={edit} />
              </div>
              <div className="min-h-0 flex-1">
                {analysis ? <Tub analysis={analysis} aim={aimAt} {...(ghost ? { ghost } : {})} {...(highlighted ? { highlighted: highlighted.strata } : {})} /> : <NothingDrawn />}
              </div>
            </section>
            <FreezingPanel
              analysis={analysis}
              read={read?.of ?? draft}
              freezer={freezer}
              ours={me.freezer_c}
              setFreezer={setFreezer}
              keepFreezer={keepFreezer}
              revisions={revisions}
              ghost={ghost}
              compared={compared}
              setCompared={setCompared}
              highlighted={highlighted}
            />
          </div>
          {analysis && balancing && (
            <BalancePanel
              analysis={analysis}
              draft={draft}
              freezer={freezer}
              reading={read}
              me={me}
              edit={edit}
              propose={setProposal}
              aimed={aimed}
              close={() => {
                setBalancing(false);
                setAimed(null);
              }}
            />
          )}
          {read && analysis && !balancing && (
            <OutcomesPanel
              analysis={analysis}
              reading={read}
              sure={!reading.waits}
              freezer={freezer}
              edit={edit}
              me={me}
              highlighted={highlighted}
              balance={balance}
            />
          )}
        </div>
        {notes && <NotesStrip mixId={mix.id} draft={draft} reading={read} close={() => setNotes(false)} />}
        <BenchDialogs
          openDialog={openDialog}
          close={() => ask(null)}
          mix={mix}
          draft={draft}
          reading={read}
          me={me}
          edit={edit}
          flush={flush}
          prepare={(at) => prepare.mutate(at)}
          compared={compared.revision}
          compareWith={(revision) => setCompared({ ...compared, revision })}
        />
      </div>
      <MixSheet mix={mix} draft={draft} reading={read} kitchen={me.name} based={revisions.find(({ number }) => number === draft.basedOn)} />
    </>
  );
}
