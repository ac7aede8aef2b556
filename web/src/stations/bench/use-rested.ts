import { useEffect, useState } from "react";

const REST_MS = 350;

/** A value once it has not changed for a moment: what is slow to compute waits until the hands rest. */
export function useRested<T>(value: T): T {
  const [rested, setRested] = useState(value);
  const written = JSON.stringify(value);
  useEffect(() => {
    const timer = window.setTimeout(() => setRested(JSON.parse(written) as T), REST_MS);
    return () => window.clearTimeout(timer);
  }, [written]);
  return rested;
}
