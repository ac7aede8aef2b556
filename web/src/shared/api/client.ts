import createClient, { type Middleware } from "openapi-fetch";

import { storedFor } from "../device-store";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];

/** An error answer of the server; the message is a sentence for the user. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    /** The code of what is wrong, stable from release to release; empty where the answer is no problem of ours. */
    readonly code: string,
    sentence: string,
    /** What is wrong with single values, by the JSON pointer of each. */
    readonly faults: { pointer: string; detail: string }[] = [],
  ) {
    super(sentence);
  }

  /** The sentence about one value of what was sent. */
  at(pointer: string): string | undefined {
    return this.faults.find((fault) => fault.pointer === pointer)?.detail;
  }
}

/** Nobody answers for now: there is no connection, or the server says that it cannot. */
export class Offline extends Error {
  constructor(sentence = "There is no connection to the kitchen’s server.") {
    super(sentence);
  }
}

const TRY_LATER = 503;

/** The token that shows that a request comes from this page; the page says in which cookie it is. */
function csrfToken(): string {
  const name = document.querySelector<HTMLMetaElement>('meta[name="csrf-cookie"]')?.content ?? "";
  const found = document.cookie.split("; ").find((part) => part.startsWith(`${name}=`));
  return found ? decodeURIComponent(found.slice(name.length + 1)) : "";
}

/** Shows that a request comes from this page, and from whom: a page that is still another person's is refused. */
function signature(): Record<string, string> {
  return { "X-CSRFToken": csrfToken(), "Jalebi-Person": storedFor() };
}

const protection: Middleware = {
  onRequest({ request }) {
    for (const [name, value] of Object.entries(signature())) request.headers.set(name, value);
    return request;
  },
  onError({ error }) {
    return error instanceof DOMException && error.name === "AbortError" ? error : new Offline();
  },
};

type Rooted<Prefix extends string> = { [Path in keyof paths as Path extends `${Prefix}${infer Rest}` ? Rest : never]: paths[Path] };
export type KitchenPaths = Rooted<"/api/v1/kitchens/{kitchen}">;

const ROOT = "/api/v1";

/** Who is signed in, and what is the same in all kitchens. */
export const server = createClient<Rooted<"/api/v1">>({ baseUrl: ROOT });
server.use({ ...protection, onRequest: ({ request }) => (request.headers.set("X-CSRFToken", csrfToken()), request) });

let whenSignedOut: () => void = () => undefined;

/** Say what is done once the server knows this page's person no more: the session has ended, or is another's. */
export function onSignedOut(react: () => void): void {
  whenSignedOut = react;
}

const door: Middleware = {
  onResponse({ response }) {
    if (response.status === 401) whenSignedOut();
  },
};

let place = `${ROOT}/kitchens/-`;

/** All that belongs to the kitchen that was entered. */
export let api = kitchenClient();

function kitchenClient() {
  const client = createClient<KitchenPaths>({ baseUrl: place });
  client.use(protection, door);
  return client;
}

/** Enter a kitchen: from now on everything is asked of it. */
export function enterKitchen(slug: string): void {
  if (place === `${ROOT}/kitchens/${slug}`) return;
  place = `${ROOT}/kitchens/${slug}`;
  api = kitchenClient();
}

/** The address of something in the kitchen, for what is not asked through the client. */
export function addressOf(path: string): string {
  return place + path;
}

/** Says which version was looked at, so that nobody's change is overwritten unseen. */
export function ifMatch(version: number) {
  return { headers: { "If-Match": `"${version}"` } };
}

/** Says that a request is to be done once, however often it is sent with this key. */
export function once(key: string) {
  return { headers: { "Idempotency-Key": key } };
}

/** Unwrap an answer: the data, or a thrown Problem. */
export async function answer<T>(request: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  const { data, error, response } = await request;
  if (!response.ok) throw problemOf(response.status, error);
  return data as T;
}

/** What an error answer says, as an error to throw. */
export function problemOf(status: number, body: unknown): Problem | Offline {
  const { type, detail, errors } = (body ?? {}) as Partial<Schemas["Problem"]>;
  if (status === TRY_LATER) return new Offline(detail);
  return new Problem(status, type?.replace("/problems/", "") ?? "", detail ?? "The server gave no reason.", errors);
}

/** A file as the body of a request, sent as a form is. */
export function asForm(file: File) {
  return {
    body: { file: file as unknown as string }, // which is how the description of the API has a file
    bodySerializer: () => {
      const form = new FormData();
      form.append("file", file);
      return form;
    },
  };
}

/** Fetch a file and hand it to whoever uses the browser, under the name that the server gives it. */
export async function savedFile(path: string): Promise<void> {
  const response = await fetch(addressOf(path)).catch(() => Promise.reject(new Offline()));
  if (!response.ok) {
    throw problemOf(response.status, await response.json().catch(() => null));
  }
  const link = document.createElement("a");
  link.href = URL.createObjectURL(await response.blob());
  link.download = /filename="(.+)"/.exec(response.headers.get("Content-Disposition") ?? "")?.[1] ?? "";
  link.click();
  URL.revokeObjectURL(link.href);
}

/** Send a body while the page is being left; nobody waits for the answer. */
export function sendWhileLeaving(path: string, body: unknown, version: number): void {
  void fetch(addressOf(path), {
    method: "PUT",
    body: JSON.stringify(body),
    keepalive: true,
    headers: { "Content-Type": "application/json", ...signature(), ...ifMatch(version).headers },
  });
}

/** What the server says is wrong with one value of what was sent, by its JSON pointer. */
export function faultAt(error: Error | null, pointer: string): string | undefined {
  return error instanceof Problem ? error.at(pointer) : undefined;
}

/** What went wrong, where no single value is at fault. */
export function faultOfAll(error: Error | null): string | undefined {
  return error instanceof Problem && error.faults.length > 0 ? undefined : error?.message;
}
