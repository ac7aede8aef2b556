import { useCallback, useEffect, useRef } from "react";

import { answer, api } from "../../../shared/api/client";

const LOOK_MS = 20_000;

/**
 * Hear of saves of the same mix: at once from other windows of this browser, and from other people whenever
 * this window is looked at again, or now and then while it is. Returns how to tell other windows of ours.
 */
export function useRemoteChanges(mixId: number, heard: (version: number) => void): (version: number) => void {
  const channel = useRef<BroadcastChannel>(undefined);
  useEffect(() => {
    const open = new BroadcastChannel(`jalebi.mix.${mixId}`);
    channel.current = open;
    open.onmessage = (event: MessageEvent<number>) => heard(event.data);
    const look = () => {
      if (document.visibilityState !== "visible") return;
      answer(api.GET("/api/mixes/{mix_id}", { params: { path: { mix_id: mixId } } })).then(
        (mix) => heard(mix.version),
        () => undefined, // no answer is what the draft sync reports
      );
    };
    const timer = window.setInterval(look, LOOK_MS);
    document.addEventListener("visibilitychange", look);
    return () => {
      open.close();
      window.clearInterval(timer);
      document.removeEventListener("visibilitychange", look);
    };
  }, [mixId, heard]);
  return useCallback((version: number) => channel.current?.postMessage(version), []);
}
