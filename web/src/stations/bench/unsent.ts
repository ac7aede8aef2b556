import type { Schemas } from "../../api/client";
import { bodyOf, type Draft, draftOf } from "./draft";

/** Edits that the server has not confirmed yet, kept by the browser through a reload. */
export type Unsent = { version: number; draft: Draft };

const place = (mixId: number) => `jalebi.unsent.${mixId}`;

export function rememberUnsent(mixId: number, unsent: Unsent): void {
  localStorage.setItem(place(mixId), JSON.stringify(unsent));
}

export function forgetUnsent(mixId: number): void {
  localStorage.removeItem(place(mixId));
}

export function unsentOf(mixId: number): Unsent | null {
  try {
    return JSON.parse(localStorage.getItem(place(mixId)) ?? "null") as Unsent | null;
  } catch {
    return null;
  }
}

/** Whether the server holds just what this draft says; what a line weighs is the server's reading of what was typed. */
export function sameAs(mix: Schemas["MixOut"], draft: Draft): boolean {
  return said(draftOf(mix)) === said(draft);
}

function said(draft: Draft): string {
  const { style, overrun_pct, restrictions, aims, lines } = bodyOf(draft);
  const typed = lines.map((line) => [line.ingredient, line.typed, line.unit, line.stage ?? null, line.pinned]);
  return JSON.stringify([draft.name, style, overrun_pct, restrictions, Object.entries(aims).sort(), typed]);
}
