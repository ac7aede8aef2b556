import { useEffect, useState } from "react";

/** The server's clock on this page: its own hour when it answered, and what has gone by since by a clock that never jumps. */
export type ServerClock = { at: number; mono: number };

export function clockOf(now: string): ServerClock {
  return { at: Date.parse(now), mono: performance.now() };
}

/** What the server's clock shows now, looked at every second. */
export function useServerNow(clock: ServerClock): number {
  const [now, setNow] = useState(() => performance.now());
  useEffect(() => {
    const timer = window.setInterval(() => setNow(performance.now()), 1000);
    return () => window.clearInterval(timer);
  }, []);
  return clock.at + Math.max(0, now - clock.mono);
}

/** A while as a timer shows it: “12:40”, and from an hour on “3 h 05”. */
export function countdown(ms: number): string {
  const seconds = Math.max(0, Math.ceil(ms / 1000));
  const two = (value: number) => String(value).padStart(2, "0");
  if (seconds >= 3600) return `${Math.floor(seconds / 3600)} h ${two(Math.floor((seconds % 3600) / 60))}`;
  return `${Math.floor(seconds / 60)}:${two(seconds % 60)}`;
}
