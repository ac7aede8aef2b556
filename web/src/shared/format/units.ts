import { useMemo } from "react";

import type { Schemas } from "../api/client";
import { useKitchen } from "../api/kitchen";
import { readNumber } from "./numbers";

const GRAMS_PER_OUNCE = 28.349523125;
const NO_BREAK = "\u00a0";
const MINUS = "−";
const DAY = /^\d{4}-\d\d-\d\d$/;

export type Notation = Pick<Schemas["KitchenOut"], "temperature_unit" | "mass_unit" | "locale" | "zone">;
export type MassUnit = Notation["mass_unit"];

/** A figure as the kitchen's scale would be asked for it: ounces need more digits than grams. */
function ounceDigits(ounces: number): number {
  const size = Math.abs(ounces);
  return size >= 100 ? 0 : size >= 10 ? 1 : size >= 0.1 || size === 0 ? 2 : 3;
}

export function toUnit(grams: number, unit: MassUnit): number {
  return unit === "g" ? grams : grams / GRAMS_PER_OUNCE;
}

export function fromUnit(amount: number, unit: MassUnit): number {
  return unit === "g" ? amount : amount * GRAMS_PER_OUNCE;
}

/** A mass as somebody would type it into a field of the unit: no thousands, a point. */
export function typedMass(grams: number, unit: MassUnit, digits = 1): string {
  const amount = toUnit(grams, unit);
  return String(Number(amount.toFixed(unit === "g" ? digits : Math.max(ounceDigits(amount), 2))));
}

/** How a kitchen writes and reads quantities; what is kept is always g and °C. */
export class Units {
  readonly massUnit: MassUnit;
  readonly temperatureUnit: string;
  readonly #fahrenheit: boolean;
  readonly #locale: string;
  readonly #numbers = new Map<number, Intl.NumberFormat>();
  readonly #date: Intl.DateTimeFormat;
  readonly #dateOfDay: Intl.DateTimeFormat;
  readonly #hour: Intl.DateTimeFormat;
  readonly #weekday: Intl.DateTimeFormat;
  readonly #isoDay: Intl.DateTimeFormat;

  constructor({ temperature_unit: temperature, mass_unit: mass, locale, zone }: Notation) {
    this.massUnit = mass;
    this.temperatureUnit = `°${temperature}`;
    this.#fahrenheit = temperature === "F";
    this.#locale = locale;
    const dates = locale.startsWith("en") ? locale : "en-GB"; // the words around it are English, and so are the months
    const day = { day: "numeric", month: "short", year: "numeric" } as const;
    this.#date = new Intl.DateTimeFormat(dates, { ...day, timeZone: zone });
    this.#dateOfDay = new Intl.DateTimeFormat(dates, { ...day, timeZone: "UTC" });
    this.#hour = new Intl.DateTimeFormat("en-GB", { hour: "numeric", minute: "2-digit", hourCycle: "h23", timeZone: zone });
    this.#weekday = new Intl.DateTimeFormat("en-GB", { weekday: "long", timeZone: zone });
    this.#isoDay = new Intl.DateTimeFormat("sv-SE", { timeZone: zone });
  }

  /** A number with so many decimals, a true minus, and from 10 000 its thousands apart: 1000 as scales show it. */
  number(value: number, decimals = 0): string {
    const text = this.#format(decimals).format(value).replace("-", MINUS);
    return /[1-9]/.test(text) ? text : text.replace(MINUS, "");
  }

  /** A temperature with its unit. */
  temperature(celsius: number, decimals = 1): string {
    return `${this.number(this.#degrees(celsius), decimals)}${NO_BREAK}${this.temperatureUnit}`;
  }

  /** A temperature that is a whole number where it is kept as one. */
  setting(celsius: number): string {
    return this.temperature(celsius, Number.isInteger(celsius) ? 0 : 1);
  }

  /** A temperature on a chart, where the unit is said once. */
  degrees(celsius: number, decimals = 1): string {
    return `${this.number(this.#degrees(celsius), decimals)}°`;
  }

  /** How much warmer or colder, on a chart. */
  degreesApart(kelvin: number, decimals = 1): string {
    return `${this.number(this.#fahrenheit ? 1.8 * kelvin : kelvin, decimals)}°`;
  }

