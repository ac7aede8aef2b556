import { CompositionBar } from "../../../charts/composition-bar";
import { DoseBar, endOfDose } from "../../../charts/dose-bar";
import type { LineRowProps } from "./line-row-props";
import { useDrag } from "./use-drag";

type Props = LineRowProps & { name: string; read: number | null; weigh: (grams: number) => void };

/** The bar of a line, which a mouse may also drag to weigh it; keys do the same from the amount. */
export function LineBar({ line, reading, read, most, water, name, massG, step, actions, weigh }: Props) {
  const dose = reading?.dose;
  const length = (reading?.strata ?? []).reduce((sum, part) => sum + (water || part.key !== "water" ? part.grams : 0), 0);
  const drag = useDrag({
    grams: read,
    step: dose ? step / 10 : step,
    perPixel: (width) => (dose && massG ? (endOfDose(dose) * massG) / 100 / width : ((read && length ? read / length : 1) * most) / width),
    weigh,
    done: () => actions.edit({ kind: "done" }),
    retract: () => actions.edit({ kind: "retract" }),
  });
  return (
    <span {...drag} className="cursor-ew-resize touch-pan-y py-1.5" data-bar={line.key}>
      {dose ? <DoseBar dose={dose} of={name} /> : <CompositionBar parts={reading?.strata ?? []} most={most} water={water} of={name} />}
    </span>
  );
}
