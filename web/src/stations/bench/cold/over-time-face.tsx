import { useQuery } from "@tanstack/react-query";
import { SlidersHorizontal } from "lucide-react";
import { useState } from "react";

import { momentSaid, OverTime } from "../../../charts/over-time";
import type { Schemas } from "../../../shared/api/client";
import { placesQuery, vesselsQuery } from "../../../shared/api/queries";
import { useVocabulary } from "../../../shared/api/vocabulary";
import { useStableCallback } from "../../../shared/use-stable-callback";
import { useUnits } from "../../../shared/format/units";
import { Checkbox } from "../../../ui/checkbox";
import { Popover } from "../../../ui/popover";
import { Select } from "../../../ui/select";
import { Why } from "../../../ui/why";
import { NumberField } from "../../../ui/quantity-fields";
import { type Stays, USUAL_VESSELS, useCold, type Vessel } from "./cold-context";
import { useTubForecast } from "./use-forecast";

/** Going cold over time: hardening here, then out to where it is served. */
export function OverTimeFace() {
  const { stays, setStays } = useCold();
  const { data: found, error } = useTubForecast(true);
  const units = useUnits();
  const [at, setAt] = useState(stays.cold.minutes + 20);
  const onCold = useStableCallback((minutes: number) => setStays({ cold: { ...stays.cold, minutes } }));
  const onOut = useStableCallback((air_c: number) => setStays({ out: { ...stays.out, air_c } }));
  if (error) {
    return (
      <p role="alert" className="text-hot">
        {error.message}
      </p>
    );
  }
  if (!found) return null;
  return (
    <div className="flex h-full flex-col gap-1.5 overflow-y-auto pt-1">
      <p aria-live="polite" className="text-sm" data-over-time>
        <b>{outSaid(found)}</b> <span className="text-muted">{stays.back && found.melted_said ? found.melted_said : found.stays[0]?.said}</span> <Why of="tub" />
      </p>
      <div className="min-h-52 flex-1">
        <OverTime
          found={found}
          at={at}
          onAt={setAt}
          out={found.stays[1]?.air_c ?? 20}
          onCold={onCold}
          onOut={onOut}
        />
      </div>
      <p className="text-sm text-muted" data-moment>
        {momentSaid(found, at, units)}
      </p>
      {found.mind.map((sentence) => (
        <p key={sentence} className="text-sm">
          {sentence}
        </p>
      ))}
    </div>
  );
}

function outSaid(found: Schemas["TubOut"]): string {
  const { scoops_from: from, scoops_to: to, stays } = found;
  const out = stays[1];
  if (from === null || !out) return out?.said ?? "";
  if (to === null || from === 0) return out.said;
  return `Scoops from ${Math.round(from)} to ${Math.round(to)} min ${out.name}, give or take a third.`;
}

/** In which tub, where first, where then, for how long, and whether it goes back. */
export function TubAndPlaces() {
  const { stays, setStays, vessel, setVessel } = useCold();
  const { places: kinds } = useVocabulary();
  const own = useQuery(placesQuery).data ?? [];
  const vessels = useVessels();
  const options = [...own.map((place) => ({ key: `own ${place.id}`, name: place.name })), ...kinds.map(({ key, name }) => ({ key, name }))];
  function stay(key: string, minutes: number): Schemas["Stay"] {
    const mine = own.find((place) => `own ${place.id}` === key);
    return mine ? { kind: mine.kind, air_c: mine.air_c, minutes } : { kind: key, minutes };
  }
  const chosen = ({ kind, air_c }: Schemas["Stay"]) => {
    const mine = own.find((place) => place.kind === kind && place.air_c === air_c);
    return mine ? `own ${mine.id}` : kind;
  };
  return (
    <Popover label="Tub and places" trigger={<SlidersHorizontal size={16} aria-hidden />}>
      <div className="grid w-64 gap-2.5">
        <Select label="In" value={vessel.name} options={vessels.map(({ name }) => ({ key: name, name }))} onChange={(name) => setVessel(vessels.find((one) => one.name === name) ?? vessel)} />
        <Select label="It hardens" value={chosen(stays.cold)} options={options} onChange={(key) => setStays({ cold: stay(key, stays.cold.minutes) })} />
        <Select label="Then it stands" value={chosen(stays.out)} options={options} onChange={(key) => setStays({ out: stay(key, stays.out.minutes) })} />
        <Select label="For" value={String(stays.out.minutes)} options={OUT_FOR} onChange={(minutes) => setStays(outFor(stays, Number(minutes)))} />
        <NumberField label="Emptying the bowl, min" value={stays.emptying_min} range={{ least: 0, most: 60 }} onChange={(emptying_min) => setStays({ emptying_min })} />
        <Checkbox checked={stays.back} onChange={(back) => setStays({ back })}>
          and goes back into the cold
        </Checkbox>
      </div>
    </Popover>
  );
}

const OUT_FOR = [
  { key: "30", name: "30 minutes" },
  { key: "90", name: "1½ hours" },
  { key: "240", name: "4 hours" },
];

function outFor(stays: Stays, minutes: number): Partial<Stays> {
  return { out: { ...stays.out, minutes } };
}

/** The tubs of the kitchen, and those that any kitchen has. */
function useVessels(): Vessel[] {
  const own = useQuery(vesselsQuery).data ?? [];
  return [...own.map(({ id: _, version: __, litres: ___, ...vessel }) => vessel), ...USUAL_VESSELS];
}

