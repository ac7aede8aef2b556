import { useCallback, useEffect, useMemo, useRef, useState } from "react";

import { answer, api, type Schemas } from "../../../shared/api/client";
import { useWork, type Work } from "../../../shared/api/jobs";
import { useKitchen } from "../../../shared/api/kitchen";
import { useVocabulary } from "../../../shared/api/vocabulary";
import { strictContext } from "../../../shared/strict-context";
import { bodyOf, type Draft, type Edit } from "../draft/draft";
import { changes } from "./changes";
import type { Rule } from "./rules";
import { firstTargets, type Target } from "./target";

type Question = Partial<Schemas["BalanceQuestion"]>;

/** Balance on the Bench: whether it is open, its targets, what it proposes, and which lines of that are taken. */
export type Balance = {
  open: boolean;
  show: () => void;
  close: () => void;
  targets: Target[];
  setTargets: (targets: Target[]) => void;
  rules: Rule[];
  setRules: (rules: Rule[]) => void;
  sure: boolean;
  setSure: (sure: boolean) => void;
  start: (question: Question) => void;
  /** Ask for another share of a stratum, as it was dragged to. */
  aimAt: (stratum: string, pct: number) => void;
  /** Ask for one thing, all else as it eats now. */
  askFor: (aim: Schemas["AimIn"]) => void;
  stop: () => void;
  dismiss: () => void;
  working: boolean;
  seconds: number;
  /** How much of a long one is done, 0 to 1; null where it is not known. */
  share: number | null;
  /** The best proposal of one that still works. */
  best: Schemas["Proposal"] | null;
  error: Error | null;
  proposal: Schemas["Proposal"] | null;
  /** Lines of the proposal that are taken, by their place in it. */
  taken: ReadonlySet<number>;
  setTaken: (taken: Set<number>) => void;
  accept: () => void;
};

export const [BalanceContext, useBalance] = strictContext<Balance>("Balance");

/** How far a share that was dragged to may be missed, in %: a gum not as far as sugar. */
function missable(pct: number): number {
  return Math.max(0.02, Math.min(0.2, pct / 50));
}

/** Balance for the draft of a mix at a freezer: what was proposed for the mix as it was is no proposal for what it is now. */
export function useBalanceOf(mixId: number, draft: Draft, freezer: number, edit: (edit: Edit) => void): Balance {
  const [open, setOpen] = useState(false);
  const [sure, setSure] = useState(false);
  const [taken, setTaken] = useState<Set<number>>(new Set());
  const [rules, setRules] = useState<Rule[]>([]);
  const { targets, setTargets } = useTargets(draft);
  const { style, overrun_pct, restrictions, aims, lines } = bodyOf(draft);
  const asked = useWork(useProposals(mixId), (found) => setTaken(new Set(found.lines.map((_, at) => at))));
  const { reset } = asked;
  const written = JSON.stringify([lines, style, overrun_pct]);
  const first = useFirstPress(written);
  useEffect(() => reset(), [written, reset]);

  function start(question: Question) {
    const like = question.job ? first.pressed({ lines, overrun_pct: overrun_pct ?? null }) : null;
    const whole = { lines, style, overrun_pct, restrictions, aims, freezer_c: freezer, max_new: 2, sure, like, ...rulesOf(rules, draft), ...question };
    asked.mutate(whole as Schemas["BalanceQuestion"]);
  }

  function askFor({ of, min = null, max = null, at_c = null }: Schemas["AimIn"]) {
    setOpen(true);
    setTargets([...targets.filter((other) => other.of !== of), { of, min, max, at_c }]);
    start({ targets: [{ of, min, max, at_c, weight: 1 }], alone: true });
  }

  function accept() {
    if (!asked.data) return;
    first.accepted();
    edit({ kind: "accept", lines: acceptedLines(asked.data, taken, draft) });
  }

  return {
    open,
    show: useCallback(() => setOpen(true), []),
    close: () => {
      setOpen(false);
      setTargets(null);
      reset();
    },
    targets,
    setTargets,
    rules,
    setRules,
    sure,
    setSure,
    start,
    aimAt: (stratum, pct) => askFor({ of: `stratum-${stratum}`, min: Math.max(0, pct - missable(pct)), max: pct + missable(pct), weight: 1 }),
    askFor,
    stop: asked.stop,
    dismiss: reset,
    working: asked.isPending,
    seconds: asked.seconds,
    share: asked.job?.share ?? null,
    best: asked.job?.best ?? null,
    error: asked.error,
    proposal: asked.data ?? null,
    taken,
    setTaken,
    accept,
  };
}

type Like = Schemas["LikeDraft"];

/** The mix that the first press of a job began with, as long as nothing but proposals has changed it since. */
function useFirstPress(written: string) {
  const known = useRef<{ like: Like; stands: string } | null>(null);
  const taking = useRef(false);
  useEffect(() => {
    if (taking.current && known.current) known.current.stands = written;
    taking.current = false;
  }, [written]);
  return {
    pressed(now: Like): Like {
      if (known.current?.stands !== written) known.current = { like: now, stands: written };
      return known.current.like;
    },
    accepted() {
      taking.current = true;
    },
  };
}

/** Rules by the places of their lines; one of a line that is gone is left out. */
function rulesOf(rules: Rule[], draft: Draft): Pick<Schemas["BalanceQuestion"], "shares" | "ratios"> {
  const places = new Map(draft.lines.map(({ key }, at) => [key, at]));
  const shares = [];
  const ratios = [];
  for (const rule of rules) {
    const found = (rule.kind === "share" ? rule.keys : [rule.key, rule.to]).map((key) => places.get(key));
    const lines = found.filter((at) => at !== undefined);
    if (lines.length < found.length) continue;
    if (rule.kind === "share") shares.push({ lines, min_pct: rule.min, max_pct: rule.max });
    else ratios.push({ line: lines[0]!, to: lines[1]! });
  }
  return { shares, ratios };
}

/** The targets: those that were set by hand, or else what is usual for the mix. */
function useTargets(draft: Draft) {
  const { styles } = useVocabulary();
  const kitchen = useKitchen();
  const [chosen, setTargets] = useState<Target[] | null>(null);
  const bands = { ...styles.find(({ key }) => key === draft.style)?.bands, ...kitchen.used_aims[draft.style ?? ""], ...draft.aims };
  return { targets: chosen ?? firstTargets(bands), setTargets };
}

/** How a proposal for a mix is asked for; a newer question about the mix takes the place of an older one. */
function useProposals(mixId: number): Work<Schemas["BalanceQuestion"], Schemas["Proposal"]> {
  return useMemo(
    () => ({
      ask: (question, signal) => answer(api.POST("/proposals", { params: { query: { mix: mixId } }, body: question, signal })),
      look: (id) => answer(api.GET("/proposals/{job_id}", { params: { path: { job_id: id } } })),
      stop: (id) => answer(api.DELETE("/proposals/{job_id}", { params: { path: { job_id: id } } })),
    }),
    [mixId],
  );
}

function acceptedLines(proposal: Schemas["Proposal"], taken: ReadonlySet<number>, draft: Draft) {
  return proposal.lines
    .filter((line, at) => taken.has(at) && changes(line))
    .map((line) => ({
      key: line.line === null ? null : (draft.lines[line.line]?.key ?? null),
      ingredient: line.ingredient,
      grams: line.after_g,
      stage: line.stage,
    }));
}
