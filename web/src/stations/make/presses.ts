import { answer, api, Offline, type Schemas } from "../../shared/api/client";
import { keyOf, keysOf } from "../../shared/device-store";

export type EventKind = Schemas["NewEvent"]["kind"];

/** What is pressed: the rest of an event is of the device. */
export type Said = { kind: EventKind } & Partial<Omit<Schemas["NewEvent"], "kind" | "key" | "device" | "counter" | "ago_ms">>;

/** A press as it lies on this device until the server has it: whose batch, its key and order, and when it was made. */
export type Press = Said & { batch: number; key: string; device: string; counter: number; at: number; mono: number; page: string };

export type Refused = { key: string | null; sentence: string };

const DEVICE = "jalebi.device";
const COUNTER = "jalebi.counter";
const MOST_AT_ONCE = 100;
const PATIENCE_MS = 10_000; // whoever does not answer in that time is not there: the same is sent again
const PAGE = crypto.randomUUID();

/** A name for this device that stays; a browser that forgets it is another device. */
export function deviceName(): string {
  const known = localStorage.getItem(DEVICE);
  if (known) return known;
  const name = crypto.randomUUID();
  localStorage.setItem(DEVICE, name);
  return name;
}

/** Keep a press on this device before anything else happens to it. */
export function keepPress(batch: number, said: Said): Press {
  const counter = Math.max(Number(localStorage.getItem(COUNTER) ?? 0) + 1, Date.now());
  localStorage.setItem(COUNTER, String(counter)); // rises over every tab of this browser, also where one begins anew
  const press = { ...said, batch, key: crypto.randomUUID(), device: deviceName(), counter, at: Date.now(), mono: performance.now(), page: PAGE };
  localStorage.setItem(keyOf("press", press.key), JSON.stringify(press));
  return press;
}

/** The presses that wait on this device, of one batch or of all, in the order in which they were made. */
export function waitingPresses(batch?: number): Press[] {
  return keysOf("press")
    .map((key) => JSON.parse(localStorage.getItem(key) ?? "null") as Press | null)
    .filter((press): press is Press => press !== null && (batch === undefined || press.batch === batch))
    .sort((one, other) => one.counter - other.counter);
}

export function dropPress(key: string): void {
  localStorage.removeItem(keyOf("press", key));
}

/** How long ago a press was made: by the page's own clock, which never jumps, or where that is gone by the device's. */
function agoMs(press: Press): number {
  const ago = press.page === PAGE ? performance.now() - press.mono : Date.now() - press.at;
  return Math.min(Math.max(0, Math.round(ago)), 29 * 24 * 3_600_000);
}

function eventOf(press: Press): Schemas["NewEvent"] {
  const { batch: _batch, at: _at, mono: _mono, page: _page, ...event } = press;
  return { step: "", text: "", name: "", more: "", done: true, sure: false, ...event, ago_ms: agoMs(press) };
}

/** What came of sending: the state of the batch with all that waited, or that nobody answers. */
export type Sent = { state: Schemas["MakingState"] | null; refused: Refused[]; offline: boolean };

/** Send what waits of a batch, one sender of this browser at a time; a press leaves the device once the server has it. */
export async function sendPresses(batch: number): Promise<Sent> {
  return await navigator.locks.request(`jalebi.presses.${batch}`, async (): Promise<Sent> => {
    const sent: Sent = { state: null, refused: [], offline: false };
    for (;;) {
      const waiting = waitingPresses(batch).slice(0, MOST_AT_ONCE);
      if (waiting.length === 0) return sent;
      const body = { events: waiting.map(eventOf) };
      try {
        const taken = await answer(api.POST("/batches/{batch_id}/events", { params: { path: { batch_id: batch } }, body, signal: AbortSignal.timeout(PATIENCE_MS) }));
        for (const press of waiting) dropPress(press.key);
        sent.state = taken.state;
        sent.refused.push(...taken.refused.map((one) => ({ key: one.key ?? null, sentence: one.problem.detail })));
      } catch (error) {
        if (!(error instanceof Offline)) throw error;
        return { ...sent, offline: true };
      }
    }
  });
}
