import type { Said } from "../shared/answering";
import type { Schemas } from "../shared/api/client";

export type Page = Schemas["GuestPage"];

const KEPT = "jalebi.guest.";

/** A sitting that is over, or a link that never was one: what the server says of it. */
export class Over extends Error {}

function place(secret: string): string {
  return `/api/v1/guest/${encodeURIComponent(secret)}`;
}

async function asked(url: string, init?: RequestInit): Promise<unknown> {
  const response = await fetch(url, init);
  const body = (await response.json().catch(() => ({}))) as { detail?: string };
  if (response.status === 404) throw new Over("This link leads to no tasting. Ask for a new one.");
  if (response.status === 422) throw new Over(body.detail ?? "This sitting is over. Ask for a new link.");
  if (!response.ok) throw new Error(body.detail ?? "The server gave no reason.");
  return body;
}

/** The page of a sitting as the server has it, or as it was kept on this device where nobody answers. */
export async function fetchPage(secret: string): Promise<Page> {
  try {
    const page = (await asked(place(secret))) as Page;
    localStorage.setItem(`${KEPT}page`, JSON.stringify({ secret, page }));
    return page;
  } catch (error) {
    const kept = JSON.parse(localStorage.getItem(`${KEPT}page`) ?? "null") as { secret: string; page: Page } | null;
    if (error instanceof Over || kept?.secret !== secret) throw error;
    return kept.page;
  }
}

/** What was said here and is not with the server yet. */
export function waiting(secret: string): Said[] {
  return JSON.parse(localStorage.getItem(`${KEPT}${secret}`) ?? "[]") as Said[];
}

export function keep(secret: string, said: Said): void {
  localStorage.setItem(`${KEPT}${secret}`, JSON.stringify([...waiting(secret), said]));
}

const MOST_AT_ONCE = 60;

/** Send what waits, some at a time; each answer is kept once by its key, however often it is sent. Returns what was refused, in words. */
export async function send(secret: string): Promise<string[]> {
  const answers = waiting(secret);
  const refused: string[] = [];
  for (let at = 0; at < answers.length; at += MOST_AT_ONCE) refused.push(...(await sendSome(secret, answers.slice(at, at + MOST_AT_ONCE))));
  return refused;
}

async function sendSome(secret: string, answers: Said[]): Promise<string[]> {
  const body = JSON.stringify({ answers });
  const kept = (await asked(`${place(secret)}/answers`, { method: "POST", body, headers: { "Content-Type": "application/json" } })) as Schemas["GuestKept"];
  const sent = new Set(answers.map(({ key }) => key));
  localStorage.setItem(`${KEPT}${secret}`, JSON.stringify(waiting(secret).filter(({ key }) => !sent.has(key))));
  return kept.refused;
}
