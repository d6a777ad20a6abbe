// Keeps the page of a night at hand while the server cannot be reached: the application itself, and each night as it was last
// seen. Only where a browser allows it: on this computer, or over HTTPS. Nothing else is kept, and nothing is answered from here
// while the server answers.
const cacheName = 'eventether-night-1'
const shell = '/'
const night = /^\/api\/nights\/[0-9a-f-]{36}$/

self.addEventListener('install', (e) => {
  e.waitUntil(
    (async () => {
      const cache = await caches.open(cacheName)
      const page = await fetch(shell, { cache: 'no-store' })
      const text = await page.clone().text()
      await cache.put(shell, page)
      const parts = [...text.matchAll(/(?:src|href)="(\/[^"]+)"/g)].map((m) => m[1])
      await Promise.all(parts.map((p) => cache.add(p).catch(() => undefined)))
      await self.skipWaiting()
    })(),
  )
})

self.addEventListener('activate', (e) => {
  e.waitUntil(
    (async () => {
      for (const name of await caches.keys()) if (name !== cacheName) await caches.delete(name)
      await self.clients.claim()
    })(),
  )
})

/** From the server, and kept; from what was kept where the server is not reached. */
async function serverFirst(request, key) {
  const cache = await caches.open(cacheName)
  try {
    const answer = await fetch(request)
    if (answer.ok) await cache.put(key, answer.clone())
    return answer
  } catch (away) {
    const kept = await cache.match(key)
    if (kept) return kept
    throw away
  }
}

/** What never changes under its name: from here, and once from the server. */
async function keptFirst(request) {
  const cache = await caches.open(cacheName)
  const kept = await cache.match(request)
  if (kept) return kept
  const answer = await fetch(request)
  if (answer.ok) await cache.put(request, answer.clone())
  return answer
}

self.addEventListener('fetch', (e) => {
  const { request } = e
  const at = new URL(request.url)
  if (request.method !== 'GET' || at.origin !== self.location.origin) return
  if (request.mode === 'navigate') e.respondWith(serverFirst(request, shell))
  else if (at.pathname.startsWith('/assets/')) e.respondWith(keptFirst(request))
  else if (night.test(at.pathname)) e.respondWith(serverFirst(request, at.pathname))
  else if (at.pathname === '/theme.js' || at.pathname === '/mark.svg')
    e.respondWith(serverFirst(request, at.pathname))
})
