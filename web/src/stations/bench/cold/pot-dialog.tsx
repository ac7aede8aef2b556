import { useState } from "react";

import { answer, api, type Schemas } from "../../../shared/api/client";
import { useUnits } from "../../../shared/format/units";
import { Checkbox } from "../../../ui/checkbox";
import { inputClass, Labelled } from "../../../ui/field";
import { SheetDialog } from "../../../ui/sheet-dialog";
import { useReading } from "../bench-context";
import { bodyOf } from "../draft/draft";
import { Why } from "../../../ui/why";
import { MassField, NumberField, TemperatureField } from "../../../ui/quantity-fields";
import { ReductionForm } from "../../heat/reduction-form";
import { useForecast } from "./use-forecast";

type Pot = { start_c: number; diameter_mm: number; stirred: boolean; cold_g: number; cold_c: number; record: string };

const HOT: Pot = { start_c: 85, diameter_mm: 220, stirred: true, cold_g: 0, cold_c: 4, record: "" };

/** The pot: how it is cooled safely, what its record is worth, and how long it boils down. */
export function PotDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <SheetDialog open={open} onOpenChange={(now) => !now && onClose()} title="Pot and cooling" wide>
      <PotAndCooling />
    </SheetDialog>
  );
}

function PotAndCooling() {
  const { analysis, reading } = useReading();
  const [pot, setPot] = useState(HOT);
  const change = (changes: Partial<Pot>) => setPot((before) => ({ ...before, ...changes }));
  const asked = { ...pot, mass_g: null, ice: null };
  const { data: found, error } = useForecast("pot", asked, (body, signal) => answer(api.POST("/pot-forecasts", { body, signal })));
  const most = Math.max(0, Math.floor((analysis?.mass_g ?? 0) - 1));
  return (
    <div className="grid gap-4">
      {error && (
        <p role="alert" className="text-hot">
          {error.message}
        </p>
      )}
      {found && <Ways found={found} />}
      <div className="grid grid-cols-2 items-start gap-3 sm:grid-cols-4">
        <TemperatureField label="Hot at" celsius={pot.start_c} range={{ least: 5, most: 105 }} onChange={(start_c) => change({ start_c })} />
        <NumberField label="Pot, mm across" value={pot.diameter_mm} range={{ least: 50, most: 1000 }} onChange={(diameter_mm) => change({ diameter_mm })} />
        <MassField label="Held back cold" grams={pot.cold_g} range={{ least: 0, most }} onChange={(cold_g) => change({ cold_g })} />
        <TemperatureField label="That is at" celsius={pot.cold_c} range={{ least: -5, most: 30 }} onChange={(cold_c) => change({ cold_c })} />
        <Checkbox className="col-span-2 sm:col-span-4" checked={pot.stirred} onChange={(stirred) => change({ stirred })}>
          stirred now and then
        </Checkbox>
      </div>
      <Credit record={pot.record} onRecord={(record) => change({ record })} found={found ?? null} />
      {reading && analysis && (
        <div className="border-t border-line pt-3">
          <ReductionForm draft={bodyOf(reading.of)} massG={analysis.mass_g} />
        </div>
      )}
    </div>
  );
}

/** Each way to cool it, the quickest first; the two clocks decide which are safe. */
function Ways({ found }: { found: Schemas["PotOut"] }) {
  const units = useUnits();
  const best = found.ways[0];
  const minutes = (value: number | null) => (value === null ? "never" : value >= 180 ? `${units.number(value / 60, 1)} h` : `${units.number(value)} min`);
  const minded = [...new Set(found.ways.filter((way) => way.kind !== "room").flatMap((way) => way.mind))];
  return (
    <section aria-label="Ways to cool it" className="grid gap-2" aria-live="polite">
      <p>
        <span className="font-name text-lg font-bold">{best?.said}</span> <Why of="pot" />
      </p>
      <table className="w-full text-sm">
        <thead>
          <tr className="text-right text-muted">
            <th className="text-left font-normal">
              {units.mass(found.mass_g)} from {units.temperature(found.start_c, 0)}
            </th>
            <th className="font-normal">to {units.temperature(57, 0)}</th>
            <th className="font-normal">to {units.temperature(21, 0)}</th>
            <th className="font-normal">to {units.temperature(5, 0)}</th>
            <th className="pl-4 text-left font-normal">the two clocks</th>
          </tr>
        </thead>
        <tbody>
          {found.ways.map((way) => (
            <tr key={way.kind} className="border-t border-line text-right">
              <td className="py-1 text-left">{way.name}</td>
              <td>{minutes(way.to_57_min)}</td>
              <td>{minutes(way.to_21_min)}</td>
              <td>{minutes(way.to_5_min)}</td>
              <td className={`pl-4 text-left ${way.safe ? "text-muted" : "font-semibold text-hot"}`}>{way.safe ? "kept" : "not kept"}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {minded.map((sentence) => (
        <p key={sentence} className="border-l-3 border-hot pl-2 text-sm">
          {sentence}
        </p>
      ))}
    </section>
  );
}

function Credit({ record, onRecord, found }: { record: string; onRecord: (record: string) => void; found: Schemas["PotOut"] | null }) {
  const units = useUnits();
  return (
    <section aria-labelledby="credit" className="grid gap-1.5 border-t border-line pt-3">
      <h3 id="credit">What the heat was worth</h3>
      <div className="grid items-start gap-3 sm:grid-cols-[16rem_1fr]">
        <Labelled id="record" label={`Thermometer: minute and ${units.temperatureUnit}, line by line`}>
          <textarea id="record" value={record} rows={4} maxLength={8000} placeholder={"0 69\n30 69"} onChange={(event) => onRecord(event.target.value)} className={`${inputClass} font-sans`} />
        </Labelled>
        <div className="grid gap-1 text-sm" aria-live="polite">
          {found?.credit.map((one) => (
            <p key={one.region}>
              <b className={one.worth >= 1 ? "" : "text-hot"}>
                {units.number(100 * one.worth)}&nbsp;% of what pasteurises it
              </b>
              , {one.name}
            </p>
          ))}
          <p className="text-muted">{found?.credit_said || "Typed or pasted; it is counted along the pairs of temperature and time that the law knows."}</p>
        </div>
      </div>
    </section>
  );
}
