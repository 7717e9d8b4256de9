import { openDB, type IDBPDatabase } from 'idb'
import { defineStore } from 'pinia'
import { computed, ref, watch } from 'vue'

import { once, type Problem } from '../../api/client'
import { fate, sendable } from '../change'

/** One change that waits in this browser until the server has taken it. */
export interface Waiting {
  seq?: number
  user: string
  study: string
  unit: string
  /** The row that it makes or changes: a conflict holds back only later entries of the same row. */
  row: string
  method: 'POST' | 'DELETE'
  path: string
  body?: Record<string, unknown>
  header: ReturnType<typeof once>
  /** The line of the bench, where it is one: the parser applies it before the server has it. */
  line?: string
  /** Its facts as lines of the grammar, where it was read and answered before it was sent. */
  lines?: string[]
  text: string
  problem?: Problem
}

const channel = typeof BroadcastChannel === 'undefined' ? undefined : new BroadcastChannel('waryowl-outbox')
let database: Promise<IDBPDatabase> | undefined
const db = () =>
  (database ??= openDB('waryowl', 1, {
    upgrade: (d) => void d.createObjectStore('outbox', { keyPath: 'seq', autoIncrement: true }),
  }))

/**
 * The queue of the bench. Entries are kept over a reload, belong to the user who made them, and are sent in their order by one
 * tab; the key of each makes sending it again harmless. What the server refuses stays in a tray with both sides.
 */
export const useOutbox = defineStore('outbox', () => {
  const all = ref<Waiting[]>([])
  const user = ref('')
  const listeners = new Set<() => unknown>()
  const entries = computed(() => all.value.filter((e) => e.user === user.value))
  const waiting = computed(() => entries.value.filter((e) => !e.problem))
  const tray = computed(() => entries.value.filter((e) => e.problem))
  /** The queue of this user has been read: before that nobody can say that all is saved. */
  const known = ref(false)
  /** Entries that are being written into the queue. */
  const coming = ref(0)
  const reached = ref(true)
  /** The entry that is on its way: the server may have it already, so that dropping it here would not take it back. */
  const flight = ref<number>()
  let sending = false
  let more = false
  let wake: (() => void) | undefined

  async function reload() {
    all.value = (await (await db()).getAll('outbox')) as Waiting[]
  }
  async function changed() {
    await reload()
    channel?.postMessage('changed')
  }
  async function add(entry: Omit<Waiting, 'user' | 'header' | 'seq'>) {
    const header = once()
    coming.value++
    try {
      await (await db()).add('outbox', JSON.parse(JSON.stringify({ ...entry, header, user: user.value })))
      await changed()
    } finally {
      coming.value--
    }
    void send()
  }
  async function drop(entry: Waiting) {
    await (await db()).delete('outbox', entry.seq!)
    await changed()
  }
  /** Takes an entry of the tray up again, as a change of its own. */
  async function again(entry: Waiting, change: Partial<Waiting> = {}) {
    await (
      await db()
    ).put('outbox', JSON.parse(JSON.stringify({ ...entry, ...change, header: once(), problem: undefined })))
    await changed()
    void send()
  }

  /** Sends what can be sent; true when nothing more can be done now. */
  async function round(): Promise<boolean> {
    await reload()
    const next = sendable(entries.value)
    if (!next) return true
    let answer: Response
    flight.value = next.seq
    try {
      answer = await fetch(next.path, {
        method: next.method,
        headers: { 'Content-Type': 'application/json', ...next.header },
        body: next.body && JSON.stringify(next.body),
      })
    } catch {
      reached.value = false
      return false
    }
    const came = fate(answer.status)
    if (came === 'wait') {
      reached.value = false
      return false
    }
    reached.value = true
    if (came === 'sign in') return true // it keeps; who made it must sign in again
    const d = await db()
    if (came === 'taken') {
      // The room is read again before the entry goes: its tiles never fall back to what was before it.
      if (waiting.value.length < 4) await told()
      await d.delete('outbox', next.seq!)
    } else {
      const problem = (await answer
        .json()
        .catch(() => ({ title: answer.statusText, status: answer.status, detail: '' }))) as Problem
      await d.put('outbox', JSON.parse(JSON.stringify({ ...next, problem })))
    }
    await changed()
    flight.value = undefined
    return false
  }
  const told = () => Promise.allSettled([...listeners].map((l) => l()))
  async function drain() {
    for (let pause = 500; !(await round());) {
      if (reached.value) {
        pause = 500
        continue
      }
      await new Promise<void>((done) => {
        const timer = setTimeout(done, pause)
        wake = () => {
          clearTimeout(timer)
          done()
        }
      })
      pause = Math.min(8_000, pause * 2)
    }
  }
  /**
   * One tab sends; the others wait for its lock and find the queue empty. Without locks (plain http on a network)
   * every tab may.
   */
  async function send() {
    more = sending
    if (sending || !user.value) return
    sending = true
    try {
      if (navigator.locks) await navigator.locks.request('waryowl-sender', drain)
      else await drain()
    } finally {
      sending = false
    }
    if (more) void send()
  }
  function start(name: string) {
    user.value = name
    known.value = false
    channel?.postMessage('ask')
    void reload().then(() => {
      known.value = true
      return send()
    })
  }
  // One tab sends: it tells the others whether the server is reached, also one that asks because it came later.
  watch(reached, (r) => sending && channel?.postMessage(r ? 'here' : 'away'))
  channel?.addEventListener('message', (e: MessageEvent<string>) => {
    if (e.data === 'ask') return void (sending && !reached.value && channel.postMessage('away'))
    if (e.data === 'here' || e.data === 'away') return void (reached.value = e.data === 'here')
    void reload().then(() => {
      for (const l of listeners) void l()
    })
  })
  globalThis.addEventListener?.('online', () => {
    wake?.()
    void send()
  })
  const onSent = (l: () => unknown) => {
    listeners.add(l)
    return () => listeners.delete(l)
  }
  return { user, known, coming, entries, waiting, tray, reached, flight, add, drop, again, start, onSent }
})
