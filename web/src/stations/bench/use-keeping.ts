import { useCallback, useEffect, useRef, useState } from "react";

import { answer, api, Offline, Problem, type Schemas, sendWhileLeaving } from "../../api/client";
import { bodyOf, type Draft } from "./draft";
import { forgetUnsent, rememberUnsent, sameAs } from "./unsent";

export type Keeping =
  | { state: "kept" }
  | { state: "keeping" }
  | { state: "offline" }
  | { state: "refused"; sentence: string }
  | { state: "conflict"; sentence: string };

const PAUSE_MS = 300;
const RETRY_MS = 3000;

/**
 * Keep every edit on the server without being asked: after a short pause, again when the connection is
 * back, and on leaving the page. Until the server has confirmed it the browser remembers the draft too.
 */
export function useKeeping(mix: Schemas["MixOut"], draft: Draft, loaded: Draft): { keeping: Keeping; flush: () => Promise<void> } {
  const [keeping, setKeeping] = useState<Keeping>({ state: "kept" });
  const newest = useRef(loaded);
  const kept = useRef(loaded);
  const left = useRef<Draft | null>(draft === loaded ? null : draft);
  const version = useRef(mix.version);
  const busy = useRef<Promise<void> | null>(null);
  const stopped = useRef(false);
  const timer = useRef<number>(undefined);

  const send = useCallback(async () => {
    while (newest.current !== kept.current && !stopped.current) {
      const sent = newest.current;
      setKeeping({ state: "keeping" });
      try {
        version.current = await sendDraft(mix.id, sent, version.current, left.current);
      } catch (error) {
        const now = failed(error);
        stopped.current = now.state === "conflict";
        setKeeping(now);
        throw error;
      }
      kept.current = sent;
      left.current = null;
      if (newest.current === sent) forgetUnsent(mix.id);
      setKeeping({ state: "kept" });
    }
  }, [mix.id]);

  /** Send what is not kept yet; resolves when all is, rejects when it cannot be. */
  const flush = useCallback(async () => {
    window.clearTimeout(timer.current);
    busy.current ??= send().finally(() => {
      busy.current = null;
    });
    return busy.current;
  }, [send]);

  const keep = useCallback(() => {
    flush().catch((error: unknown) => {
      if (error instanceof Offline) timer.current = window.setTimeout(keep, RETRY_MS);
    });
  }, [flush]);

  useEffect(() => {
    if (newest.current === draft) return;
    newest.current = draft;
    rememberUnsent(mix.id, { version: version.current, draft });
    window.clearTimeout(timer.current);
    timer.current = window.setTimeout(keep, PAUSE_MS);
  }, [draft, keep, mix.id]);

  useEffect(() => {
    const leave = () => {
      window.clearTimeout(timer.current);
      if (newest.current === kept.current || busy.current || stopped.current) return;
      sendWhileLeaving(`/api/mixes/${mix.id}`, bodyToSave(newest.current, version.current));
    };
    window.addEventListener("pagehide", leave);
    window.addEventListener("online", keep);
    return () => {
      window.removeEventListener("pagehide", leave);
      window.removeEventListener("online", keep);
      leave();
    };
  }, [mix.id, keep]);

  return { keeping, flush };
}

export function bodyToSave(draft: Draft, version: number): Schemas["DraftToSave"] {
  return { ...bodyOf(draft), name: draft.name, version };
}

/**
 * Save a draft and return its new version. A conflict with what this browser itself sent while leaving the
 * page before is none: the save goes on from there.
 */
async function sendDraft(mixId: number, draft: Draft, version: number, left: Draft | null): Promise<number> {
  const path = { params: { path: { mix_id: mixId } } };
  try {
    return (await answer(api.PUT("/api/mixes/{mix_id}", { ...path, body: bodyToSave(draft, version) }))).version;
  } catch (error) {
    if (!(error instanceof Problem && error.status === 409)) throw error;
    const theirs = await answer(api.GET("/api/mixes/{mix_id}", path));
    if (sameAs(theirs, draft)) return theirs.version;
    if (!left || !sameAs(theirs, left)) throw error;
    return sendDraft(mixId, draft, theirs.version, null);
  }
}

function failed(error: unknown): Keeping {
  if (error instanceof Problem) {
    return { state: error.status === 409 ? "conflict" : "refused", sentence: error.message };
  }
  return error instanceof Offline ? { state: "offline" } : { state: "refused", sentence: String(error) };
}
