import { useState } from "react";

import type { Schemas } from "../../shared/api/client";
import { useKitchen } from "../../shared/api/kitchen";
import { useVocabulary } from "../../shared/api/vocabulary";
import { Units } from "../../shared/format/units";
import { changed } from "../../ui/changed";
import { Field } from "../../ui/field";
import { Select } from "../../ui/select";
import { RoomForm, useRoom } from "./room-form";

type Kitchen = Schemas["KitchenOut"];

const TEMPERATURES = [
  { key: "C", name: "Celsius, °C" },
  { key: "F", name: "Fahrenheit, °F" },
];
const MASSES = [
  { key: "g", name: "grams" },
  { key: "oz", name: "ounces" },
];
const SPOONS = [
  { key: "metric", name: "metric: cup 250 ml, tablespoon 15 ml" },
  { key: "us", name: "US: cup 237 ml, tablespoon 14.8 ml" },
  { key: "imperial", name: "imperial: cup 284 ml, tablespoon 17.8 ml" },
];

const ZONES = Intl.supportedValuesOf("timeZone");

/** In what is measured here, and how numbers and dates are written. */
export function UnitsRoom() {
  const kitchen = useKitchen();
  const { locales } = useVocabulary();
  const { settings, kept, keep, fault } = useRoom();
  const [now, setNow] = useState({
    temperature_unit: kitchen.temperature_unit,
    mass_unit: kitchen.mass_unit,
    spoons: kitchen.spoons,
    locale: kitchen.locale,
    currency: kitchen.currency,
    zone: kitchen.zone,
  });
  const set = (change: Partial<typeof now>) => setNow({ ...now, ...change });
  const example = new Units({ ...now, zone: kitchen.zone });
  return (
    <RoomForm settings={settings} kept={kept} keep={() => keep(changed(now, kitchen))}>
      <div className="grid items-start gap-3 sm:grid-cols-2">
        <Select label="Temperatures" value={now.temperature_unit} options={TEMPERATURES} onChange={(key) => set({ temperature_unit: key as Kitchen["temperature_unit"] })} />
        <Select label="Weights" value={now.mass_unit} options={MASSES} onChange={(key) => set({ mass_unit: key as Kitchen["mass_unit"] })} />
        <Select label="Cups and spoons" value={now.spoons} options={SPOONS} onChange={(key) => set({ spoons: key as Kitchen["spoons"] })} />
        <Select label="Numbers and dates as in" value={now.locale} options={locales} onChange={(locale) => set({ locale })} />
        <Field label="Time zone" value={now.zone} required maxLength={60} list="zones" onChange={(event) => set({ zone: event.target.value })} error={fault("zone")} />
        <datalist id="zones">{ZONES.map((zone) => <option key={zone} value={zone} />)}</datalist>
        <Field label="Currency" value={now.currency} required maxLength={8} onChange={(event) => set({ currency: event.target.value })} error={fault("currency")} />
      </div>
      <p className="text-muted">
        So a batch is written: {example.mass(1250.5)}, scoops at {example.temperature(-13.4)}, made {example.day("2026-11-05")}. What is kept stays the same, whatever it is shown in.
      </p>
    </RoomForm>
  );
}
