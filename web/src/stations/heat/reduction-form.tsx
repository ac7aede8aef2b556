import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { answer, api, type Schemas } from "../../shared/api/client";
import { useUnits } from "../../shared/format/units";
import { useDebouncedValue } from "../../shared/use-debounced-value";
import { MassField, NumberField, TemperatureField } from "../../ui/quantity-fields";
import { Select } from "../../ui/select";

const HOBS = [
  { key: "gas", name: "gas" },
  { key: "electric", name: "electric" },
  { key: "induction", name: "induction" },
  { key: "microwave", name: "microwave" },
] as const;

const AIMS = [
  { key: "mass", name: "to a weight" },
  { key: "temperature", name: "to a temperature" },
  { key: "depth", name: "to a depth" },
];

type Hob = (typeof HOBS)[number]["key"];
type Asked = Schemas["ReductionQuestion"];
type Target = Pick<Asked, "to_g" | "to_c">;

type Props = {
  /** What is in the pot: its lines. */
  draft: Schemas["Draft"];
  massG: number;
  /** How far it is boiled down, where that stands elsewhere. */
  target?: Target;
  /** What the empty pot weighs, where that is known. */
  tareG?: number;
};

/** Boiling something down: how long, what the scale will read with the pot, and where to watch. */
export function ReductionForm({ draft, massG, target, tareG = 0 }: Props) {
  const units = useUnits();
  const [aim, setAim] = useState("mass");
  const [to, setTo] = useState({ mass: Math.round(0.75 * massG), temperature: 104, depth: 20 });
  const [hob, setHob] = useState<Hob>("gas");
  const [pot, setPot] = useState({ watts: 2000, diameter_mm: 220, tare_g: tareG });
  const chosen = { to_g: aim === "mass" ? to.mass : null, to_c: aim === "temperature" ? to.temperature : null, to_depth_mm: aim === "depth" ? to.depth : null };
  const asked: Asked = { ...draft, ...(target ?? chosen), ...pot, hob, mass_g: massG, start_c: 20 };
  const { data: found, error } = useReduction(asked);
  return (
    <section aria-labelledby="boil-down" className="grid gap-2">
      <h3 id="boil-down">Boiling it down</h3>
      <div className="grid grid-cols-2 items-start gap-3 sm:grid-cols-3">
        {!target && <Select label="How far" value={aim} options={AIMS} onChange={setAim} />}
        {!target && aim === "mass" && <MassField label="Down to" grams={to.mass} range={{ least: 1, most: 1_000_000 }} onChange={(grams) => setTo({ ...to, mass: grams })} />}
        {!target && aim === "temperature" && <TemperatureField label="Until it boils at" celsius={to.temperature} range={{ least: 100, most: 112 }} onChange={(celsius) => setTo({ ...to, temperature: celsius })} />}
        {!target && aim === "depth" && <NumberField label="Down to, mm deep" value={to.depth} range={{ least: 1, most: 1000 }} onChange={(depth) => setTo({ ...to, depth })} />}
        <Select label="Hob" value={hob} options={HOBS} onChange={(key) => setHob(key as Hob)} />
        <NumberField label="Its watts" value={pot.watts} range={{ least: 50, most: 50_000 }} onChange={(watts) => setPot({ ...pot, watts })} />
        <NumberField label="Pot, mm across" value={pot.diameter_mm} range={{ least: 50, most: 1000 }} onChange={(diameter_mm) => setPot({ ...pot, diameter_mm })} />
        <MassField label="Empty pot" grams={pot.tare_g} range={{ least: 0, most: 50_000 }} onChange={(tare_g) => setPot({ ...pot, tare_g })} />
      </div>
      {error ? (
        <p role="alert" className="text-hot">
          {error.message}
        </p>
      ) : (
        found && (
          <div className="grid gap-1 text-sm" aria-live="polite">
            <p>
              <b>{found.said}</b>
              {found.depth_from_mm !== null && found.depth_to_mm !== null && (
                <span className="text-muted">
                  {" "}
                  From {units.number(found.depth_from_mm)} to {units.number(found.depth_to_mm)} mm deep; {units.number(found.end_solids_pct)}&nbsp;% solids then.
                </span>
              )}
            </p>
            {found.mind.map((sentence) => (
              <p key={sentence} className="text-muted">
                {sentence}
              </p>
            ))}
          </div>
        )
      )}
    </section>
  );
}

function useReduction(asked: Asked) {
  const rested = useDebouncedValue(JSON.stringify(asked));
  return useQuery({
    queryKey: ["analysis", "reduction", rested],
    queryFn: ({ signal }) => answer(api.POST("/reduction-forecasts", { body: JSON.parse(rested) as Asked, signal })),
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: Infinity,
    gcTime: 30_000,
  });
}
