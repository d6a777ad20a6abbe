// Keeps the page of a night at hand while the server cannot be reached: the application itself, and each night as it was last
// seen. Only where a browser allows it: on this computer, or over HTTPS. Nothing else is kept, and nothing is answered from here
// while the server answers.
const cacheName = 'eventether-night-2'
const shell = '/'
const night = /^\/api\/nights\/[0-9a-f-]{36}$/

/** Whether an answer is the page of the application, and no download that was opened as a page. */
const isShell = (answer) =>
  answer.ok &&
  !answer.redirected &&
  (answer.headers.get('content-type') ?? '').startsWith('text/html') &&
  !answer.headers.get('content-disposition')

/** Keeps the page with all it is made of, in place of what was kept before: once every part is here. */
async function keepShell(page) {
  const cache = await caches.open(cacheName)
  const text = await page.clone().text()
  const was = await cache.match(shell)
  if (was && (await was.text()) === text) return
  const parts = [...text.matchAll(/(?:src|href)="(\/[^"]+)"/g)].map((m) => m[1])
  await Promise.all(parts.map(async (p) => (await cache.match(p)) ?? cache.add(p)))
  await cache.put(shell, page)
  for (const kept of await cache.keys()) {
    const { pathname } = new URL(kept.url)
    if (pathname.startsWith('/assets/') && !parts.includes(pathname)) await cache.delete(kept)
  }
}

self.addEventListener('install', (e) => {
  e.waitUntil(
    (async () => {
      const page = await fetch(shell, { cache: 'no-store' })
      if (isShell(page)) await keepShell(page)
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

/** A page of the application: from the server, and kept; from what was kept where the server is not reached. */
async function page(e) {
  try {
    const answer = await fetch(e.request)
    if (isShell(answer)) e.waitUntil(keepShell(answer.clone()).catch(() => undefined))
    return answer
  } catch (away) {
    const kept = await (await caches.open(cacheName)).match(shell)
    if (kept) return kept
    throw away
  }
}

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
  if (request.mode === 'navigate') {
    if (!at.pathname.startsWith('/api/') && at.pathname !== '/healthz') e.respondWith(page(e))
  } else if (at.pathname.startsWith('/assets/')) e.respondWith(keptFirst(request))
  else if (night.test(at.pathname)) e.respondWith(serverFirst(request, at.pathname))
  else if (at.pathname === '/theme.js' || at.pathname === '/mark.svg')
    e.respondWith(serverFirst(request, at.pathname))
})
