import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { lotsOfBatchQuery } from "../../shared/api/queries";
import { unbroken } from "../../shared/format/numbers";
import { type Units, useUnits } from "../../shared/format/units";
import { Checkbox } from "../../ui/checkbox";
import { silenceOf } from "./instruments";
import type { Step } from "./replay";
import { useWork } from "./use-making";
import type { OnScale } from "./use-scale";
import { Vessel } from "./vessel";

const ABSURD = 3;

/** Whether a weight is so far above what is planned that it has to be said twice. */
export function isAbsurdFor(target: number, grams: number): boolean {
  return target > 0 && grams > ABSURD * target;
}

export type Weighed = { typed: string; setTyped: (typed: string) => void; grams: number | null; isAbsurd: boolean };

/** What is typed at a line that is weighed: nothing where it is as planned. */
export function useWeighed(step: Step | null): Weighed {
  const { state } = useWork();
  const units = useUnits();
  const line = step?.weighing?.line;
  const kept = line === undefined ? null : (state.lines[line]?.typed ?? null);
  const [field, setField] = useState<{ step: string | undefined; typed: string | null }>({ step: step?.id, typed: null });
  const typed = (field.step === step?.id ? field.typed : null) ?? kept ?? "";
  const grams = units.readMass(typed);
  const target = step?.weighing?.target_g ?? 0;
  return { typed, setTyped: (next) => setField({ step: step?.id, typed: next }), grams, isAbsurd: grams !== null && isAbsurdFor(target, grams) };
}

/** A line to be weighed: its target huge, the band that nobody notices drawn, and room for what it really weighs. */
export function WeighStep(props: { step: Step; weighed: Weighed; scale: OnScale | null; accepting: boolean; setAccepting: (on: boolean) => void; confirm: () => void }) {
  const { step, weighed, scale, confirm } = props;
  const { making, state } = useWork();
  const units = useUnits();
  const weighing = step.weighing;
  if (!weighing) return null;
  const line = state.lines[weighing.line];
  const { typed, setTyped } = weighed;
  const live = scale !== null && !scale.gone && typed.trim() === "" && !line?.ticked ? scale : null;
  const grams = weighed.grams ?? (live === null ? null : live.net);
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_auto] gap-x-8 gap-y-2">
      <div className="grid content-start gap-3">
        <p className="font-name text-7xl font-bold tabular-nums sm:text-8xl" data-shown={live ? "" : undefined}>
          {live ? massShown(live, units) : units.massFigure(weighing.target_g)} <span className="text-4xl">{units.massUnit}</span>
        </p>
        {scale && <ScaleSaid scale={scale} live={live} step={step} accepting={props.accepting} setAccepting={props.setAccepting} />}
        {weighing.pieces && <p className="text-2xl font-semibold">{weighing.pieces}</p>}
        <label className="grid justify-items-start gap-1">
          <span className="text-lg font-semibold">{live ? "Or type what it weighs" : "It weighs"}</span>
          <span className="flex items-baseline gap-2">
            <input
              value={typed}
              maxLength={60}
              inputMode="decimal"
              autoComplete="off"
              placeholder={live ? massShown(live, units) : units.massFigure(weighing.target_g)}
              onChange={(event) => setTyped(event.target.value)}
              onKeyDown={(event) => event.key === "Enter" && confirm()}
              className="min-h-16 w-44 rounded-button border border-line bg-panel px-4 font-name text-4xl font-bold placeholder:font-normal placeholder:text-muted"
            />
            <span className="text-2xl">{units.massUnit}</span>
          </span>
        </label>
        <p className="min-h-7 text-lg" aria-live="polite">
          {live !== null && (grams ?? 0) < weighing.low_g ? "" : (deviation(grams, weighing, units) ?? line?.said)}
        </p>
        {weighing.bowl_g > weighing.target_g && (
          <p className="text-muted">
            In {weighing.bowl} then: {units.mass(weighing.bowl_g - weighing.target_g + (grams ?? weighing.target_g))}
          </p>
        )}
        <SuggestedLot line={weighing.line} />
        {line && line.also.length > 0 && <p className="font-semibold">Also noted: {line.also.join("; ")}</p>}
        {line?.instead && <p className="font-semibold">Instead of it: {line.instead}</p>}
      </div>
      <Vessel weighing={weighing} grams={grams} stratum={making.line_strata[weighing.line] ?? "water"} />
    </div>
  );
}

function massShown(scale: OnScale, units: Units): string {
  if (scale.net === null) return "–";
  return scale.instrument.step < 0.1 && units.massUnit === "g" ? units.number(scale.net, 2) : units.massFigure(scale.net);
}

/** What stands on the scale, what is still to come, and that it has gone quiet. */
function ScaleSaid({ scale, live, step, accepting, setAccepting }: { scale: OnScale; live: OnScale | null; step: Step; accepting: boolean; setAccepting: (on: boolean) => void }) {
  const units = useUnits();
  if (scale.gone) {
    return (
      <p role="status" className="text-lg font-semibold">
        {silenceOf(scale.instrument)} Type what it weighs; the line stays as it is.
      </p>
    );
  }
  if (!live || !step.weighing) return null;
  const rest = step.weighing.target_g - (live.net ?? 0);
  return (
    <div className="grid gap-1 text-lg">
      <p>
        of {units.mass(step.weighing.target_g)}{live.bowl >= live.instrument.step ? `, bowl taken off (${units.mass(live.bowl)})` : ""}
        {live.net === null ? ": let it stand still a moment" : rest > step.weighing.step_g ? ` · ${units.mass(rest)} to go` : ""}
      </p>
      <p className="flex flex-wrap items-center gap-x-5">
        <button type="button" className="min-h-14 underline" onClick={live.tare}>
          Tare
        </button>
        <Checkbox checked={accepting} onChange={setAccepting}>
          Take it by itself once it stands inside the band
        </Checkbox>
      </p>
    </div>
  );
}

/** By how much it is over or under, while it is typed; what that does comes with the server's answer. */
function deviation(grams: number | null, weighing: NonNullable<Step["weighing"]>, units: Units): string | null {
  if (grams === null) return null;
  const by = grams - weighing.target_g;
  if (Math.abs(by) < weighing.step_g / 2) return "Just right";
  const inside = grams >= weighing.low_g && grams <= weighing.high_g;
  return unbroken(`${units.mass(Math.abs(by))} ${by > 0 ? "over" : "under"}${inside ? ": nobody notices" : ""}`);
}

/** Where it is best taken from, where lots are kept and the server can be asked. */
function SuggestedLot({ line }: { line: number }) {
  const { making } = useWork();
  const units = useUnits();
  const lots = useQuery({ ...lotsOfBatchQuery(making.id), staleTime: 60_000 });
  const share = lots.data?.lines.find((one) => one.line === line)?.suggestion.shares.find((one) => one.grams > 0);
  if (!share) return null;
  return (
    <p className="text-muted">
      From {share.code ? `lot ${share.code}` : "the lot"}
      {share.good_until ? `, good until ${units.day(share.good_until)}` : ""}
      {share.opened ? ", open already" : ""}
    </p>
  );
}
