import { X } from "lucide-react";
import { useState } from "react";

import type { Schemas } from "../../../shared/api/client";
import { useVocabulary } from "../../../shared/api/vocabulary";
import { Button } from "../../../ui/button";
import { Checkbox } from "../../../ui/checkbox";
import { Progress } from "../../../ui/progress";
import { Select } from "../../../ui/select";
import { useReading } from "../bench-context";
import { JobForm } from "./job-form";
import { ProposalView } from "./proposal";
import { Rules } from "./rules";
import { type Target, valueOf } from "./target";
import { TargetRow } from "./target-row";
import { useBalance } from "./use-balance";

/** Balance, beside the mix: jobs in one press, targets as bands, and the proposal with what cannot be reached. */
export function BalancePanel() {
  const { close, error, proposal, working } = useBalance();
  return (
    <section aria-labelledby="balance" className="panel flex flex-col px-4 py-3 xl:h-[19rem] xl:shrink-0">
      <div className="flex items-baseline gap-3 pb-1">
        <h2 id="balance">Balance</h2>
        <span className="text-sm text-muted">Targets are reached with the least change, the rest is held. Pinned lines stay.</span>
        <button type="button" aria-label="Close Balance" onClick={close} className="ml-auto self-center rounded-button p-1 text-muted hover:bg-steel">
          <X size={16} aria-hidden />
        </button>
      </div>
      <div className="grid min-h-0 gap-x-6 gap-y-3 xl:grid-cols-[20rem_minmax(0,1.08fr)_minmax(0,1fr)]">
        <Jobs />
        <Targets />
        <div className="min-h-0 overflow-y-auto border-line xl:border-l xl:pl-5">
          {error && <p role="alert">{error.message}</p>}
          {proposal && <ProposalView />}
          {working && <WorkingView />}
          {!proposal && !error && !working && <p className="text-sm text-muted">What is proposed stands here, and dashed in the drawings, until you take it or leave it.</p>}
        </div>
      </div>
    </section>
  );
}

/** How far a long balance is, and what it would propose if it were stopped now. */
function WorkingView() {
  const { share, best, seconds, stop } = useBalance();
  return (
    <div className="grid gap-2">
      <p role="status" className="text-sm text-muted">
        Working{seconds > 0 ? `, ${seconds} s` : "…"}
      </p>
      {share !== null && <Progress label="Balance" share={share} />}
      {best && <p className="text-sm">So far: {best.message}</p>}
      {best && (
        <p>
          <Button onClick={stop}>Stop and look at that</Button>
        </p>
      )}
    </div>
  );
}

/** What cooks ask for, each in one press; some first ask about what. */
function Jobs() {
  const { jobs } = useVocabulary();
  const { start, working } = useBalance();
  const [job, setJob] = useState<Schemas["JobOut"] | null>(null);
  return (
    <div className="grid min-h-0 content-start gap-1.5 overflow-y-auto">
      <h3>In one press</h3>
      <div className="flex flex-wrap gap-1.5">
        {jobs.map((one) => (
          <button
            key={one.key}
            type="button"
            aria-expanded={one.asks ? job?.key === one.key : undefined}
            disabled={working}
            onClick={() => (one.asks ? setJob(job?.key === one.key ? null : one) : start({ job: one.key }))}
            className="min-h-7 rounded-button border border-line px-2 text-sm hover:border-muted disabled:opacity-50"
          >
            {one.name}
          </button>
        ))}
      </div>
      {job && <JobForm key={job.key} job={job} />}
    </div>
  );
}

function Targets() {
  const { targets, setTargets, sure, setSure, working, stop, start } = useBalance();
  return (
    <div className="grid min-h-0 content-start gap-1 overflow-y-auto px-1">
      <h3>Or to these targets</h3>
      <ul className="grid gap-1">
        {targets.map((target, at) => (
          <TargetRow
            key={target.of}
            target={target}
            change={(ends) => setTargets(targets.map((other, index) => (index === at ? { ...other, ...ends } : other)))}
            remove={() => setTargets(targets.filter((_, index) => index !== at))}
          />
        ))}
      </ul>
      <div className="flex flex-wrap items-center gap-2 pt-1">
        <AddTarget targets={targets} add={(target) => setTargets([...targets, target])} />
        <Checkbox checked={sure} onChange={setSure} className="text-sm">
          in nine of ten batches
        </Checkbox>
        <span className="ml-auto" />
        {working ? (
          <Button onClick={stop}>Stop</Button>
        ) : (
          <Button kind="dark" disabled={targets.length === 0} onClick={() => start({ targets: targets.map((target) => ({ ...target, weight: 1 })) })}>
            Balance
          </Button>
        )}
      </div>
      <Rules />
    </div>
  );
}

function AddTarget({ targets, add }: { targets: Target[]; add: (target: Target) => void }) {
  const { aimable } = useVocabulary();
  const { analysis } = useReading();
  if (!analysis) return null;
  const open = aimable.filter((one) => !targets.some((target) => target.of === one.key) && valueOf(one.key, analysis) !== null);
  if (open.length === 0) return null;

  function choose(of: string) {
    const value = (analysis && valueOf(of, analysis)) ?? 0;
    const room = Math.max(Math.abs(value) / 20, 0.5);
    add({ of, min: tenth(value - room), max: tenth(value + room) });
  }

  return (
    <div className="w-30">
      <Select
        label="Add a target"
        hideLabel
        value=""
        placeholder="add a target…"
        options={open}
        onChange={choose}
        className="min-h-7 w-full rounded-button border border-line bg-panel px-2 text-sm"
      />
    </div>
  );
}

function tenth(value: number): number {
  return Math.round(value * 10) / 10;
}
