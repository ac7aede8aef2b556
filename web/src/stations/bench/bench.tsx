import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useReducer, useState } from "react";
import { useLocation, useNavigate, useParams } from "react-router";

import { answer, api, type Schemas } from "../../api/client";
import { meQuery, mixQuery } from "../../api/queries";
import { Tub } from "../../charts/tub";
import { shown } from "../../ui/numbers";
import { Waiting } from "../../ui/waiting";
import type { FromPreparation, PrepareLine } from "../shelf/preparing";
import { type Draft, draftOf, type Edit, edited, overrunError } from "./draft";
import { GoesIn } from "./goes-in";
import { type Behind, GoingCold, NothingDrawn } from "./going-cold";
import { HowItEats } from "./how-it-eats";
import { KeysHelp } from "./keys-help";
import { litOf } from "./lit";
import { MixHead } from "./mix-head";
import { BalancePanel } from "./balance/balance-panel";
import { Trouble } from "./trouble";
import { sameAs, unsentOf } from "./unsent";
import { type DraftReading, useAnalysis } from "./use-analysis";
import { useBehind } from "./use-behind";
import { useProposed } from "./use-proposed";
import { useKeeping } from "./use-keeping";

/** One mix on the Bench: the verdict, and the chain that leads there. */
export function Bench({ me }: { me: Schemas["Me"] }) {
  const mixId = Number(useParams().mixId);
  const mix = useQuery(mixQuery(mixId));
  return <Waiting query={mix}>{(loaded) => <LoadedBench key={`${mixId} ${loaded.version}`} me={me} mix={loaded} />}</Waiting>;
}

