// Keeps the page itself on this device, so that a reload without a server works. It never keeps what the API says.
// There are two of it: one for the stations, and one for the page of guests, which keeps little.
const BUILD = "__BUILD__";
const FILES = __FILES__;
const PAGE = "__PAGE__";
const GUESTS = "/guest/";
const FAMILY = PAGE === GUESTS ? "guest-" : "jalebi-";
const SHELL = FAMILY + BUILD;

self.addEventListener("install", (event) => {
  event.waitUntil(caches.open(SHELL).then((cache) => cache.addAll([...FILES, PAGE])).then(() => self.skipWaiting()));
});

// A new build takes over at the next navigation; the one before it stays until then, for pages that are still open.
self.addEventListener("activate", (event) => {
  event.waitUntil(
    caches.keys().then((names) => {
      const ours = names.filter((name) => name.startsWith(FAMILY));
      return Promise.all(ours.filter((name) => name !== SHELL).slice(0, -1).map((name) => caches.delete(name)));
    }),
  );
});

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const { origin, pathname } = new URL(request.url);
  if (request.method !== "GET" || origin !== self.location.origin || pathname.startsWith("/api/")) return;
  if (pathname.startsWith(GUESTS) !== (PAGE === GUESTS) && request.mode === "navigate") return;
  if (request.mode === "navigate") event.respondWith(freshPage(request));
  else if (pathname.startsWith("/assets/")) event.respondWith(keptFile(request));
});

/** The page as the server has it, or as it was kept where nobody answers. */
async function freshPage(request) {
  try {
    const answer = await fetch(request);
    if (answer.ok && answer.type === "basic") {
      const cache = await caches.open(SHELL);
      await cache.put(PAGE, answer.clone());
      return answer;
    }
    if (answer.status < 500) return answer;
  } catch {
    // nobody answers: below is what was kept
  }
  return (await caches.match(PAGE)) ?? Response.error();
}

/** A file of the build: its name says what is in it, so it never changes. */
async function keptFile(request) {
  return (await caches.match(request, { ignoreVary: true })) ?? fetch(request);
}
