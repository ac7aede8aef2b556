import type { Schemas } from "../../../shared/api/client";
import { keyOf } from "../../../shared/device-store";
import type { MassUnit } from "../../../shared/format/units";
import { begun, bodyOf, type Draft, type DraftState, draftOf } from "./draft";
import { historyOf } from "./history";

/**
 * Edits that the server has not confirmed yet, kept by the browser through a reload, and the version they were made
 * from; `sent` are drafts on their way to it, of which nobody knows whether they arrived.
 */
export type Unsent = { version: number; draft: Draft; sent?: Draft[] };

const place = (mixId: number) => keyOf("unsent", mixId);

export function rememberUnsent(mixId: number, unsent: Unsent): void {
  localStorage.setItem(place(mixId), JSON.stringify(unsent));
}

export function forgetUnsent(mixId: number): void {
  localStorage.removeItem(place(mixId));
}

function unsentOf(mixId: number): Unsent | null {
  try {
    return JSON.parse(localStorage.getItem(place(mixId)) ?? "null") as Unsent | null;
  } catch {
    return null;
  }
}

/** Where to begin: `kept` is the draft that the server holds, at `version`; what it may hold of `ours` is nobody else's. */
export type Start = { state: DraftState; kept: Draft; version: number; ours: Draft[] };

/**
 * Begin with what the server holds, or with edits of this browser that it has not confirmed yet; either with
 * the undo of this tab, where that leads up to it.
 */
export function startOf(mix: Schemas["MixOut"], unit: MassUnit = "g"): Start {
  const held = draftOf(mix);
  const unsent = unsentOf(mix.id);
  const ahead = unsent !== null && !sameAs(mix, unsent.draft);
  const present = ahead ? unsent.draft : held;
  const history = historyOf(mix.id);
  const state = history && said(history.present) === said(present) ? { ...history, unit } : begun(present, unit);
  if (!ahead) return { state, kept: state.present, version: mix.version, ours: [] };
  return { state, kept: held, version: unsent.version, ours: [unsent.draft, ...(unsent.sent ?? [])] };
}

/** Whether the server holds just what this draft says; what a line weighs is the server's reading of what was typed. */
export function sameAs(mix: Schemas["MixOut"], draft: Draft): boolean {
  return said(draftOf(mix)) === said(draft);
}

function said(draft: Draft): string {
  const { style, overrun_pct, restrictions, aims, machine, lines } = bodyOf(draft);
  const typed = lines.map((line) => [
    line.ingredient, line.typed, line.unit, line.stage ?? null, line.pinned,
    line.least_g ?? null, line.most_g ?? null, line.step_g ?? null, line.whole ?? null, line.note, line.form ?? null,
  ]);
  return JSON.stringify([draft.name, style, overrun_pct, restrictions, Object.entries(aims).sort(), machine, draft.basedOn ?? null, typed]);
}
