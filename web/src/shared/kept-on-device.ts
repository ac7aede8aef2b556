import { Offline } from "./api/client";
import { keyOf } from "./device-store";

/**
 * Ask the server, and keep its answer on this device: without a connection the last one is as good as any. Signing out
 * forgets all of it.
 */
export async function keptOnDevice<T>(name: string, ask: () => Promise<T>): Promise<T> {
  try {
    const answer = await ask();
    keepOnDevice(name, answer);
    return answer;
  } catch (error) {
    const kept = error instanceof Offline ? readFromDevice<T>(name) : null;
    if (kept === null) throw error;
    return kept;
  }
}

export function keepOnDevice(name: string, answer: unknown): void {
  try {
    localStorage.setItem(keyOf("answer", name), JSON.stringify(answer));
  } catch {
    // a full store keeps what it has: that is older, and still better than nothing
  }
}

function readFromDevice<T>(name: string): T | null {
  const kept = localStorage.getItem(keyOf("answer", name));
  return kept === null ? null : (JSON.parse(kept) as T);
}
