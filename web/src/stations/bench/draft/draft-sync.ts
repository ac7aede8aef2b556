import { Offline, Problem, type Schemas } from "../../../shared/api/client";
import { type Draft, draftOf, withKeysOf } from "./draft";
import { forgetUnsent, rememberUnsent, sameAs, type Start } from "./unsent";

export type SyncState =
  | { state: "saved" }
  | { state: "saving" }
  | { state: "offline" }
  | { state: "refused"; sentence: string }
  | { state: "conflict"; sentence: string };

type Mix = Schemas["MixOut"];

/** The mix where it is kept, as a server does it. */
export type KeptMix = {
  save: (draft: Draft, version: number) => Promise<{ version: number }>;
  load: () => Promise<Mix>;
  /** The mix, or null where the version that is known already is still the one that is kept. */
  loadIfOther: (version: number) => Promise<Mix | null>;
  /** Save while the page is being left; nobody waits for the answer. */
  saveWhileLeaving: (draft: Draft, version: number) => void;
};

/** Other windows of this browser on the same mix. */
export type OtherWindows = { tell: (version: number) => void; hear: (heard: (version: number) => void) => () => void };

export type Listener = {
  /** How far the draft is kept. */
  state: (state: SyncState) => void;
  /** Somebody else's draft, to be shown in place of ours, of which nothing is left to send. */
  adopt: (draft: Draft) => void;
};

export const PAUSE_MS = 300;
export const TYPING_PAUSE_MS = 1500;
export const RETRY_MS = 3000;
/** Others' changes are seen within 2 s: this pause and an answer. */
export const LOOK_MS = 1500;
const MOST_UNANSWERED = 20;
const CHANGED_ELSEWHERE = "This mix has been changed elsewhere meanwhile.";

/**
 * Keeps every edit of one mix without being asked: after a short pause, a longer one while something is being
 * typed, again when the connection is back, and on leaving the page. Until the server has confirmed an edit the
 * browser remembers it too. What others save is shown while nothing of ours waits, and is a conflict otherwise.
 */
export class DraftSync {
  #newest: Draft;
  #kept: Draft;
  #ours: Draft[];
  #version: number;
  #typing = false;
  #told: SyncState["state"] = "saved";
  #stopped = false;
  #sending: Promise<void> | null = null;
  #sendTimer: ReturnType<typeof setTimeout> | undefined;
  #writeTimer: ReturnType<typeof setTimeout> | undefined;
  #looking = false;

  constructor(
    readonly mixId: number,
    start: Start,
    readonly mix: KeptMix,
    readonly windows: OtherWindows,
    readonly listener: Listener,
  ) {
    this.#newest = start.kept;
    this.#kept = start.kept;
    this.#ours = start.ours;
    this.#version = start.version;
  }