function LoadedBench({ me, mix }: { me: Schemas["Me"]; mix: Schemas["MixOut"] }) {
  const [{ loaded, start }] = useState(() => startOf(mix));
  const [state, edit] = useReducer(edited, { present: start, past: [], future: [], touched: null });
  const draft = state.present;
  const [freezer, setFreezer] = useState(me.freezer_c);
  const reading = useAnalysis(draft, freezer);
  const { keeping, flush } = useKeeping(mix, draft, loaded);
  const navigate = useNavigate();
  const client = useQueryClient();
  const [keysShown, setKeysShown] = useState(false);
  const [pointed, setPointed] = useState<string | null>(null);
  const [behind, setBehind] = useState<Behind>({ revision: false, comparison: false });
  const [balancing, setBalancing] = useState(false);
  const [proposal, setProposal] = useState<Schemas["Proposal"] | null>(null);
  const { last, ghost: before } = useBehind(mix.id, behind.revision);
  const proposed = useProposed(draft, freezer, proposal);
  const ghost = proposed ?? before;
  const prepared = (useLocation().state as FromPreparation | null)?.prepared;

  // Back from preparing a line: what was made takes its place, once.
  useEffect(() => {
    const key = prepared && start.lines[prepared.at]?.key;
    if (!prepared || !key) return;
    edit({ kind: "swap", key, lines: [{ ingredient: prepared.ingredient, typed: prepared.typed }] });
    void navigate(".", { replace: true, state: null });
  }, [prepared, start, navigate]);

  async function prepare(at: number) {
    const line = draft.lines[at];
    if (!line) return;
    await flush();
    const state: PrepareLine = {
      start: { slug: line.ingredient, name: reading.data?.lines[line.key]?.name ?? line.ingredient, typed: line.typed },
      back: { mixId: mix.id, at },
    };
    await navigate("/shelf/preparations", { state });
  }

  const make = useMutation({
    mutationFn: async () => {
      await flush();
      return answer(api.POST("/api/mixes/{mix_id}/batches", { params: { path: { mix_id: mix.id } } }));
    },
    onSuccess: (batch) => navigate(`/batches/${batch.id}`),
  });
  const setOurFreezer = useMutation({
    mutationFn: () => answer(api.PATCH("/api/kitchen", { body: { freezer_c: freezer } })),
    onSuccess: (now) => client.setQueryData(meQuery.queryKey, now),
  });
  const forgetFailure = make.reset;
  useEffect(() => forgetFailure(), [draft, forgetFailure]);

  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLElement && event.target.closest("input, textarea, select");
      const action = shortcut(event, Boolean(typing));
      if (!action) return;
      event.preventDefault();
      if (action === "find") document.getElementById("add-line")?.focus();
      else if (action === "keys") setKeysShown(true);
      else if (action === "make") make.mutate();
      else if (action === "balance") setBalancing(true);
      else if (action === "pin") pin(event);
      else edit({ kind: action });
    };
    const pin = (event: KeyboardEvent) => {
      const key = (event.target instanceof HTMLElement && event.target.dataset.amount) || pointed;
      if (key) edit({ kind: "pin", key });
    };
    window.addEventListener("keydown", keys);
    return () => window.removeEventListener("keydown", keys);
  }, [make, pointed]);

  const analysis = reading.data?.analysis ?? null;
  const lit = litOf(reading.data, pointed);
  return (
    <div className="flex min-h-screen flex-col gap-2.5 pb-3 xl:h-screen xl:min-h-[44rem]">
      <MixHead
        mixId={mix.id}
        draft={draft}
        edit={edit}
        keeping={keeping}
        make={() => make.mutate()}
        making={make.isPending}
        flush={flush}
        askKeys={() => setKeysShown(true)}
        kitchenRestrictions={me.restrictions}
        mix={mix}
      />
      <div className="flex min-h-0 flex-1 flex-col gap-2.5 px-4">
        <Trouble mixId={mix.id} draft={draft} keeping={keeping} others={[make.error?.message, setOurFreezer.error?.message, reading.error?.message]} />
        <Verdict reading={reading.data} draft={draft} edit={edit} currency={me.currency} />
        <div className="grid min-h-0 flex-1 gap-2.5 md:grid-cols-2 xl:grid-cols-[minmax(30rem,5fr)_3.1fr_3.5fr]">
          <div className="grid min-h-0 min-w-0 md:col-span-2 xl:col-span-1">
            <GoesIn
              draft={draft}
              reading={reading.data}
              edit={edit}
              prepare={(at) => void prepare(at)}
              freezer={freezer}
              pointed={pointed}
              point={setPointed}
              lit={lit}
              proposal={proposal}
            />
          </div>
          <section aria-labelledby="in-the-tub" className="panel flex min-h-96 flex-col p-3.5 xl:min-h-0">
            <div className="flex items-baseline gap-3">
              <h2 id="in-the-tub">In the tub</h2>
              {lit && (
                <span className="ml-auto truncate text-sm text-muted">
                  {lit.name}: {shown(lit.shares.mass ?? 0, 1)} %
                </span>
              )}
            </div>
            <div className="min-h-0 flex-1">
              {analysis ? <Tub analysis={analysis} {...(ghost ? { ghost } : {})} {...(lit ? { lit: lit.strata } : {})} /> : <NothingDrawn />}
            </div>
          </section>
          <GoingCold
            analysis={analysis}
            draft={draft}
            freezer={freezer}
            ours={me.freezer_c}
            setFreezer={setFreezer}
            keepFreezer={() => setOurFreezer.mutate()}
            last={last}
            ghost={ghost}
            behind={behind}
            setBehind={setBehind}
            lit={lit}
          />
        </div>
        {analysis && balancing && (
          <BalancePanel
            analysis={analysis}
            draft={draft}
            freezer={freezer}
            reading={reading.data}
            me={me}
            edit={edit}
            propose={setProposal}
            close={() => setBalancing(false)}
          />
        )}
        {analysis && !balancing && (
          <HowItEats
            analysis={analysis}
            draft={draft}
            freezer={freezer}
            reading={reading.data}
            edit={edit}
            me={me}
            lit={lit}
            balance={() => setBalancing(true)}
          />
        )}
      </div>
      <KeysHelp open={keysShown} onClose={() => setKeysShown(false)} />
    </div>
  );
}

/** Begin with what the server holds, or with edits of this browser that it has not confirmed yet. */
function startOf(mix: Schemas["MixOut"]): { loaded: Draft; start: Draft } {
  const loaded = draftOf(mix);
  const unsent = unsentOf(mix.id);
  return { loaded, start: unsent && !sameAs(mix, unsent.draft) ? unsent.draft : loaded };
}

