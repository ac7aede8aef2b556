import { X } from "lucide-react";
import { useEffect, useRef, useState } from "react";

import type { Schemas } from "../../../shared/api/client";
import { useVocabulary } from "../../../shared/api/vocabulary";
import { shown } from "../../../shared/format/numbers";
import { Button } from "../../../ui/button";
import { bodyOf, type Draft, type Edit } from "../draft/draft";
import type { DraftReading } from "../draft/use-analysis";
import { BandSlider } from "./band-slider";
import { JobForm } from "./job-form";
import { changes, ProposalView } from "./proposal";
import { firstTargets, rangeOf, type Target, valueOf } from "./target";
import { useBalance } from "./use-balance";

type Props = {
  analysis: Schemas["MixAnalysis"];
  draft: Draft;
  freezer: number;
  reading: DraftReading | undefined;
  me: Schemas["KitchenOut"];
  edit: (edit: Edit) => void;
  /** What is proposed and not decided yet, for the drawings to show beside the mix. */
  propose: (proposal: Schemas["Proposal"] | null) => void;
  close: () => void;
  /** A target asked for in the drawing; a new one is tried at once. */
  aimed: Target | null;
};

/** Balance, beside the mix: jobs in one press, targets as bands, and the proposal with what cannot be reached. */
export function BalancePanel(props: Props) {
  const { analysis, draft, me, edit, propose } = props;
  const { styles, jobs, aimable, strata } = useVocabulary();
  const bands = { ...styles.find(({ key }) => key === draft.style)?.bands, ...me.aims[draft.style ?? ""], ...draft.aims };
  const [targets, setTargets] = useState<Target[]>(() => firstTargets(bands));
  const [sure, setSure] = useState(false);
  const [job, setJob] = useState<Schemas["JobOut"] | null>(null);
  const [taken, setTaken] = useState<Set<number>>(new Set());
  const { style, overrun_pct, restrictions, aims, lines } = bodyOf(draft);
  const { ask, stop, seconds } = useBalance({ lines, style: style ?? null });
  const proposal = ask.data ?? null;
  const names = new Map([...aimable, ...strata.map((one) => ({ ...one, key: `stratum-${one.key}` }))].map((one) => [one.key, one]));

  // What was proposed for the mix as it was is no proposal for what it is now.
  const written = JSON.stringify([lines, style, overrun_pct]);
  const { reset } = ask;
  useEffect(() => reset(), [written, reset]);
  useEffect(() => {
    propose(proposal);
    setTaken(new Set(proposal?.lines.map((_, at) => at)));
    return () => propose(null);
  }, [proposal, propose]);

  function start(question: Partial<Schemas["BalanceQuestion"]>) {
    ask.mutate({ overrun_pct, restrictions, aims, freezer_c: props.freezer, max_new: 2, sure, ...question } as Schemas["BalanceQuestion"]);
  }

  // A share that was dragged in the tub joins the targets, in the place of an older one, and is tried by itself.
  const { aimed } = props;
  const startRef = useRef(start);
  startRef.current = start;
  useEffect(() => {
    if (!aimed) return;
    setTargets((before) => [...before.filter((target) => target.of !== aimed.of), aimed]);
    startRef.current({ targets: [{ ...aimed, weight: 1 }], alone: true });
  }, [aimed]);

  function accept() {
    if (!proposal) return;
    const kept = proposal.lines.filter((line, at) => taken.has(at) && changes(line));
    edit({
      kind: "accept",
      lines: kept.map((line) => ({
        key: line.line === null ? null : (draft.lines[line.line]?.key ?? null),
        ingredient: line.ingredient,
        grams: line.after_g,
        stage: line.stage,
      })),
    });
  }

  function change(at: number, target: Partial<Target>) {
    setTargets(targets.map((other, index) => (index === at ? { ...other, ...target } : other)));
  }

  return (
    <section aria-labelledby="balance" className="panel flex flex-col px-4 py-3 xl:h-[19rem] xl:shrink-0">
      <div className="flex items-baseline gap-3 pb-1">
        <h2 id="balance">Balance</h2>
        <span className="text-sm text-muted">Targets are reached with the least change. Pinned lines stay.</span>
        <button type="button" aria-label="Close Balance" onClick={props.close} className="ml-auto self-center rounded-button p-1 text-muted hover:bg-steel">
          <X size={16} aria-hidden />
        </button>
      </div>
      <div className="grid min-h-0 gap-x-6 gap-y-3 xl:grid-cols-[17rem_minmax(0,1fr)_minmax(0,1.1fr)]">
        <div className="grid min-h-0 content-start gap-1.5 overflow-y-auto">
          <h3>In one press</h3>
          <div className="flex flex-wrap gap-1.5">
            {jobs.map((one) => (
              <button
                key={one.key}
                type="button"
                aria-expanded={one.asks ? job?.key === one.key : undefined}
                disabled={ask.isPending}
                onClick={() => (one.asks ? setJob(job?.key === one.key ? null : one) : start({ job: one.key }))}
                className="min-h-7 rounded-button border border-line px-2 text-sm hover:border-muted disabled:opacity-50"
              >
                {one.name}
              </button>
            ))}
          </div>
          {job && <JobForm key={job.key} job={job} draft={draft} reading={props.reading} start={start} />}
        </div>
        <div className="grid min-h-0 content-start gap-1 overflow-y-auto px-1">
          <h3>Or to these targets</h3>
          <ul className="grid gap-1">
            {targets.map((target, at) => {
              const value = valueOf(target.of, analysis);
              const reached = proposal?.targets.find((one) => one.of === target.of);
              const name = names.get(target.of)?.name ?? target.of;
              return (
                <li key={target.of} className="grid grid-cols-[5.5rem_minmax(4rem,1fr)_8.5rem_1.5rem] items-center gap-x-3 text-sm">
                  <b>{name}</b>
                  <BandSlider
                    name={name}
                    range={rangeOf(target, value)}
                    min={target.min}
                    max={target.max}
                    before={value}
                    after={reached?.after ?? null}
                    onChange={(ends) => change(at, ends)}
                  />
                  <span className="text-muted">
                    {plain(target.min)} to {plain(target.max)}
                    {reached && (
                      <b className={reached.met ? "text-ink" : "text-hot"}>
                        {" "}
                        → {shown(reached.after, 1)}
                        {reached.chance !== null && ` (${shown(100 * reached.chance)} %)`}
                      </b>
                    )}
                  </span>
                  <button type="button" aria-label={`No target for ${name}`} onClick={() => setTargets(targets.filter((_, index) => index !== at))} className="rounded-button p-1 text-muted hover:bg-steel">
                    <X size={14} aria-hidden />
                  </button>
                </li>
              );
            })}
          </ul>
          <div className="flex flex-wrap items-center gap-2 pt-1">
            <AddTarget targets={targets} analysis={analysis} add={(target) => setTargets([...targets, target])} />
            <label className="flex items-center gap-1.5 text-sm">
              <input type="checkbox" checked={sure} onChange={(event) => setSure(event.target.checked)} />
              in nine of ten batches
            </label>
            <span className="ml-auto" />
            {ask.isPending ? (
              <>
                <span role="status" className="text-sm text-muted">
                  working{seconds > 0 ? `, ${seconds} s` : "…"}
                </span>
                <Button onClick={stop}>Stop</Button>
              </>
            ) : (
              <Button kind="dark" disabled={targets.length === 0} onClick={() => start({ targets: targets.map((target) => ({ ...target, weight: 1 })) })}>
                Balance
              </Button>
            )}
          </div>
        </div>
        <div className="min-h-0 overflow-y-auto border-line xl:border-l xl:pl-5">
          {ask.error && <p role="alert">{ask.error.message}</p>}
          {proposal ? (
            <ProposalView proposal={proposal} taken={taken} setTaken={setTaken} accept={accept} dismiss={reset} />
          ) : (
            !ask.error && <p className="text-sm text-muted">What is proposed stands here, and dashed in the drawings, until you take it or leave it.</p>
          )}
        </div>
      </div>
    </section>
  );
}

function AddTarget({ targets, analysis, add }: { targets: Target[]; analysis: Schemas["MixAnalysis"]; add: (target: Target) => void }) {
  const { aimable } = useVocabulary();
  const open = aimable.filter((one) => !targets.some((target) => target.of === one.key) && valueOf(one.key, analysis) !== null);
  if (open.length === 0) return null;
  return (
    <select
      aria-label="Add a target"
      value=""
      onChange={(event) => {
        const of = event.target.value;
        const value = valueOf(of, analysis) ?? 0;
        const room = Math.max(Math.abs(value) / 20, 0.5);
        add({ of, min: tenth(value - room), max: tenth(value + room) });
      }}
      className="min-h-7 rounded-button border border-line bg-panel px-2 text-sm"
    >
      <option value="">add a target…</option>
      {open.map((one) => (
        <option key={one.key} value={one.key}>
          {one.name}
        </option>
      ))}
    </select>
  );
}

function plain(value: number | null): string {
  return value === null ? "any" : shown(value, Number.isInteger(value) ? 0 : 1);
}

function tenth(value: number): number {
  return Math.round(value * 10) / 10;
}
