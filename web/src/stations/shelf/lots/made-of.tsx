import { useQuery } from "@tanstack/react-query";

import type { Schemas } from "../../../shared/api/client";
import { lotsQuery } from "../../../shared/api/queries";
import { readNumber } from "../../../shared/format/numbers";
import { useUnits } from "../../../shared/format/units";
import { inputClass } from "../../../ui/field";
import { untilSaid } from "./until";

/** From which lots a preparation was made: those of its ingredients, each with what was taken of it. */
export function MadeOf({ slugs, shares, change }: { slugs: Schemas["PrepLine"][]; shares: Schemas["LotShare"][]; change: (shares: Schemas["LotShare"][]) => void }) {
  const units = useUnits();
  const lots = useQuery(lotsQuery);
  const wanted = new Set(slugs.map((line) => line.ingredient));
  const there = (lots.data ?? []).filter((lot) => lot.ingredient !== null && wanted.has(lot.ingredient) && !lot.blocked);
  if (there.length === 0) return null;
  const set = (lot: number, typed: string) => {
    const grams = units.readMass(typed);
    const others = shares.filter((share) => share.lot !== lot);
    change(grams && readNumber(typed) ? [...others, { lot, grams }] : others);
  };
  return (
    <fieldset className="grid gap-1">
      <legend className="font-semibold">Made of these lots</legend>
      {there.map((lot) => (
        <label key={lot.id} className="grid grid-cols-[6rem_auto_1fr] items-center gap-2">
          <input className={inputClass} inputMode="decimal" maxLength={9} aria-label={`${lot.name}, ${lot.code || units.mass(lot.grams)}: taken`} onChange={(event) => set(lot.id, event.target.value)} />
          <span className="text-muted">{units.massUnit} of</span>
          <span>
            {lot.name} <span className="text-muted">{[lot.code, `${units.mass(lot.grams)} there`, untilSaid(lot, units)].filter(Boolean).join(", ")}</span>
          </span>
        </label>
      ))}
    </fieldset>
  );
}
