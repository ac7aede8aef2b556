import { beforeEach, expect, test, vi } from "vitest";

import { fetchPage, keep, Over, send, waiting } from "../src/guest/sitting";
import type { Said } from "../src/shared/answering";

const SECRET = "OHan2EHjGfIRmBzdPNcfaQ";
const PAGE = { kitchen: "Ours", servings: [] };

const said = (serving: number): Said => ({ key: `key-${serving}`, serving, picked: ["417"], liking: {}, marks: {} });

function answers(status: number, body: unknown) {
  return vi.fn(() => Promise.resolve(new Response(JSON.stringify(body), { status })));
}

beforeEach(() => {
  const kept = new Map<string, string>();
  vi.stubGlobal("localStorage", { getItem: (key: string) => kept.get(key) ?? null, setItem: (key: string, value: string) => kept.set(key, value) });
});

test("what was said waits until the server has it, and only that is forgotten", async () => {
  keep(SECRET, said(0));
  vi.stubGlobal("fetch", vi.fn(() => Promise.reject(new TypeError("offline"))));
  await expect(send(SECRET)).rejects.toThrow();
  expect(waiting(SECRET)).toHaveLength(1);
  const server = answers(200, { kept: 1, refused: [] });
  vi.stubGlobal("fetch", vi.fn(() => {
    keep(SECRET, said(1)); // said while the first one is on its way
    return server();
  }));
  expect(await send(SECRET)).toEqual([]);
  expect(waiting(SECRET).map(({ key }) => key)).toEqual(["key-1"]);
});

test("an evening without a connection is sent some at a time, and nothing stays behind", async () => {
  for (let serving = 0; serving < 150; serving++) keep(SECRET, said(serving));
  const sizes: number[] = [];
  vi.stubGlobal("fetch", (_url: string, init: RequestInit) => {
    sizes.push((JSON.parse(init.body as string) as { answers: Said[] }).answers.length);
    return Promise.resolve(new Response(JSON.stringify({ kept: sizes.at(-1), refused: [] })));
  });
  expect(await send(SECRET)).toEqual([]);
  expect(sizes).toEqual([60, 60, 30]);
  expect(waiting(SECRET)).toEqual([]);
});

test("what was refused is told in words and not sent again", async () => {
  keep(SECRET, said(0));
  vi.stubGlobal("fetch", answers(200, { kept: 0, refused: ["Ada has answered this already."] }));
  expect(await send(SECRET)).toEqual(["Ada has answered this already."]);
  expect(waiting(SECRET)).toEqual([]);
});

test("a page that was seen is there without a server, but not another sitting’s", async () => {
  vi.stubGlobal("fetch", answers(200, PAGE));
  await fetchPage(SECRET);
  vi.stubGlobal("fetch", vi.fn(() => Promise.reject(new TypeError("offline"))));
  expect(await fetchPage(SECRET)).toEqual(PAGE);
  await expect(fetchPage("another")).rejects.toThrow();
});

test("a sitting that is over is not shown from the device", async () => {
  vi.stubGlobal("fetch", answers(200, PAGE));
  await fetchPage(SECRET);
  vi.stubGlobal("fetch", answers(422, { detail: "This sitting is over. Ask for a new link." }));
  await expect(fetchPage(SECRET)).rejects.toBeInstanceOf(Over);
  keep(SECRET, said(0));
  await expect(send(SECRET)).rejects.toThrow("This sitting is over");
  expect(waiting(SECRET)).toHaveLength(1);
});
