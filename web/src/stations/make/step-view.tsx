import { useState } from "react";

import { unbroken } from "../../shared/format/numbers";
import { useUnits } from "../../shared/format/units";
import { actionOf } from "./actions";
import { BigButton } from "./big-button";
import { NotLikeThis } from "./not-like-this";
import { isDone, missingLines, nextStep, type State, type Step } from "./replay";
import { Readings } from "./readings";
import { StepWords } from "./step-words";
import { RescueDialog } from "./rescue";
import { StandIns } from "./stand-ins";
import { countdown, useServerNow } from "./clock";
import { useWork } from "./use-making";
import { waitCutShort } from "./waits";
import { useAccepting, useAcceptItself, useScale, weightOn } from "./use-scale";
import { firstTemperature, noted, type Probed, useProbe, WatchView } from "./watch";
import { isAbsurdFor, useWeighed, WeighStep } from "./weigh-step";

/** One step: what now, the figure that matters huge, and one big thing to press. */
export function StepView() {
  const { step, state, weighedLast, making } = useWork();
  if (!step) return <AllDone />;
  const told = weighedLast === null || !step.weighing || weighedLast === step.weighing.line ? "" : (state.lines[weighedLast]?.said ?? "");
  const noted = state.steps[step.id];
  return (
    <section aria-label="What now" className="grid content-start gap-4">
      <div>
        {told && (
          <p className="text-lg" role="status">
            <b>{making.line_names[weighedLast ?? 0]}:</b> {unbroken(told)}
          </p>
        )}
        <p className="text-lg text-muted">{over(step)}</p>
        <h1 className="text-4xl leading-tight lg:text-5xl">{unbroken(step.title)}</h1>
        {noted?.skipped && <p className="font-semibold">Left out: {noted.skipped}</p>}
        {noted && noted.also.length > 0 && <p className="font-semibold">Also noted: {noted.also.join("; ")}</p>}
      </div>
      <StepBody key={step.id} step={step} />
    </section>
  );
}

function over(step: Step): string {
  const planned = step.planned_from ? `planned ${step.planned_from.slice(11, 16).replace(/^0/, "")}` : "";
  return [step.weighing ? `Weigh into ${step.weighing.bowl}` : "", planned].filter(Boolean).join(" · ");
}

function StepBody({ step }: { step: Step }) {
  const { press, choose, goOn, state, making, clock } = useWork();
  const [sure, setSure] = useState(false);
  const now = useServerNow(clock);
  const cutShort = waitCutShort(step, making.steps, state, now);
  const weighed = useWeighed(step);
  const scale = useScale(step);
  const probed = useProbe(step);
  const [accepting, setAccepting] = useAccepting();
  const units = useUnits();
  const later = new Set(making.steps.filter((one) => /^(churn|pack)\./.test(one.id)).flatMap((one) => one.lines));
  const missing = /^(churn|shake|load)\b/.test(step.kind) ? missingLines(making.steps, state, later) : [];
  const action = actionOf(step, state);
  const net = scale === null ? null : weightOn(scale);
  const onScale = net === null ? "" : units.typedMass(net, 2);
  const isLittle = weighed.typed.trim() === "" && step.weighing !== null && net !== null && net < step.weighing.low_g / 2;
  const isAbsurd = weighed.isAbsurd || (weighed.typed.trim() === "" && step.weighing !== null && net !== null && isAbsurdFor(step.weighing.target_g, net));
  useAcceptItself(step, weighed.typed.trim() === "" && !isDone(step, state) ? scale : null, accepting, confirm);

  function confirm() {
    const asks = cutShort !== null || (step.weighing !== null && (isAbsurd || isLittle));
    if (asks && !sure) {
      setSure(true);
      return;
    }
    setSure(false);
    if (!step.weighing) {
      press(...probedReading(step, state, probed, action.staysHere), ...action.said);
      if (action.staysHere) choose(step.id);
      else goOn(step);
      return;
    }
    const { line } = step.weighing;
    const typed = weighed.typed.trim() || onScale;
    const grams = weighed.typed.trim() ? weighed.grams : net;
    const number = grams === null ? {} : { number: grams };
    press(...(typed ? [{ kind: "weighed" as const, line, text: typed, sure, ...number }] : []), { kind: "ticked", line });
    goOn(step);
  }

  return (
    <>
      <Missing lines={missing} />
      {step.weighing && <WeighStep step={step} weighed={weighed} scale={scale} accepting={accepting} setAccepting={setAccepting} confirm={confirm} />}
      {probed && <WatchView step={step} probed={probed} />}
      {step.readings.length > 0 && <Readings step={step} />}
      <Credit step={step} watched={probed?.watched ?? null} />
      <Gap step={step} />
      <Choice step={step} />
      <StepWords step={step} />
      {sure && isAbsurd && (
        <p role="alert" className="text-lg font-semibold text-hot">
          That is more than three times the {units.mass(step.weighing?.target_g ?? 0)} that are planned. Press once more if it is so.
        </p>
      )}
      {sure && isLittle && (
        <p role="alert" className="text-lg font-semibold text-hot">
          The scale shows {units.mass(net ?? 0)} of it. Type what it weighs if it lies on another scale; press once more if that is all that went in.
        </p>
      )}
      {sure && cutShort && (
        <p role="alert" className="text-lg font-semibold text-hot">
          {cutShort.step.title}: {countdown(cutShort.ms)} left. Press again to go on anyway.
        </p>
      )}
      <Buttons step={step} label={step.weighing ? "It is in" : action.label} onPress={confirm} disabled={missing.length > 0} />
      <StandIns step={step} scale={scale} />
    </>
  );
}