  /** Listen to other windows and look for others' changes while `visible`; returns how to stop. */
  watch(visible: () => boolean): () => void {
    const silence = this.windows.hear((version) => version > this.#version && void this.look());
    const timer = setInterval(() => visible() && void this.look(), LOOK_MS);
    return () => {
      silence();
      clearInterval(timer);
    };
  }

  /** The draft as it is now: it is remembered at once and sent after a pause. */
  change(draft: Draft, typing: boolean): void {
    this.#typing = typing;
    if (draft !== this.#newest) {
      this.#newest = draft;
      clearTimeout(this.#writeTimer);
      this.#writeTimer = setTimeout(() => this.remember());
    }
    if (this.#stopped) return;
    clearTimeout(this.#sendTimer);
    if (!this.#waits() && !this.#sending) {
      forgetUnsent(this.mixId);
      if (this.#told === "saving") this.#tell({ state: "saved" });
      return;
    }
    if (this.#told === "saved") this.#tell({ state: "saving" });
    this.#sendTimer = setTimeout(this.keep, typing ? TYPING_PAUSE_MS : PAUSE_MS);
  }

  /** Send what is not saved yet; resolves when all is, rejects when it cannot be. */
  flush(): Promise<void> {
    clearTimeout(this.#sendTimer);
    this.#sending ??= this.#send().finally(() => {
      this.#sending = null;
    });
    return this.#sending;
  }

  /** Send what is not saved yet, and again later where there is no connection. */
  readonly keep = (): void => {
    this.flush().catch((error: unknown) => {
      if (error instanceof Offline) this.#sendTimer = setTimeout(this.keep, RETRY_MS);
    });
  };

  /** After a conflict: go on from what the server holds, with that draft, or with ours to be sent over it. */
  settle(version: number, theirs: Draft | null): void {
    this.#version = version;
    this.#ours = [];
    this.#stopped = false;
    if (theirs) {
      this.#newest = this.#kept = theirs;
      forgetUnsent(this.mixId);
    } else {
      this.#kept = { ...this.#newest }; // what is kept is not ours, whatever ours says: it is sent
    }
    this.#tell({ state: "saved" });
    this.keep();
  }

  /** Let the browser remember what is not confirmed yet. */
  remember(): void {
    clearTimeout(this.#writeTimer);
    if (this.#waits()) rememberUnsent(this.mixId, { version: this.#version, draft: this.#newest, sent: this.#ours });
  }

  /** The page is being left: what waits is remembered and sent without waiting for an answer. */
  leave(): void {
    clearTimeout(this.#sendTimer);
    this.remember();
    if (this.#waits() && !this.#sending && !this.#stopped) this.mix.saveWhileLeaving(this.#newest, this.#version);
  }

  /** See whether somebody else saved the mix: their draft is shown, or it is a conflict with what of ours waits. */
  async look(): Promise<void> {
    if (this.#looking || this.#sending || this.#stopped) return;
    this.#looking = true;
    const theirs = await this.mix.loadIfOther(this.#version).catch(() => null); // no answer is what sending reports
    this.#looking = false;
    if (theirs === null || theirs.version <= this.#version || this.#sending || this.#stopped) return;
    if (this.#ours.some((one) => sameAs(theirs, one))) return; // ours, of which no answer came: sending settles it
    if (this.#waits() || this.#typing) {
      this.#stopped = true;
      this.#tell({ state: "conflict", sentence: CHANGED_ELSEWHERE });
      return;
    }
    if (sameAs(theirs, this.#newest)) {
      this.#version = theirs.version;
      return;
    }
    const draft = withKeysOf(draftOf(theirs), this.#newest);
    this.settle(theirs.version, draft);
    this.listener.adopt(draft);
  }

  #waits(): boolean {
    return this.#newest !== this.#kept;
  }

  /** What is known already is not told again: the whole page would be drawn anew for it. */
  #tell(now: SyncState): void {
    if (now.state === this.#told && !("sentence" in now)) return;
    this.#told = now.state;
    this.listener.state(now);
  }

  async #send(): Promise<void> {
    while (this.#waits() && !this.#stopped) {
      const sent = this.#newest;
      this.#tell({ state: "saving" });
      const before = this.#ours;
      this.#ours = [...before.filter((one) => one !== sent), sent].slice(-MOST_UNANSWERED);
      try {
        this.#version = await this.#save(sent, this.#version, before);
      } catch (error) {
        const now = failed(error);
        this.#stopped = now.state === "conflict";
        this.#tell(now);
        throw error;
      }
      this.#kept = sent;
      this.#ours = [];
      this.windows.tell(this.#version);
      if (this.#newest === sent) forgetUnsent(this.mixId);
      this.#tell({ state: "saved" });
    }
  }

  /**
   * Save a draft and return its new version. A conflict with what this browser itself sent, and never heard of
   * because the page was left or the connection broke, is none: the save goes on from there.
   */
  async #save(draft: Draft, version: number, ours: Draft[]): Promise<number> {
    try {
      return (await this.mix.save(draft, version)).version;
    } catch (error) {
      if (!isConflict(error)) throw error;
      const theirs = await this.mix.load();
      if (sameAs(theirs, draft)) return theirs.version;
      if (!ours.some((one) => sameAs(theirs, one))) throw error;
      return this.#save(draft, theirs.version, []);
    }
  }
}

function isConflict(error: unknown): boolean {
  return error instanceof Problem && error.status === 412;
}

function failed(error: unknown): SyncState {
  if (error instanceof Offline) return { state: "offline" };
  if (error instanceof Problem) return { state: isConflict(error) ? "conflict" : "refused", sentence: error.message };
  return { state: "refused", sentence: String(error) };
}
