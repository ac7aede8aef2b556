import { useCallback, useLayoutEffect, useRef } from "react";

/** A function that stays the same while what it does is always the newest: what it is handed to is not drawn anew. */
export function useStableCallback<Args extends unknown[]>(act: (...args: Args) => void): (...args: Args) => void {
  const newest = useRef(act);
  useLayoutEffect(() => {
    newest.current = act;
  });
  return useCallback((...args: Args) => newest.current(...args), []);
}
