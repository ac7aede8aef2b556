import { useCallback, useEffect, useRef, useState } from "react";

import { answer, api, Offline, Problem, type Schemas, sendWhileLeaving } from "../../../shared/api/client";
import { bodyOf, type Draft } from "./draft";
import { forgetUnsent, rememberUnsent, sameAs, type Start } from "./unsent";
import { useRemoteChanges } from "./use-remote-changes";

export type DraftSync =
  | { state: "saved" }
  | { state: "saving" }
  | { state: "offline" }
  | { state: "refused"; sentence: string }
  | { state: "conflict"; sentence: string };

export type SavedDraft = {
  sync: DraftSync;
  /** Send what is not saved yet; resolves when all is, rejects when it cannot be. */
  flush: () => Promise<void>;
  /** After a conflict: go on from what the server holds, with that draft, or with ours to be sent over it. */
  settle: (version: number, theirs: Draft | null) => void;
};

const PAUSE_MS = 300;
const TYPING_PAUSE_MS = 1500;
const RETRY_MS = 3000;
const MOST_UNANSWERED = 20;

/**
 * Keep every edit on the server without being asked: after a short pause, a longer one while something is
 * being typed, again when the connection is back, and on leaving the page. Until the server has confirmed it
 * the browser remembers the draft too.
 */
export function useDraftSync(mixId: number, start: Start, draft: Draft, typing: boolean): SavedDraft {
  const [sync, setSync] = useState<DraftSync>({ state: "saved" });
  const latest = useRef<DraftSync["state"]>("saved");
  const newest = useRef(start.kept);
  const kept = useRef(start.kept);
  const ours = useRef(start.ours);
  const version = useRef(start.version);
  const busy = useRef<Promise<void> | null>(null);
  const stopped = useRef(false);
  const timer = useRef<number>(undefined);
  const writing = useRef<number>(undefined);

  // What is known already is not told again: the whole page would be drawn anew for it.
  const tell = useCallback((now: DraftSync) => {
    if (now.state === latest.current && !("sentence" in now)) return;
    latest.current = now.state;
    setSync(now);
  }, []);

  const remember = useCallback(() => {
    window.clearTimeout(writing.current);
    if (newest.current !== kept.current) rememberUnsent(mixId, { version: version.current, draft: newest.current, sent: ours.current });
  }, [mixId]);

  const elsewhere = useCallback((theirs: number) => {
    if (theirs <= version.current || busy.current || stopped.current) return;
    stopped.current = true;
    tell({ state: "conflict", sentence: "This mix has been changed elsewhere meanwhile." });
  }, [tell]);
  const tellOthers = useRemoteChanges(mixId, elsewhere);

  const send = useCallback(async () => {
    while (newest.current !== kept.current && !stopped.current) {
      const sent = newest.current;
      tell({ state: "saving" });
      const before = ours.current;
      ours.current = [...before.filter((one) => one !== sent), sent].slice(-MOST_UNANSWERED);
      try {
        version.current = await sendDraft(mixId, sent, version.current, before);
      } catch (error) {
        const now = failed(error);
        stopped.current = now.state === "conflict";
        tell(now);
        throw error;
      }
      kept.current = sent;
      ours.current = [];
      tellOthers(version.current);
      if (newest.current === sent) forgetUnsent(mixId);
      tell({ state: "saved" });
    }
  }, [mixId, tell, tellOthers]);

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

  const settle = useCallback(
    (theirVersion: number, theirs: Draft | null) => {
      version.current = theirVersion;
      ours.current = [];
      stopped.current = false;
      if (theirs) {
        newest.current = kept.current = theirs;
        forgetUnsent(mixId);
      } else {
        kept.current = { ...newest.current }; // what is kept is not ours, whatever ours says: it is sent
      }
      tell({ state: "saved" });
      keep();
    },
    [keep, mixId, tell],
  );

  useEffect(() => {
    if (newest.current !== draft) {
      newest.current = draft;
      window.clearTimeout(writing.current);
      writing.current = window.setTimeout(remember);
    }
    if (stopped.current) return;
    if (newest.current === kept.current && !busy.current) {
      window.clearTimeout(timer.current);
      forgetUnsent(mixId);
      if (latest.current === "saving") tell({ state: "saved" });
      return;
    }
    if (latest.current === "saved") tell({ state: "saving" });
    window.clearTimeout(timer.current);
    timer.current = window.setTimeout(keep, typing ? TYPING_PAUSE_MS : PAUSE_MS);
  }, [draft, typing, keep, remember, tell, mixId]);

  useEffect(() => {
    const leave = () => {
      window.clearTimeout(timer.current);
      remember();
      if (newest.current === kept.current || busy.current || stopped.current) return;
      sendWhileLeaving(`/api/mixes/${mixId}`, bodyToSave(newest.current, version.current));
    };
    window.addEventListener("pagehide", leave);
    window.addEventListener("online", keep);
    return () => {
      window.removeEventListener("pagehide", leave);
      window.removeEventListener("online", keep);
      leave();
    };
  }, [mixId, keep, remember]);

  return { sync, flush, settle };
}

export function bodyToSave(draft: Draft, version: number): Schemas["DraftToSave"] {
  return { ...bodyOf(draft), name: draft.name, based_on: draft.basedOn ?? null, version };
}

/**
 * Save a draft and return its new version. A conflict with what this browser itself sent, and never heard of
 * because the page was left or the connection broke, is none: the save goes on from there.
 */
async function sendDraft(mixId: number, draft: Draft, version: number, ours: Draft[]): Promise<number> {
  const path = { params: { path: { mix_id: mixId } } };
  try {
    return (await answer(api.PUT("/api/mixes/{mix_id}", { ...path, body: bodyToSave(draft, version) }))).version;
  } catch (error) {
    if (!(error instanceof Problem && error.status === 409)) throw error;
    const theirs = await answer(api.GET("/api/mixes/{mix_id}", path));
    if (sameAs(theirs, draft)) return theirs.version;
    if (!ours.some((one) => sameAs(theirs, one))) throw error;
    return sendDraft(mixId, draft, theirs.version, []);
  }
}

function failed(error: unknown): DraftSync {
  if (error instanceof Problem) {
    return { state: error.status === 409 ? "conflict" : "refused", sentence: error.message };
  }
  return error instanceof Offline ? { state: "offline" } : { state: "refused", sentence: String(error) };
}
