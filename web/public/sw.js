// Keeps the program, and the rooms that were read, for a bench without a network. Changes are not its business: they wait in
// the page's own queue.
const SHELL = 'waryowl-shell'
const ROOMS = 'waryowl-rooms'

self.addEventListener('install', (e) => e.waitUntil(keep().then(() => self.skipWaiting())))
self.addEventListener('activate', (e) => e.waitUntil(self.clients.claim()))

async function keep() {
  const { now, later } = await (await fetch('/files.json', { cache: 'no-store' })).json()
  const shell = await caches.open(SHELL)
  await shell.addAll(now)
  for (const request of await shell.keys()) {
    if (![...now, ...later].includes(new URL(request.url).pathname)) await shell.delete(request)
  }
}

/** What is large comes once somebody has signed in. */
async function keepAll() {
  const { later } = await (await fetch('/files.json', { cache: 'no-store' })).json()
  const shell = await caches.open(SHELL)
  for (const path of later) if (!(await shell.match(path))) await shell.add(path)
}

self.addEventListener('message', (e) => {
  if (e.data === 'forget') e.waitUntil(caches.delete(ROOMS))
  if (e.data === 'all') e.waitUntil(keepAll().catch(() => undefined))
})

self.addEventListener('fetch', (e) => {
  const url = new URL(e.request.url)
  if (e.request.method !== 'GET' || url.origin !== location.origin) return
  if (url.pathname === '/healthz' || url.pathname === '/api/events') return // a stream is never kept
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
  const kept = await caches.match(request, { cacheName: SHELL })
  if (kept) return kept
  const answer = await fetch(request)
  if (answer.ok && new URL(request.url).pathname.startsWith('/assets/')) {
    const shell = await caches.open(SHELL)
    await shell.put(request, answer.clone())
  }
  return answer
}
