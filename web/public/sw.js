// Keeps the program, and the rooms that were read, for a bench without a network. Changes are not its business: they wait in
// the page's own queue.
const SHELL = 'waryowl-shell'
const ROOMS = 'waryowl-rooms'

self.addEventListener('install', (e) => e.waitUntil(keep().then(() => self.skipWaiting())))
self.addEventListener('activate', (e) => e.waitUntil(self.clients.claim()))

async function keep() {
  const list = await (await fetch('/files.json', { cache: 'no-store' })).json()
  const shell = await caches.open(SHELL)
  await shell.addAll(list)
  for (const request of await shell.keys()) {
    if (!list.includes(new URL(request.url).pathname)) await shell.delete(request)
  }
}

self.addEventListener('message', (e) => {
  if (e.data === 'forget') e.waitUntil(caches.delete(ROOMS))
})

self.addEventListener('fetch', (e) => {
  const url = new URL(e.request.url)
  if (e.request.method !== 'GET' || url.origin !== location.origin || url.pathname === '/healthz') return
  if (url.pathname.startsWith('/api/')) e.respondWith(fresh(e.request))
  else if (e.request.mode === 'navigate') e.respondWith(page(e.request))
  else e.respondWith(file(e.request))
})

/** A room as the server shows it, or as it was last read. */
async function fresh(request) {
  try {
    const answer = await fetch(request)
    if (answer.ok) {
      const rooms = await caches.open(ROOMS)
      await rooms.put(request, answer.clone())
    }
    return answer
  } catch (error) {
    const kept = await caches.match(request, { cacheName: ROOMS })
    if (kept) return kept
    throw error
  }
}

/** The page itself: the server's when it answers, which also brings a newer program in. */
async function page(request) {
  try {
    const answer = await fetch(request)
    const shell = await caches.open(SHELL)
    const old = await (await shell.match('/'))?.text()
    const now = await answer.clone().text()
    if (answer.ok && old !== now) await keep()
    return answer
  } catch (error) {
    const kept = await caches.match('/', { cacheName: SHELL })
    if (kept) return kept
    throw error
  }
}

async function file(request) {
  return (await caches.match(request, { cacheName: SHELL })) ?? fetch(request)
}
