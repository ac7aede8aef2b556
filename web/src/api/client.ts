import createClient, { type Middleware } from "openapi-fetch";

import type { components, paths } from "./schema";

export type Schemas = components["schemas"];

/** An error answer of the server; the message is a sentence for the user. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    sentence: string,
  ) {
    super(sentence);
  }
}

/** No answer came at all. */
export class Offline extends Error {
  constructor() {
    super("There is no connection to the kitchen’s server.");
  }
}

function cookie(name: string): string {
  const found = document.cookie.split("; ").find((part) => part.startsWith(`${name}=`));
  return found ? decodeURIComponent(found.slice(name.length + 1)) : "";
}

const protection: Middleware = {
  onRequest({ request }) {
    request.headers.set("X-CSRFToken", cookie("csrftoken"));
    return request;
  },
  onError({ error }) {
    return error instanceof DOMException && error.name === "AbortError" ? error : new Offline();
  },
};

export const api = createClient<paths>({ baseUrl: "/" });
api.use(protection);

/** Unwrap an answer: the data, or a thrown Problem. */
export async function answer<T>(
  request: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<T> {
  const { data, error, response } = await request;
  if (!response.ok) {
    const detail = (error as { detail?: unknown } | undefined)?.detail;
    throw new Problem(response.status, typeof detail === "string" ? detail : "The server gave no reason.");
  }
  return data as T;
}

/** Send a body while the page is being left; nobody waits for the answer. */
export function sendWhileLeaving(path: string, body: unknown): void {
  void fetch(path, {
    method: "PUT",
    body: JSON.stringify(body),
    keepalive: true,
    headers: { "Content-Type": "application/json", "X-CSRFToken": cookie("csrftoken") },
  });
}
