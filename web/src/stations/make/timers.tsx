import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";

import type { Schemas } from "../../shared/api/client";
import { ring } from "../../shared/ring";
import { type Units, useUnits } from "../../shared/format/units";
import { countdown, useServerNow } from "./clock";
import { isRunning, type Step } from "./replay";
import { useWork } from "./use-making";
import { watchKey } from "./watch";

const MINUTE_MS = 60_000;
const FIRST_STAGE_MIN = 120;

type Running = { step: Step; began: number };

/** Every clock that runs, docked beside the work; one that has run out calls, and says so. */
export function Timers() {
  const { making, state, clock, choose, step } = useWork();
  const now = useServerNow(clock);
  const client = useQueryClient();
  const isWatched = (id: string) => id === step?.id && (client.getQueryData<Schemas["WatchOut"] | null>(watchKey(making.id, id))?.points.length ?? 0) > 0;
  const running = making.steps
    .filter((step) => isRunning(step, state) && (step.least_min !== null || step.most_min !== null))
    .map((step) => ({ step, began: Date.parse(state.steps[step.id]?.began_at ?? "") }));
  useAlarm(running, now);
  const shown = running.filter((one) => !isWatched(one.step.id)); // what is watched on this page says itself when it is due
  if (shown.length === 0) return null;
  return (
    <ul aria-label="Timers" className="flex flex-wrap gap-2">
      {shown.map((one) => (
        <li key={one.step.id}>
          <button type="button" onClick={() => choose(one.step.id)} className="panel min-h-[56px] px-4 py-2 text-left">
            <TimerFace step={one.step} began={one.began} now={now} />
          </button>
        </li>
      ))}
    </ul>
  );
}

function TimerFace({ step, began, now }: { step: Step; began: number; now: number }) {
  const units = useUnits();
  const least = began + (step.least_min ?? 0) * MINUTE_MS;
  const most = step.most_min === null ? null : began + step.most_min * MINUTE_MS;
  const late = most !== null && now > most;
  return (
    <>
      <span className="block text-sm text-muted">{step.title}</span>
      <b className={`block font-name text-2xl ${now >= least ? "text-hot" : ""}`}>{now < least ? countdown(least - now) : `${countdown(now - least)} over`}</b>
      <span className={`block text-sm ${late ? "font-bold text-hot" : "text-muted"}`}>{said(units, step, began, least, most, late)}</span>
    </>
  );
}

function said(units: Units, step: Step, began: number, least: number, most: number | null, late: boolean): string {
  if (late) return "too long: read the step again";
  if (step.kind === "cool") return `21° by ${units.hour(began + FIRST_STAGE_MIN * MINUTE_MS)}, 5° by ${units.hour(most ?? began, began)}`;
  return most === null ? `ready at ${units.hour(least, began)}` : `from ${units.hour(least, began)}, at the latest ${units.hour(most, began)}`;
}

/** Ring once when a step's time is up, and once when it has taken too long. */
function useAlarm(running: Running[], now: number): void {
  const rung = useRef(new Set<string>());
  const due = running.flatMap(({ step, began }) => {
    const over = (minutes: number | null) => minutes !== null && now >= began + minutes * MINUTE_MS;
    return [over(step.least_min) ? `${step.id} least` : "", over(step.most_min) ? `${step.id} most` : ""].filter(Boolean);
  });
  const said = due.join();
  useEffect(() => {
    const fresh = said.split(",").filter((one) => one && !rung.current.has(one));
    for (const one of fresh) rung.current.add(one);
    if (fresh.length > 0) ring();
  }, [said]);
}
