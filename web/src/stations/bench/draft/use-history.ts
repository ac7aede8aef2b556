import { useEffect, useRef } from "react";

import { edited, type DraftState } from "./draft";
import { rememberHistory } from "./history";

const REST_MS = 800;

/** Remember undo and redo of this tab once the hands rest, and on leaving the page. */
export function useHistory(mixId: number, state: DraftState): void {
  const newest = useRef(state);
  useEffect(() => {
    newest.current = state;
  });
  useEffect(() => {
    const timer = window.setTimeout(() => rememberHistory(mixId, edited(newest.current, { kind: "done" })), REST_MS);
    return () => window.clearTimeout(timer);
  }, [mixId, state]);
  useEffect(() => {
    const leave = () => rememberHistory(mixId, edited(newest.current, { kind: "done" }));
    window.addEventListener("pagehide", leave);
    return () => {
      window.removeEventListener("pagehide", leave);
      leave();
    };
  }, [mixId]);
}
