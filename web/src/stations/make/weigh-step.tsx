import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { lotsOfBatchQuery } from "../../shared/api/queries";
import { unbroken } from "../../shared/format/numbers";
import { type Units, useUnits } from "../../shared/format/units";
import type { Step } from "./replay";
import { useWork } from "./use-making";
import { Vessel } from "./vessel";

const ABSURD = 3;

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
  return { typed, setTyped: (next) => setField({ step: step?.id, typed: next }), grams, isAbsurd: grams !== null && target > 0 && grams > ABSURD * target };
}

/** A line to be weighed: its target huge, the band that nobody notices drawn, and room for what it really weighs. */
export function WeighStep({ step, weighed, confirm }: { step: Step; weighed: Weighed; confirm: () => void }) {
  const { making, state } = useWork();
  const units = useUnits();
  const weighing = step.weighing;
  if (!weighing) return null;
  const line = state.lines[weighing.line];
  const { typed, setTyped, grams } = weighed;
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_auto] gap-x-8 gap-y-2">
      <div className="grid content-start gap-3">
        <p className="font-name text-7xl font-bold tabular-nums sm:text-8xl">
          {units.massFigure(weighing.target_g)} <span className="text-4xl">{units.massUnit}</span>
        </p>
        {weighing.pieces && <p className="text-2xl font-semibold">{weighing.pieces}</p>}
        <label className="grid justify-items-start gap-1">
          <span className="text-lg font-semibold">It weighs</span>
          <span className="flex items-baseline gap-2">
            <input
              value={typed}
              maxLength={60}
              inputMode="decimal"
              autoComplete="off"
              placeholder={units.massFigure(weighing.target_g)}
              onChange={(event) => setTyped(event.target.value)}
              onKeyDown={(event) => event.key === "Enter" && confirm()}
              className="min-h-16 w-44 rounded-button border border-line bg-panel px-4 font-name text-4xl font-bold placeholder:font-normal placeholder:text-muted"
            />
            <span className="text-2xl">{units.massUnit}</span>
          </span>
        </label>
        <p className="min-h-7 text-lg" aria-live="polite">
          {deviation(grams, weighing, units) ?? line?.said}
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
