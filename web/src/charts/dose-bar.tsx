import type { Schemas } from "../shared/api/client";
import { shown } from "../shared/format/numbers";
import { paint } from "./strata";

/** A gum against its usual dose: grams would be a hair's breadth, so the band is the dose and the needle what is in. */
export function DoseBar({ dose, of }: { dose: Schemas["Dose"]; of: string }) {
  const end = endOfDose(dose);
  const at = (pct: number) => `${(100 * pct) / end}%`;
  const outside = dose.pct < dose.low_pct || dose.pct > dose.high_pct;
  const usual = `usual ${fine(dose.low_pct)} to ${fine(dose.high_pct)} %`;
  return (
    <div role="img" aria-label={`${of}: ${fine(dose.pct)} % of the mix, ${usual}`} title={usual} className="flex items-center gap-2">
      <span className="relative h-2 min-w-8 flex-1 rounded-sm bg-steel">
        <span
          className="absolute inset-y-0 rounded-sm border border-band-edge bg-band"
          style={{ left: at(dose.low_pct), width: at(dose.high_pct - dose.low_pct) }}
        />
        <span className="absolute -inset-y-0.5 w-1 rounded-sm" style={{ left: at(dose.pct), background: paint("gums") }} />
      </span>
      <span className={`text-sm max-md:hidden ${outside ? "font-semibold text-hot" : "text-muted"}`}>{fine(dose.pct)} %</span>
    </div>
  );
}

/** The dose at the right end of the bar, in % of the mix. */
export function endOfDose(dose: Schemas["Dose"]): number {
  return Math.max(dose.high_pct * 1.6, dose.pct * 1.05);
}

function fine(pct: number): string {
  return shown(pct, pct < 0.1 ? 3 : 2);
}
