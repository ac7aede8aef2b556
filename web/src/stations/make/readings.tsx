import { useId, useState } from "react";

import type { Schemas } from "../../shared/api/client";
import { readNumber } from "../../shared/format/numbers";
import { type Units, useUnits } from "../../shared/format/units";
import type { Step } from "./replay";
import { useWork } from "./use-making";

type Reading = Schemas["ReadingOut"];

/** What is read off and written down at a step; each is kept as soon as it is typed. */
export function Readings({ step }: { step: Step }) {
  return (
    <div className="flex flex-wrap gap-4">
      {step.readings.map((reading, at) => (
        <ReadingField key={`${step.id} ${reading.key}`} step={step} reading={reading} first={at === 0} />
      ))}
    </div>
  );
}

function ReadingField({ step, reading, first }: { step: Step; reading: Reading; first: boolean }) {
  const { state, press } = useWork();
  const units = useUnits();
  const id = useId();
  const kept = state.steps[step.id]?.readings[reading.key];
  const [typed, setTyped] = useState<string | null>(null);
  const shown = typed ?? (kept === undefined || kept === null ? "" : inField(kept, reading, units));
  const number = typed === null ? (kept ?? null) : read(typed, reading, units);
  const unread = typed !== null && typed.trim() !== "" && number === null && reading.unit !== "text";

  function keep() {
    if (typed === null || typed.trim() === "" || unread) return;
    const text = reading.unit === "text" ? typed : "";
    press({ kind: "read", step: step.id, name: reading.key, text, ...(number === null ? {} : { number }) });
    if (reading.unit !== "text") setTyped(null);
  }

  return (
    <div className="grid gap-1">
      <label htmlFor={id} className="text-lg font-semibold">
        {reading.name}
      </label>
      <span className="flex items-baseline gap-2">
        <input
          id={id}
          value={shown}
          maxLength={reading.unit === "text" ? 200 : 12}
          inputMode={reading.unit === "text" ? "text" : "decimal"}
          autoComplete="off"
          onChange={(event) => setTyped(event.target.value)}
          onBlur={keep}
          onKeyDown={(event) => event.key === "Enter" && keep()}
          aria-invalid={unread || undefined}
          aria-describedby={`${id}-said`}
          className={`min-h-16 rounded-button border border-line bg-panel px-4 font-name font-bold ${reading.unit === "text" ? "w-72 text-xl" : first ? "w-44 text-4xl" : "w-32 text-3xl"}`}
        />
        <span className="text-2xl">{reading.unit === "text" ? "" : units.unit(reading.unit)}</span>
      </span>
      <p id={`${id}-said`} className={`min-h-6 ${unread ? "text-hot" : isOff(number, reading) ? "font-semibold text-hot" : "text-muted"}`} role={unread ? "alert" : undefined}>
        {unread ? "A number is wanted." : wanted(number, reading, units)}
      </p>
    </div>
  );
}

function read(typed: string, reading: Reading, units: Units): number | null {
  if (reading.unit === "°C") return units.readTemperature(typed);
  return reading.unit === "g" ? units.readMass(typed) : readNumber(typed);
}

function inField(value: number, reading: Reading, units: Units): string {
  if (reading.unit === "°C") return units.typedTemperature(value);
  return reading.unit === "g" ? units.typedMass(value, 1) : String(value);
}

function isOff(number: number | null, { low, high }: Reading): boolean {
  return number !== null && ((low !== null && number < low) || (high !== null && number > high));
}

/** What it should be, and on which side of that it is. */
function wanted(number: number | null, reading: Reading, units: Units): string {
  const { low, high, target, unit } = reading;
  const say = (value: number) => (unit === "°C" ? units.temperature(value, Number.isInteger(Math.round(10 * value) / 10) ? 0 : 1) : unit === "g" ? units.mass(value) : units.number(value));
  const band = low !== null && high !== null ? `${say(low)} to ${say(high)}` : high !== null ? `${say(high)} at most` : low !== null ? `${say(low)} at least` : target !== null ? `planned: ${say(target)}` : "";
  if (!isOff(number, reading)) return band;
  return `${low !== null && number !== null && number < low ? "Below" : "Above"} what is wanted: ${band}`;
}
