// Keeps the page at the machine for a reload with the server away: the shell, its scripts, and what
// was last asked of a pass. The server is always asked first; nothing is written from here.
const NAME = "clothyard-machine-1";
const KEPT =
  /^\/(assets\/|favicon\.svg|api\/v1\/(house|faults|orders\/\d+\/passes|designs\/[0-9a-f]{64}\/path))/;
const LIVE = /\/machine(\/|$)/; // how the machine stands is never remembered

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

async function serverFirst(request, as) {
  const cache = await caches.open(NAME);
  try {
    const answer = await fetch(request);
    if (answer.ok) await cache.put(as, answer.clone());
    return answer;
  } catch (error) {
    const kept = await cache.match(as);
    if (kept) return kept;
    throw error;
  }
}

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const at = new URL(request.url);
  if (request.method !== "GET" || at.origin !== self.location.origin) return;
  if (request.mode === "navigate") event.respondWith(serverFirst(request, "/orders/"));
  else if (KEPT.test(at.pathname) && !LIVE.test(at.pathname))
    event.respondWith(serverFirst(request, at.pathname));
});
