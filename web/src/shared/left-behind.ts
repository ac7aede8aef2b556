const UNSENT = "jalebi.unsent.";
const HISTORY = "jalebi.history.";

function keysOf(storage: Storage, begin: string): string[] {
  return Array.from({ length: storage.length }, (_, at) => storage.key(at) ?? "").filter((key) => key.startsWith(begin));
}

/** How many mixes have edits that this browser has not sent yet. */
export function unsentMixes(): number {
  return keysOf(localStorage, UNSENT).length;
}

/** Forget what the browser keeps of somebody's work, edits that were not sent and undo: the next person is another. */
export function forgetLeftBehind(): void {
  for (const key of keysOf(localStorage, UNSENT)) localStorage.removeItem(key);
  for (const key of keysOf(sessionStorage, HISTORY)) sessionStorage.removeItem(key);
}