/**
 * What the probe shows as a run is taken out, where nobody has noted it yet. Whatever safety goes by is noted by a press of
 * its own: nobody but the cook knows whether the probe is in the food.
 */
function probedReading(step: Step, state: State, probed: Probed | null, begins: boolean) {
  const reading = step.kind === "churn" ? firstTemperature(step) : null;
  const known = reading && (state.steps[step.id]?.readings[reading.key] ?? null) !== null;
  return begins || !reading || known || !probed?.shown || probed.shown.gone ? [] : [noted(step, reading, probed.shown)];
}

function Buttons({ step, label, onPress, disabled }: { step: Step; label: string; onPress: () => void; disabled: boolean }) {
  const { undo, state, making, goOn } = useWork();
  const [otherwise, setOtherwise] = useState(false);
  const [wrong, setWrong] = useState(false);
  const done = isDone(step, state);
  const after = nextStep(making.steps, state, step.id);
  return (
    <div className="sticky bottom-0 grid gap-2 bg-steel py-3">
      <div className="grid grid-cols-[2fr_1.2fr_1.2fr_0.8fr] gap-3 max-sm:grid-cols-3">
        <BigButton kind="hot" onClick={done ? () => goOn(step) : onPress} disabled={disabled} className="max-sm:col-span-3">
          {done ? "Done: go on" : label}
        </BigButton>
        <BigButton onClick={() => setOtherwise(true)}>Not like this…</BigButton>
        <BigButton onClick={() => setWrong(true)}>{step.part === "churn" ? "It does not set…" : "It goes wrong…"}</BigButton>
        <BigButton onClick={undo ?? undefined} disabled={!undo}>
          Undo
        </BigButton>
      </div>
      {after && (
        <p className="text-lg text-muted">
          <b className="text-ink">Then:</b> {unbroken(after.title)}
        </p>
      )}
      <NotLikeThis step={step} open={otherwise} onClose={() => setOtherwise(false)} />
      <RescueDialog step={step} open={wrong} onClose={() => setWrong(false)} />
    </div>
  );
}

/** A line that is not in blocks the churn: what is forgotten now is missing in every scoop. */
function Missing({ lines }: { lines: number[] }) {
  const { making, choose } = useWork();
  if (lines.length === 0) return null;
  return (
    <div role="alert" className="grid gap-2 border-l-4 border-hot pl-3 text-lg">
      <p className="font-semibold">Not in yet. Weigh it now, or say that it is left out, before it is churned:</p>
      <div className="flex flex-wrap gap-2">
        {lines.map((line) => (
          <BigButton key={line} onClick={() => choose(making.steps.find((step) => step.weighing?.line === line)?.id ?? null)}>
            {making.line_names[line]}
          </BigButton>
        ))}
      </div>
    </div>
  );
}

/** What the readings in the pot are worth, where heat makes it safe. */
function Credit({ step, watched }: { step: Step; watched: Probed["watched"] }) {
  const { state } = useWork();
  const units = useUnits();
  const credit = Math.max(state.credit ?? -1, watched?.credit ?? -1);
  if (step.critical !== "heated" || credit < 0) return null;
  return (
    <p className="text-lg">
      Pasteurised to {units.number(Math.min(100 * credit, 999))} %, counted {watched ? "along what the probe logs" : "straight between the readings"}. <span className="text-muted">Guidance, not proof.</span>
    </p>
  );
}

const CAUSES: Record<string, string> = { water: "Boiled off, left so", sieve: "In the sieve", spill: "Spilt" };

/** What is missing of the base, and where it went: one press. */
function Gap({ step }: { step: Step }) {
  const { state, press } = useWork();
  const units = useUnits();
  const gap = state.gap;
  if (step.id !== "base-weight" || !gap) return null;
  const causes = Object.entries(gap.said);
  return (
    <div className="grid gap-2 text-lg" aria-live="polite">
      {causes.map(([cause, said]) => (
        <p key={cause}>{unbroken(said)}</p>
      ))}
      {causes.length > 1 && (
        <div className="flex flex-wrap gap-2">
          <BigButton kind={gap.to === "made-up" ? "on" : "plain"} onClick={() => press({ kind: "gap", name: "made-up", number: gap.gap_g })}>
            {units.mass(gap.gap_g)} of water stirred in
          </BigButton>
          {causes.map(([cause]) => (
            <BigButton key={cause} kind={gap.to === cause ? "on" : "plain"} onClick={() => press({ kind: "gap", name: cause, number: gap.gap_g })}>
              {CAUSES[cause] ?? cause}
            </BigButton>
          ))}
        </div>
      )}
    </div>
  );
}

function Choice({ step }: { step: Step }) {
  const { state, press } = useWork();
  const chosen = state.steps[step.id]?.chosen ?? step.choice[0];
  if (step.choice.length === 0) return null;
  return (
    <div role="group" aria-label="Which way" className="flex flex-wrap gap-2">
      {step.choice.map((way) => (
        <BigButton key={way} kind={way === chosen ? "on" : "plain"} aria-pressed={way === chosen} onClick={() => press({ kind: "chose", step: step.id, text: way })}>
          {way.charAt(0).toUpperCase() + way.slice(1)}
        </BigButton>
      ))}
    </div>
  );
}

function AllDone() {
  const { making } = useWork();
  return (
    <section aria-label="What now" className="grid gap-3">
      <h1 className="text-4xl">All steps are done</h1>
      <p className="text-xl">Batch {making.number} is ready to be handed over: tubs, critical points, a photo.</p>
    </section>
  );
}