type Action = "find" | "keys" | "make" | "balance" | "pin" | "undo" | "redo";

function shortcut(event: KeyboardEvent, typing: boolean): Action | null {
  if (event.target instanceof HTMLElement && event.target.closest("[role=dialog], [role=menu]")) return null;
  if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z") return event.shiftKey ? "redo" : "undo";
  if (event.altKey && event.code === "KeyP") return "pin";
  if (typing || event.ctrlKey || event.metaKey || event.altKey) return null;
  const actions: Record<string, Action> = { "/": "find", "?": "keys", m: "make", b: "balance", p: "pin" };
  return actions[event.key.toLowerCase()] ?? null;
}

/** Firmness where the mix is kept and served, beside the freezer that the verdict speaks of. */
function placesSentence(places: Schemas["PlaceOut"][]): string {
  const said = places
    .filter((place) => place.key !== "freezer")
    .map((place) => `${place.key === "cabinet" ? "in the cabinet" : "served"} at ${shown(place.t_c, Number.isInteger(place.t_c) ? 0 : 1)} °C ${place.word}`);
  return `${said.join(", ").replace(/^./, (first) => first.toUpperCase())}.`;
}

function allergenSentence(reading: DraftReading): string {
  const has = reading.allergens.length > 0 ? `Has ${reading.allergens.join(", ")}.` : "";
  const open = reading.allergensNotStated.length > 0 ? `Other allergens are not stated for ${reading.allergensNotStated.join(", ")}.` : "";
  const closed = reading.undisclosed.length > 0 ? `What is in ${reading.undisclosed.join(", ")} is not disclosed: its figures are uncertain.` : "";
  return [has, open, closed].filter(Boolean).join(" ");
}

function costSentence(cost: Schemas["Cost"], currency: string): string {
  if (cost.per_litre === null) return "";
  const litre = `${shown(cost.per_litre, 2)} ${currency} a litre`;
  if (cost.unpriced.length === 0) return litre;
  return `at least ${litre}: ${cost.unpriced.length} ${cost.unpriced.length === 1 ? "line has" : "lines have"} no price`;
}

function Verdict(props: { reading: DraftReading | undefined; draft: Draft; edit: (edit: Edit) => void; currency: string }) {
  const { reading, draft, edit } = props;
  const analysis = reading?.analysis ?? null;
  const error = overrunError(draft);
  return (
    <section aria-label="Verdict" className="panel flex flex-wrap items-center gap-x-6 gap-y-2 px-4 py-3">
      <div className="min-w-0 flex-1 basis-80">
        <p aria-live="polite" className="font-name text-xl font-bold tracking-tight" data-verdict>
          {analysis?.verdict ?? "Nothing in it yet."}
        </p>
        {analysis && <p className="text-sm text-muted">{placesSentence(analysis.places)}</p>}
        {reading && <p className="text-sm text-muted">{allergenSentence(reading)}</p>}
        {analysis?.cautions.map((caution) => (
          <p key={caution} className="text-sm text-muted">
            {caution}
          </p>
        ))}
      </div>
      <div className="grid justify-items-end gap-0.5">
        <label className="flex items-baseline gap-1.5">
          Air
          <input
            value={draft.overrun}
            inputMode="decimal"
            maxLength={8}
            placeholder="30"
            aria-invalid={error ? true : undefined}
            aria-describedby="overrun-said"
            onChange={(event) => edit({ kind: "overrun", overrun: event.target.value })}
            className="w-14 rounded-button border border-line bg-panel px-2 py-0.5 text-right"
          />
          % overrun
        </label>
        <p id="overrun-said" className={`text-sm ${error ? "text-hot" : "text-muted"}`}>
          {error ??
            (analysis
              ? `${shown(analysis.volume_l / (1 + analysis.overrun_pct / 100), 2)} L of mix gives ${shown(reading?.product?.volume_l ?? analysis.volume_l, 2)} L`
              : "how much the air adds to the volume")}
        </p>
        {reading?.cost && (
          <p className="text-sm text-muted" title={reading.cost.unpriced.join(", ")}>
            {costSentence(reading.cost, props.currency)}
          </p>
        )}
      </div>
    </section>
  );
}
