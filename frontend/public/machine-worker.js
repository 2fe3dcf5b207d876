// Keeps the page at the machine for a reload with the server away: the shell and what it is made of.
// The server is always asked first; how a pass stands is kept by the page itself, by shop; nothing is
// written from here. What an older shell was made of goes with it, so that no two builds are mixed.
const NAME = "clothyard-machine-2";
const SHELL = "/orders/";
const MADE_OF = /^\/(assets\/|favicon\.svg)/;
const KEPT =
  /^\/(assets\/|favicon\.svg|api\/v1\/(house|faults|orders\/\d+\/passes$|designs\/[0-9a-f]{64}\/path))/;

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) =>
  event.waitUntil(
    (async () => {
      for (const name of await caches.keys()) if (name !== NAME) await caches.delete(name);
      await self.clients.claim();
    })(),
  ),
);

/** Keep a shell; where it is another than before, let go what the one before was made of. */
async function keepShell(cache, answer) {
  const before = await cache.match(SHELL);
  const [was, is] = [before ? await before.text() : "", await answer.clone().text()];
  if (was && was !== is)
    for (const request of await cache.keys())
      if (MADE_OF.test(new URL(request.url).pathname)) await cache.delete(request);
  await cache.put(SHELL, answer);
}

async function serverFirst(request, as) {
  const cache = await caches.open(NAME);
  try {
    const answer = await fetch(request);
    if (answer.ok && as === SHELL) await keepShell(cache, answer.clone());
    else if (answer.ok) await cache.put(as, answer.clone());
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
  if (request.mode === "navigate") event.respondWith(serverFirst(request, SHELL));
  else if (KEPT.test(at.pathname)) event.respondWith(serverFirst(request, at.pathname));
});

// a first visit: the page was loaded before there was a worker to keep it
self.addEventListener("message", (event) => {
  const found = (event.data?.keep ?? []).map((each) => new URL(each));
  const mine = found.filter((at) => at.origin === self.location.origin);
  event.waitUntil(
    (async () => {
      const cache = await caches.open(NAME);
      const shell = mine.find((at) => at.pathname.startsWith(SHELL));
      if (shell && !(await cache.match(SHELL))) {
        const answer = await fetch(shell.href);
        if (answer.ok) await keepShell(cache, answer);
      }
      for (const at of mine)
        if (KEPT.test(at.pathname) && !(await cache.match(at.pathname)))
          await serverFirst(at.href, at.pathname).catch(() => undefined);
    })(),
  );
});