  /** A mass as a cook reads it: tenths of a gram only where they matter. */
  mass(grams: number): string {
    return `${this.massFigure(grams)}${NO_BREAK}${this.massUnit}`;
  }

  /** The same without its unit, where that is said beside it. */
  massFigure(grams: number): string {
    if (this.massUnit === "g") return this.number(grams, Math.abs(grams) < 10 && Math.abs(grams - Math.round(grams)) > 0.05 ? 1 : 0);
    const ounces = toUnit(grams, "oz");
    return this.number(ounces, ounceDigits(ounces));
  }

  /** A day, or the day of a moment in the kitchen. */
  day(iso: string): string {
    return (DAY.test(iso) ? this.#dateOfDay : this.#date).format(new Date(iso));
  }

  /** Which day it is in the kitchen, as the server writes days. */
  today(): string {
    return this.#isoDay.format(new Date());
  }

  /** An hour as the clock on the kitchen's wall shows it, with its weekday where that is another than `from`'s. */
  hour(ms: number, from: number = ms): string {
    const hour = this.#hour.format(ms).replace(/^0(?=\d:)/, "");
    return this.#isoDay.format(ms) === this.#isoDay.format(from) ? hour : `${hour} on ${this.#weekday.format(ms)}`;
  }

  /** °C of a temperature typed in the kitchen's unit; null where it is no number. */
  readTemperature(typed: string): number | null {
    const value = readNumber(typed);
    return value === null || !this.#fahrenheit ? value : Math.round((1000 * (value - 32)) / 1.8) / 1000;
  }

  /** A temperature as it stands in a field. */
  typedTemperature(celsius: number): string {
    return String(Math.round(10 * this.#degrees(celsius)) / 10).replace("-", MINUS);
  }

  /** g of a mass typed in the kitchen's unit; null where it is no number. */
  readMass(typed: string): number | null {
    const value = readNumber(typed);
    return value === null ? null : Math.round(1e6 * fromUnit(value, this.massUnit)) / 1e6;
  }

  /** A mass as it stands in a field. */
  typedMass(grams: number, digits = 3): string {
    return typedMass(grams, this.massUnit, digits);
  }

  /** Ticks for an axis of temperatures, round in the kitchen's unit, between two °C. */
  ticks(warmest: number, coldest: number): number[] {
    const [step, from, to] = this.#fahrenheit ? [10, 32 + 1.8 * coldest, 32 + 1.8 * warmest] : [4, coldest, warmest];
    const ticks = [];
    for (let at = Math.ceil(from / step) * step; at <= to; at += step) ticks.push(this.#fahrenheit ? (at - 32) / 1.8 : at);
    return ticks;
  }

  /** A value with the unit that the server gives it; temperatures in that of the kitchen. */
  figure(value: number, unit: string, decimals: number): string {
    return `${this.amount(value, unit, decimals)}${unit && NO_BREAK + this.unit(unit)}`;
  }

  /** The number of such a value, where its unit stands apart. */
  amount(value: number, unit: string, decimals: number): string {
    return this.number(unit === "°C" ? this.#degrees(value) : value, decimals);
  }

  /** A unit of the server as the kitchen has it. */
  unit(unit: string): string {
    return unit === "°C" ? this.temperatureUnit : unit;
  }

  #degrees(celsius: number): number {
    return this.#fahrenheit ? 32 + 1.8 * celsius : celsius;
  }

  #format(decimals: number): Intl.NumberFormat {
    let found = this.#numbers.get(decimals);
    if (!found) {
      found = new Intl.NumberFormat(this.#locale, { minimumFractionDigits: decimals, maximumFractionDigits: decimals, useGrouping: "min2" });
      this.#numbers.set(decimals, found);
    }
    return found;
  }
}

/** The units of the kitchen that this page is in. */
export function useUnits(): Units {
  const { temperature_unit, mass_unit, locale, zone } = useKitchen();
  return useMemo(() => new Units({ temperature_unit, mass_unit, locale, zone }), [temperature_unit, mass_unit, locale, zone]);
}
