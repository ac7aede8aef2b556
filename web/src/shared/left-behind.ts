import { keysOf } from "./device-store";

/** What this browser has not sent yet for who is signed in: mixes with edits, and presses of batches. */
export function unsentWork(): { mixes: number; presses: number } {
  return { mixes: keysOf("unsent").length, presses: keysOf("press").length };
}

/** Forget what the browser keeps for who signs out; what was not sent stays where they want to come back for it. */
export function forgetLeftBehind({ unsentStays }: { unsentStays: boolean }): void {
  for (const kind of ["answer", ...(unsentStays ? [] : (["unsent", "press"] as const))] as const) {
    for (const key of keysOf(kind)) localStorage.removeItem(key);
  }
  for (const kind of ["history", "step", "tare"] as const) for (const key of keysOf(kind, sessionStorage)) sessionStorage.removeItem(key);
  if ("caches" in window) void caches.keys().then((names) => Promise.all(names.map((name) => caches.delete(name))));
}
