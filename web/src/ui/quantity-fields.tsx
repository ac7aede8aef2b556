import { useState } from "react";

import { readNumber } from "../shared/format/numbers";
import { useUnits } from "../shared/format/units";
import { Field } from "./field";

type Range = { least: number; most: number };

/** A temperature of a forecast, typed in the kitchen's unit; it counts as soon as it can be. */
export function TemperatureField({ label, celsius, range, onChange }: { label: string; celsius: number; range: Range; onChange: (celsius: number) => void }) {
  const units = useUnits();
  const between = `${units.setting(range.least)} to ${units.setting(range.most)}.`;
  return (
    <ForecastField
      label={`${label}, ${units.temperatureUnit}`}
      shown={units.typedTemperature(celsius)}
      value={celsius}
      read={(typed) => units.readTemperature(typed)}
      range={range}
      between={between}
      onChange={onChange}
    />
  );
}

/** A mass of a forecast in the kitchen's unit. */
export function MassField({ label, grams, range, onChange }: { label: string; grams: number; range: Range; onChange: (grams: number) => void }) {
  const units = useUnits();
  return (
    <ForecastField
      label={`${label}, ${units.massUnit}`}
      shown={units.typedMass(grams, 0)}
      value={grams}
      read={(typed) => units.readMass(typed)}
      range={range}
      between={`${units.mass(range.least)} to ${units.mass(range.most)}.`}
      onChange={onChange}
    />
  );
}

/** Another number of a forecast. */
export function NumberField({ label, value, range, onChange }: { label: string; value: number; range: Range; onChange: (value: number) => void }) {
  const units = useUnits();
  return (
    <ForecastField label={label} shown={String(Math.round(100 * value) / 100)} value={value} read={readNumber} range={range} between={`${units.number(range.least)} to ${units.number(range.most)}.`} onChange={onChange} />
  );
}

type FieldProps = {
  label: string;
  shown: string;
  value: number;
  read: (typed: string) => number | null;
  range: Range;
  between: string;
  onChange: (value: number) => void;
};

/** What is typed stays as it is typed; what is chosen elsewhere takes its place. */
function ForecastField({ label, shown, value, read, range, between, onChange }: FieldProps) {
  const [typed, setTyped] = useState({ text: shown, value });
  if (typed.value !== value) setTyped({ text: shown, value });
  const now = read(typed.text);
  const fits = now !== null && now >= range.least && now <= range.most;
  return (
    <Field
      label={label}
      value={typed.text}
      inputMode="text"
      maxLength={9}
      error={fits ? undefined : between}
      onChange={(event) => {
        const text = event.target.value;
        const next = read(text);
        const counts = next !== null && next >= range.least && next <= range.most;
        setTyped({ text, value: counts ? next : value });
        if (counts) onChange(next);
      }}
    />
  );
}
