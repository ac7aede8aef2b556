import { useEffect, useState } from "react";

const REST_MS = 350;

/** A value once it has been the same for a moment: what is slow to compute waits until the hands rest. */
export function useDebouncedValue<T>(value: T): T {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const timer = window.setTimeout(() => setRested(value), REST_MS);
    return () => window.clearTimeout(timer);
  }, [value]);
  return rested;
}
