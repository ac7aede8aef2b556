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
    throw new Problem(response.status, sentenceOf(error as { detail?: unknown } | undefined));
  }
  return data as T;
}

function sentenceOf(problem: { detail?: unknown } | null | undefined): string {
  return typeof problem?.detail === "string" ? problem.detail : "The server gave no reason.";
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
  const response = await fetch(path).catch(() => Promise.reject(new Offline()));
  if (!response.ok) {
    const problem = (await response.json().catch(() => null)) as { detail?: unknown } | null;
    throw new Problem(response.status, sentenceOf(problem));
  }
  const link = document.createElement("a");
  link.href = URL.createObjectURL(await response.blob());
  link.download = /filename="(.+)"/.exec(response.headers.get("Content-Disposition") ?? "")?.[1] ?? "";
  link.click();
  URL.revokeObjectURL(link.href);
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
