import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";

import { keyOf } from "../src/shared/device-store";
import { Offline, Problem, type Schemas } from "../src/shared/api/client";
import { begun, type Draft, draftOf, edited } from "../src/stations/bench/draft/draft";
import { DraftSync, type KeptMix, LOOK_MS, PAUSE_MS, RETRY_MS, type SyncState, TYPING_PAUSE_MS } from "../src/stations/bench/draft/draft-sync";
import { startOf } from "../src/stations/bench/draft/unsent";
import { CUSTARD, MemoryStorage, mix } from "./mixes";

const MIX = 7;
const CONFLICT = new Problem(412, "changed-meanwhile", "Somebody else changed this mix meanwhile.");

/** A server that keeps one mix and its versions, and can be out of reach, slow or refusing. */
class Server implements KeptMix {
  held: Draft = CUSTARD;
  version = 1;
  fails: Error | null = null;
  /** Keeps what it is sent, and its answer is lost. */
  answersAreLost = false;
  delay = 10;
  saves: string[] = [];

  async save(draft: Draft, version: number): Promise<{ version: number }> {
    await this.#reach();
    if (version !== this.version) throw CONFLICT;
    this.held = draft;
    this.version += 1;
    this.saves.push(sugarOf(draft));
    if (this.answersAreLost) throw new Offline();
    return { version: this.version };
  }

  async load(): Promise<Schemas["MixOut"]> {
    await this.#reach();
    return mix(this.held, this.version);
  }

  async loadIfOther(version: number): Promise<Schemas["MixOut"] | null> {
    const found = await this.load();
    return found.version === version ? null : found;
  }

  saveWhileLeaving(draft: Draft, version: number): void {
    void this.save(draft, version).catch(() => undefined);
  }

  async #reach(): Promise<void> {
    await new Promise((resolve) => setTimeout(resolve, this.delay));
    if (this.fails) throw this.fails;
  }
}

/** Windows of one browser: what one tells the others hear. */
class Browser {
  #listeners = new Set<(version: number) => void>();
  tell = (version: number) => this.#listeners.forEach((heard) => heard(version));
  hear = (heard: (version: number) => void) => {
    this.#listeners.add(heard);
    return () => this.#listeners.delete(heard);
  };
}

/** A window on the mix: its draft, how far it is kept, and its hands. */
class Window {
  states: SyncState["state"][] = [];
  draft: Draft;
  sync: DraftSync;
  close: () => void;

  constructor(server: Server, browser: Browser = new Browser()) {
    const start = startOf(mix(server.held, server.version));
    this.draft = start.state.present;
    this.sync = new DraftSync(MIX, start, server, browser, {
      state: ({ state }) => this.states.push(state),
      adopt: (theirs) => {
        this.draft = theirs;
        this.sync.change(theirs, false);
      },
    });
    this.sync.change(this.draft, false);
    this.close = this.sync.watch(() => true);
  }

  type(amount: string, typing = false): void {
    this.draft = edited(begun(this.draft), { kind: "type", key: this.draft.lines[1]!.key, typed: amount, read: null }).shown;
    this.sync.change(this.draft, typing);
  }

  get state(): SyncState["state"] {
    return this.states.at(-1) ?? "saved";
  }
}

function sugarOf(draft: Draft): string {
  return draft.lines[1]!.typed;
}

let server: Server;
const windows: Window[] = [];
const opened = (browser?: Browser) => {
  const made = new Window(server, browser);
  windows.push(made);
  return made;
};
const pass = (ms: number) => vi.advanceTimersByTimeAsync(ms);

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal("localStorage", new MemoryStorage());
  vi.stubGlobal("sessionStorage", new MemoryStorage());
  server = new Server();
});

afterEach(() => {
  windows.splice(0).forEach((window) => window.close());
  vi.useRealTimers();
});

describe("an edit", () => {
  test("is sent after a pause, and several in a row as one", async () => {
    const window = opened();
    window.type("120");
    window.type("121");
    await pass(PAUSE_MS - 1);
    expect(server.saves).toEqual([]);
    await pass(server.delay + 1);
    expect(server.saves).toEqual(["121"]);
    expect(window.states).toEqual(["saving", "saved"]);
  });

  test("that is still being typed waits longer", async () => {
    const window = opened();
    window.type("12", true);
    await pass(PAUSE_MS * 2);
    expect(server.saves).toEqual([]);
    await pass(TYPING_PAUSE_MS);
    expect(server.saves).toEqual(["12"]);
  });

  test("made while another is on its way follows it, in order", async () => {
    server.delay = 1000;
    const window = opened();
    window.type("120");
    await pass(PAUSE_MS + 500);
    window.type("130");
    await pass(5000);
    expect(server.saves).toEqual(["120", "130"]);
    expect(window.state).toBe("saved");
  });

  test("that is taken back before it was sent is not sent", async () => {
    const window = opened();
    const before = window.draft;
    window.type("120");
    window.draft = before;
    window.sync.change(before, false);
    await pass(5000);
    expect(server.saves).toEqual([]);
    expect(window.state).toBe("saved");
  });
});

