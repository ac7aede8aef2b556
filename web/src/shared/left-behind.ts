import { forgetOnDevice } from "./kept-on-device";

const UNSENT = "jalebi.unsent.";
const PRESSES = "jalebi.press.";
const HISTORY = "jalebi.history.";

function keysOf(storage: Storage, begin: string): string[] {
  return Array.from({ length: storage.length }, (_, at) => storage.key(at) ?? "").filter((key) => key.startsWith(begin));
}

/** What this browser has not sent yet: mixes with edits, and presses of batches. */
export function unsentWork(): { mixes: number; presses: number } {
  return { mixes: keysOf(localStorage, UNSENT).length, presses: keysOf(localStorage, PRESSES).length };
}

/** Forget what the browser keeps of somebody's work, edits that were not sent and undo: the next person is another. */
export function forgetLeftBehind(): void {
  for (const key of [...keysOf(localStorage, UNSENT), ...keysOf(localStorage, PRESSES)]) localStorage.removeItem(key);
  for (const key of keysOf(sessionStorage, HISTORY)) sessionStorage.removeItem(key);
  forgetOnDevice();
  if ("caches" in window) void caches.keys().then((names) => Promise.all(names.map((name) => caches.delete(name))));
}
