import { keyOf } from "../../../shared/device-store";
import type { Draft, DraftState, Line } from "./draft";

/** Every draft of a session, its lines named by their place in one pool: most drafts share most lines. */
type Packed = { pool: Line[]; drafts: (Omit<Draft, "lines"> & { lines: number[] })[]; present: number };

const place = (mixId: number) => keyOf("history", mixId);

/** Keep undo and redo through a reload of this tab; a browser that has no room left keeps the newer half. */
export function rememberHistory(mixId: number, state: DraftState): void {
  for (let steps = state.past.length; steps >= 0; steps = steps > 0 ? Math.floor(steps / 2) : -1) {
    try {
      sessionStorage.setItem(place(mixId), JSON.stringify(packed({ ...state, past: state.past.slice(0, steps) })));
      return;
    } catch {
      sessionStorage.removeItem(place(mixId));
    }
  }
}

/** What this tab remembers of a mix; null where it is nothing that can be read. */
export function historyOf(mixId: number): DraftState | null {
  try {
    const found = JSON.parse(sessionStorage.getItem(place(mixId)) ?? "null") as Packed | null;
    return found && unpacked(found);
  } catch {
    return null;
  }
}

function packed({ past, present, future }: DraftState): Packed {
  const places = new Map<Line, number>();
  const at = (line: Line) => {
    if (!places.has(line)) places.set(line, places.size);
    return places.get(line)!;
  };
  const drafts = [...past, present, ...future].map((draft) => ({ ...draft, lines: draft.lines.map(at) }));
  return { pool: [...places.keys()], drafts, present: past.length };
}

function unpacked({ pool, drafts, present: at }: Packed): DraftState {
  const all = drafts.map((draft): Draft => ({ ...draft, lines: draft.lines.map((number) => pool[number]!) }));
  const present = all[at]!;
  return { unit: "g", past: all.slice(0, at), present, future: all.slice(at + 1), typing: null, shown: present };
}
