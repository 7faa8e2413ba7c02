// Keeps a student's page while there is no network: the page as it was seen last, what it is made of, the sounds. Only this student's own things; what the server closes is thrown away.
const STORE = "tembri-my-1", PATIENCE = 4000;

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", event => event.waitUntil((async () => {
  for (const name of await caches.keys()) if (name.startsWith("tembri-my-") && name !== STORE) await caches.delete(name);
  await self.clients.claim();
})()));

// The page says what it is made of once it is open; anything older is let go.
self.addEventListener("message", event => {
  if (event.data?.keep) event.waitUntil(keep(event.data.page, event.data.keep));
});

async function keep(page, addresses) {
  const store = await caches.open(STORE);
  for (const address of [page, ...addresses]) {
    const asset = address.startsWith("/assets/");
    if (asset && await store.match(address)) continue;
    try {
      const answer = await fetch(address);
      if (answer.ok) await store.put(address, answer);
    } catch { /* it is asked for again the next time the page is opened */ }
  }
  const wanted = new Set(addresses);
  for (const request of await store.keys()) {
    const { pathname } = new URL(request.url);
    if (pathname.startsWith("/assets/") && !wanted.has(pathname)) await store.delete(request);
  }
}

async function fresh(request, isPage) {
  const store = await caches.open(STORE);
  const known = await store.match(request, { ignoreVary: true });
  try {
    const asked = fetch(request);
    const answer = known ? await Promise.race([asked, new Promise((_, late) => setTimeout(() => late(new Error("late")), PATIENCE))]) : await asked;
    if (answer.ok) await store.put(request, answer.clone());
    else if (answer.status === 404) await store.delete(request);
    else if (known && answer.status >= 500) return known;
    return answer;
  } catch (e) {
    if (known) return known;
    if (!isPage) throw e;
    return new Response("<!doctype html><meta name=viewport content='width=device-width'><title>No network</title><h1>No network</h1><p>Open this page once with network; then it works without.</p>", { status: 503, headers: { "content-type": "text/html; charset=utf-8" } });
  }
}

self.addEventListener("fetch", event => {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== "GET" || url.origin !== self.location.origin) return;
  if (url.pathname.startsWith("/assets/")) event.respondWith((async () => await (await caches.open(STORE)).match(request) ?? fetch(request))());
  else if (url.pathname.startsWith("/my/") && !url.pathname.endsWith("/worker.js")) event.respondWith(fresh(request, request.mode === "navigate"));
});
