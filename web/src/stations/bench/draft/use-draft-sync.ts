import { useEffect, useState } from "react";

import type { Draft, Edit } from "./draft";
import { DraftSync, type SyncState } from "./draft-sync";
import { mixOnServer, windowsOn } from "./kept-mix";
import type { Start } from "./unsent";

/** Keeps the draft of a mix for as long as it is on the Bench, and takes in what others make of it. */
export function useDraftSync(mixId: number, start: Start, draft: Draft, typing: boolean, edit: (edit: Edit) => void) {
  const [state, setState] = useState<SyncState>({ state: "saved" });
  const [sync] = useState(
    () => new DraftSync(mixId, start, mixOnServer(mixId), windowsOn(mixId), { state: setState, adopt: (theirs) => edit({ kind: "adopt", draft: theirs }) }),
  );
  useEffect(() => sync.change(draft, typing), [sync, draft, typing]);
  useEffect(() => {
    const leave = () => sync.leave();
    const look = () => document.visibilityState === "visible" && void sync.look();
    const stop = sync.watch(() => document.visibilityState === "visible");
    window.addEventListener("pagehide", leave);
    window.addEventListener("online", sync.keep);
    document.addEventListener("visibilitychange", look);
    return () => {
      stop();
      window.removeEventListener("pagehide", leave);
      window.removeEventListener("online", sync.keep);
      document.removeEventListener("visibilitychange", look);
      leave();
    };
  }, [sync]);
  return { state, sync };
}
