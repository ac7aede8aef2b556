import type { Schemas } from "../../shared/api/client";

type Weekly = Schemas["WeeklyHours"];

const DAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];

/** Weekly hours as somebody types them: “Mon–Sat 9:00–17:30; Sun 10:00–14:00”. */
export function hoursTyped(hours: readonly Weekly[]): string {
  return hours.map(({ days, start, end }) => `${daysTyped(days)} ${clock(start)}–${clock(end)}`).join("; ");
}

/** The same read; empty is none, null what cannot be read. */
export function readHours(typed: string): Weekly[] | null {
  if (typed.trim() === "") return [];
  const found = typed.split(";").map((part) => readOne(part.trim()));
  return found.includes(null) ? null : (found as Weekly[]);
}

function readOne(part: string): Weekly | null {
  const read = /^(?:(.*?)\s+)?(\d{1,2})(?:[:.](\d{2}))?\s*(?:–|-|to)\s*(\d{1,2})(?:[:.](\d{2}))?$/i.exec(part);
  if (!read) return null;
  const [, days = "", startHour, startMinute = "0", endHour, endMinute = "0"] = read;
  const [start, end] = [60 * Number(startHour) + Number(startMinute), 60 * Number(endHour) + Number(endMinute)];
  const known = readDays(days);
  return known === null || start > 1440 || end > 1440 ? null : { days: known, start, end };
}

function readDays(typed: string): number[] | null {
  if (typed.trim() === "" || /^every ?day$/i.test(typed.trim())) return DAYS.map((_, at) => at);
  const found = new Set<number>();
  for (const part of typed.split(/[,\s]+/).filter(Boolean)) {
    const [from, to = from] = part.split(/–|-/).map((day) => DAYS.findIndex((known) => day.toLowerCase().startsWith(known.toLowerCase())));
    if (from === undefined || to === undefined || from < 0 || to < 0) return null;
    for (let day = from; ; day = (day + 1) % DAYS.length) {
      found.add(day);
      if (day === to) break;
    }
  }
  return [...found].sort();
}

function daysTyped(days: readonly number[]): string {
  const sorted = [...new Set(days)].sort((one, other) => one - other);
  const runs: number[][] = [];
  for (const day of sorted) {
    const last = runs.at(-1);
    if (last && day === last.at(-1)! + 1) last.push(day);
    else runs.push([day]);
  }
  return runs.map((run) => (run.length > 2 ? `${DAYS[run[0]!]}–${DAYS[run.at(-1)!]}` : run.map((day) => DAYS[day]).join(", "))).join(", ");
}

function clock(minutes: number): string {
  return `${Math.floor(minutes / 60)}:${String(minutes % 60).padStart(2, "0")}`;
}
