import type { Schemas } from "../../shared/api/client";

export type Answer = Schemas["PlanAnswer"];

const MINUTE_MS = 60_000;
const DAY_MIN = 1440;

/** The clock on the wall at a minute of a plan: its hours as the kitchen reads them, whatever the browser's zone is. */
export class PlanClock {
  readonly #origin: number;
  readonly #changes: Answer["clock_changes"];
  readonly #day: Intl.DateTimeFormat;

  constructor({ origin, clock_changes: changes }: Pick<Answer, "origin" | "clock_changes">) {
    this.#origin = localMs(origin);
    this.#changes = changes;
    this.#day = new Intl.DateTimeFormat("en-GB", { weekday: "short", day: "numeric", timeZone: "UTC" });
  }

  /** Minutes since the first midnight, as the wall shows them. */
  #wall(minute: number): number {
    const moved = this.#changes.reduce((sum, change) => sum + (minute >= change.minute ? change.by : 0), 0);
    return this.#origin / MINUTE_MS + minute + moved;
  }

  /** The hour, such as “9:05”. */
  hour(minute: number): string {
    const wall = this.#wall(minute);
    return hourOf(((wall % DAY_MIN) + DAY_MIN) % DAY_MIN);
  }

  /** The weekday and day, such as “Sat 28”. */
  day(minute: number): string {
    return this.#day.format(this.#wall(minute) * MINUTE_MS);
  }

  /** Which day it is, counted. */
  dayNumber(minute: number): number {
    return Math.floor(this.#wall(minute) / DAY_MIN);
  }

  /** Day and hour, such as “Sat 28, 9:05”. */
  when(minute: number): string {
    return `${this.day(minute)}, ${this.hour(minute)}`;
  }

  /** The local time as the server takes it. */
  iso(minute: number): string {
    return new Date(this.#wall(minute) * MINUTE_MS).toISOString().slice(0, 16);
  }

  /** The minute of the plan that it is now in a zone, as far as one can say without the zone's own calendar. */
  now(zone: string): number {
    const parts = new Intl.DateTimeFormat("sv-SE", { dateStyle: "short", timeStyle: "short", timeZone: zone || "UTC" });
    const wall = localMs(parts.format(new Date()).replace(" ", "T")) / MINUTE_MS;
    const minute = wall - this.#origin / MINUTE_MS;
    return this.#changes.reduce((at, change) => (at >= change.minute + change.by ? at - change.by : at), minute);
  }

  /** Full hours of the wall between two minutes, so many apart. */
  hours(from: number, to: number, apart: number): number[] {
    const found = [];
    for (let minute = from; minute <= to; minute += 1) {
      const wall = this.#wall(minute);
      if (wall % (60 * apart) === 0) found.push(minute);
    }
    return found;
  }
}

function localMs(iso: string): number {
  return Date.parse(`${iso.slice(0, 16)}:00Z`);
}

/** Minutes of a day as a clock shows them. */
export function hourOf(minutes: number): string {
  const whole = Math.floor(minutes);
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, "0")}`;
}

/** Minutes as somebody says them, such as “3 h 40”. */
export function lasting(minutes: number): string {
  const [hours, rest] = [Math.floor(minutes / 60), Math.round(minutes % 60)];
  if (hours === 0) return `${rest}\u00a0min`;
  return rest === 0 ? `${hours}\u00a0h` : `${hours}\u00a0h\u00a0${String(rest).padStart(2, "0")}`;
}

/** The local time of a service, such as “Sat 28, 19:30”. */
export function localTime(iso: string): string {
  const at = new Date(localMs(iso));
  const day = new Intl.DateTimeFormat("en-GB", { weekday: "short", day: "numeric", month: "short", timeZone: "UTC" });
  return `${day.format(at)}, ${hourOf(at.getUTCHours() * 60 + at.getUTCMinutes())}`;
}
