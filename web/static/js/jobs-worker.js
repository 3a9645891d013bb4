/* Keeps the pages of jobs that were looked at, so that they open without a net. The net always goes first. */
const SHELF = "iron-jobs";

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));
self.addEventListener("fetch", (event) => {
  if (event.request.method !== "GET") return;
  event.respondWith((async () => {
    const shelf = await caches.open(SHELF);
    try {
      const answer = await fetch(event.request);
      if (answer.ok && !answer.redirected) await shelf.put(event.request, answer.clone());
      return answer;
    } catch (error) {
      const kept = await shelf.match(event.request, {
        ignoreSearch: false
      });
      if (kept) return kept;
      throw error;
    }
  })());
});
