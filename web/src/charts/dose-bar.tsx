import type { Schemas } from "../shared/api/client";

import { Track } from "../ui/track";
import { paint } from "./strata";
import { type Units, useUnits } from "../shared/format/units";

/** A gum against its usual dose: grams would be a hair's breadth, so the band is the dose and the needle what is in. */
export function DoseBar({ dose, of }: { dose: Schemas["Dose"]; of: string }) {
  const units = useUnits();
  const outside = dose.pct < dose.low_pct || dose.pct > dose.high_pct;
  const usual = `usual ${fine(dose.low_pct, units)} to ${fine(dose.high_pct, units)}\u00a0%`;
  return (
    <div role="img" aria-label={`${of}: ${fine(dose.pct, units)} % of the mix, ${usual}`} title={usual} className="flex items-center gap-2">
      <Track className="min-w-8 flex-1" range={[0, endOfDose(dose)]} band={[dose.low_pct, dose.high_pct]} needles={[{ at: dose.pct, colour: paint("gums") }]} />
      <span className={`text-sm whitespace-nowrap max-md:hidden ${outside ? "font-semibold text-hot" : "text-muted"}`}>{fine(dose.pct, units)}&nbsp;%</span>
    </div>
  );
}

/** The dose at the right end of the bar, in % of the mix. */
export function endOfDose(dose: Schemas["Dose"]): number {
  return Math.max(dose.high_pct * 1.6, dose.pct * 1.05);
}

function fine(pct: number, units: Units): string {
  return units.number(pct, pct < 0.1 ? 3 : 2);
}