describe("without a connection", () => {
  test("it is kept by the browser and sent once there is one", async () => {
    server.fails = new Offline();
    const window = opened();
    window.type("120");
    await pass(PAUSE_MS + server.delay);
    expect(window.state).toBe("offline");
    expect(startOf(mix(server.held, 1)).state.present.lines[1]!.typed).toBe("120");
    server.fails = null;
    await pass(RETRY_MS + server.delay);
    expect(server.saves).toEqual(["120"]);
    expect(window.state).toBe("saved");
    expect(localStorage.getItem(keyOf("unsent", MIX))).toBeNull();
  });

  test("an answer that was lost is nobody else's change", async () => {
    const window = opened();
    server.answersAreLost = true;
    window.type("120");
    await pass(PAUSE_MS + server.delay);
    server.answersAreLost = false;
    window.type("130");
    await pass(RETRY_MS * 2);
    expect(window.state).toBe("saved");
    expect(sugarOf(server.held)).toBe("130");
  });
});

describe("an answer that was lost, and others' changes looked for meanwhile", () => {
  test("is no conflict", async () => {
    const window = opened();
    server.answersAreLost = true;
    window.type("120");
    await pass(PAUSE_MS + server.delay + LOOK_MS + server.delay);
    expect(window.state).toBe("offline");
    server.answersAreLost = false;
    await pass(RETRY_MS);
    expect(window.state).toBe("saved");
    expect(sugarOf(server.held)).toBe("120");
  });
});

describe("what the server refuses", () => {
  test("is said, and a later edit is tried again", async () => {
    const window = opened();
    server.fails = new Problem(422, "no-such-ingredient", "Line 2: there is no ingredient “moon”.");
    window.type("120");
    await pass(PAUSE_MS + server.delay);
    expect(window.state).toBe("refused");
    server.fails = null;
    window.type("121");
    await pass(PAUSE_MS + server.delay);
    expect(server.saves).toEqual(["121"]);
  });
});

describe("a reload", () => {
  test("while a save is in flight goes on from it", async () => {
    server.delay = 1000;
    const before = opened();
    before.type("120");
    await pass(PAUSE_MS + 10);
    before.type("130");
    before.sync.leave();
    before.close();
    await pass(2000); // the save in flight arrives; its window is gone
    const after = opened();
    expect(sugarOf(after.draft)).toBe("130");
    await pass(5000);
    expect(sugarOf(server.held)).toBe("130");
    expect(after.state).toBe("saved");
  });

  test("before the pause was over sends on leaving", async () => {
    const window = opened();
    window.type("120");
    window.sync.leave();
    window.close();
    await pass(server.delay);
    expect(server.saves).toEqual(["120"]);
  });
});

describe("two people", () => {
  test("see each other's changes within 2 s while both look", async () => {
    const ours = opened();
    const theirs = opened();
    theirs.type("120");
    await pass(PAUSE_MS + server.delay);
    await pass(2000 - server.delay);
    expect(sugarOf(ours.draft)).toBe("120");
    await pass(10 * LOOK_MS);
    expect(server.saves).toEqual(["120"]); // what was taken in is not sent back
  });

  test("keep their lines in place when another's draft is shown", async () => {
    const ours = opened();
    const keys = ours.draft.lines.map(({ key }) => key);
    opened().type("120");
    await pass(3000);
    expect(ours.draft.lines.map(({ key }) => key)).toEqual(keys);
  });

  test("are told of a conflict where both changed it, and nothing is overwritten", async () => {
    const ours = opened();
    const theirs = opened();
    theirs.type("120");
    await pass(PAUSE_MS + server.delay);
    ours.type("130");
    await pass(PAUSE_MS + 2 * server.delay);
    expect(ours.state).toBe("conflict");
    expect(sugarOf(server.held)).toBe("120");
    await pass(20_000);
    expect(server.saves).toEqual(["120"]);
    ours.sync.settle(server.version, null);
    await pass(PAUSE_MS + server.delay);
    expect(sugarOf(server.held)).toBe("130");
  });

  test("after taking theirs nothing is sent", async () => {
    const ours = opened();
    server.held = edited(begun(CUSTARD), { kind: "style", style: "gelato" }).present;
    server.version = 2;
    ours.type("130");
    await pass(PAUSE_MS + 2 * server.delay);
    expect(ours.state).toBe("conflict");
    const adopted = draftOf(mix(server.held, 2));
    ours.sync.settle(2, adopted);
    ours.sync.change(adopted, false);
    await pass(10_000);
    expect(server.saves).toEqual([]);
  });

  test("whose drafts say the same only learn the version", async () => {
    const ours = opened();
    server.version = 5;
    await pass(2 * LOOK_MS);
    ours.type("130");
    await pass(PAUSE_MS + server.delay);
    expect(server.version).toBe(6);
    expect(ours.state).toBe("saved");
  });
});

describe("two windows of one browser", () => {
  test("tell each other at once", async () => {
    const browser = new Browser();
    const one = opened(browser);
    const other = opened(browser);
    one.type("120");
    await pass(PAUSE_MS + 3 * server.delay);
    expect(sugarOf(other.draft)).toBe("120");
    other.type("125");
    await pass(PAUSE_MS + 3 * server.delay);
    expect(sugarOf(one.draft)).toBe("125");
    await pass(10_000);
    expect(server.saves).toEqual(["120", "125"]);
  });
});
