import { X } from "lucide-react";

import { useVocabulary } from "../../../shared/api/vocabulary";
import { type Units, useUnits } from "../../../shared/format/units";
import { useReading } from "../bench-context";
import { BandSlider } from "./band-slider";
import { rangeOf, type Target, valueOf } from "./target";
import { useBalance } from "./use-balance";

type Props = { target: Target; change: (ends: Pick<Target, "min" | "max">) => void; remove: () => void };

/** One target: its band, where the mix stands, and where the proposal would bring it. */
export function TargetRow({ target, change, remove }: Props) {
  const { aimable, strata } = useVocabulary();
  const { analysis } = useReading();
  const { proposal } = useBalance();
  const units = useUnits();
  const names = new Map([...aimable, ...strata.map((one) => ({ ...one, key: `stratum-${one.key}` }))].map((one) => [one.key, one.name]));
  const value = analysis && valueOf(target.of, analysis);
  const reached = proposal?.targets.find((one) => one.of === target.of);
  const name = names.get(target.of) ?? target.of;
  return (
    <li className="grid grid-cols-[5.5rem_minmax(4rem,1fr)_9.5rem_1.5rem] items-center gap-x-3 text-sm">
      <b>{name}</b>
      <BandSlider name={name} of={target.of} range={rangeOf(target, value)} min={target.min} max={target.max} before={value} after={reached?.after ?? null} onChange={change} />
      <span className="whitespace-nowrap text-muted">
        {end(target, target.min, units)} to {end(target, target.max, units)}
        {reached && (
          <b className={reached.met ? "text-ink" : "text-hot"}>
            {" "}
            → {figure(target, reached.after, 1, units)}
            {reached.chance !== null && ` (${units.number(100 * reached.chance)} %)`}
          </b>
        )}
      </span>
      <button type="button" aria-label={`No target for ${name}`} onClick={remove} className="rounded-button p-1 text-muted hover:bg-steel">
        <X size={14} aria-hidden />
      </button>
    </li>
  );
}

/** A figure of a target, temperatures in the kitchen's unit. */
function figure({ of }: Target, value: number, decimals: number, units: Units): string {
  return of.endsWith("_c") ? units.degrees(value, decimals) : units.number(value, decimals);
}

function end(target: Target, value: number | null, units: Units): string {
  return value === null ? "any" : figure(target, value, Number.isInteger(value) ? 0 : 1, units);
}
