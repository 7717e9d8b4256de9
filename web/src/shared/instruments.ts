import { useEventListener, useIntervalFn, useThrottleFn } from '@vueuse/core'
import { computed, onScopeDispose, reactive, shallowRef, watch } from 'vue'

import { api, take, type Schemas } from '../api/client'
import { reader } from './bench/reader'
import { onInstruments } from './useEvents'

export type State = Schemas['InstrumentState']
/** A measure that waits for readings: its unit, and what takes one. */
interface Asked {
  unit: string
  take: (r: Schemas['InstrumentReading'], from: string) => void
  /** Says in words why nothing was taken. */
  refuse: (why: string) => void
}

const network = shallowRef<State[]>([])
const serial = reactive<State[]>([])
const asked = shallowRef<Asked>()
const all = computed(() => [...network.value, ...serial])

/** Reads what the network's instruments show; quickly while a measure is asked for. */
export function useReadouts(signedIn: () => boolean) {
  let seen = new Map<string, number>()
  let at = 0
  // The server says when something changed; a stream that is away is no reason to show what is old for long.
  const look = async () => {
    if (document.hidden || !signedIn()) return
    at = Date.now()
    await read()
  }
  const soon = useThrottleFn(look, 200, true) // a field waits for a reading
  const calmly = useThrottleFn(look, 1000, true)
  let going: AbortController | undefined
  const read = async () => {
    const mine = (going = new AbortController())
    try {
      network.value = await take(api.GET('/api/instruments', { signal: mine.signal }))
    } catch {
      if (mine.signal.aborted) return
      network.value = network.value.map((s) => ({ ...s, connected: false, problem: 'the server does not answer' }))
    }
    for (const s of network.value) {
      const before = seen.get(s.name)
      if (before !== undefined && s.presses > before && asked.value) asked.value.take(s.pressed, s.name)
      seen.set(s.name, s.presses)
    }
  }
  onInstruments(() => void (asked.value ? soon() : calmly()))
  watch(
    signedIn,
    (is) => {
      if (!is) going?.abort() // whoever signs out asks nothing more
      void look()
    },
    { immediate: true, flush: 'sync' },
  )
  const { pause } = useIntervalFn(() => void (Date.now() - at > 30_000 && look()), 30_000)
  onScopeDispose(() => {
    pause()
    seen = new Map()
  })
  return { instruments: all }
}

/** A field that may be asked for: the last one that was entered is. */
export function useAsked() {
  let mine: Asked | undefined
  const ask = (a: Asked) => (asked.value = mine = a)
  const leave = () => {
    if (asked.value === mine) asked.value = undefined
  }
  onScopeDispose(leave)
  return { asked, ask, leave, instruments: all }
}

/** One key puts the reading of the instrument that fits into the measure that is asked for. */
export const takeKey = 'F2'
export function useTakeKey() {
  useEventListener('keydown', (e: KeyboardEvent) => {
    if (e.key !== takeKey || !asked.value) return
    e.preventDefault()
    takeNow()
  })
}

/** The instrument that was used last for a unit: another one never takes its place unasked. */
const used: Record<string, string> = {}

/**
 * Takes what an instrument shows: the one named, else the one used last for this unit, else the first of the unit; where
 * only others are connected, their refusal says in words what is wrong.
 */
export function takeNow(name?: string) {
  const want = asked.value
  if (!want) return
  const on = all.value.filter((s) => s.connected)
  const meant = name ?? used[want.unit]
  const s = meant
    ? all.value.find((x) => x.name === meant)
    : (on.find((x) => x.reading.unit === want.unit) ?? (want.unit || on.length === 1 ? on[0] : undefined))
  if (!s)
    return want.refuse(
      on.length
        ? 'Which instrument? Choose it above, or press its own button.'
        : 'No instrument is connected: nothing was taken.',
    )
  if (!s.connected) return want.refuse(`${s.name}: ${s.problem ?? 'unplugged'}; nothing was taken.`)
  if (s.reading.unit === want.unit || !want.unit) used[want.unit] = s.name
  want.take(s.reading, s.name)
}

/** Lines of an instrument on the serial port of this computer, where the page may use it. */
export const canSerial = () => window.isSecureContext && 'serial' in navigator
interface Port {
  open(o: { baudRate: number }): Promise<void>
  readable: ReadableStream<Uint8Array>
}
export async function connectSerial(baudRate = 9600) {
  const port = await (navigator as unknown as { serial: { requestPort(): Promise<Port> } }).serial.requestPort()
  await port.open({ baudRate })
  const none = { value: 0, unit: '', resolution: 1, stable: false, over: false, pressed: false }
  const state = reactive<State>({
    name: `serial ${serial.length + 1}`,
    connected: true,
    reading: none,
    pressed: none,
    age_seconds: 0,
    presses: 0,
  })
  serial.push(state)
  const parse = await reader()
  const text = port.readable.pipeThrough(new TextDecoderStream() as ReadableWritablePair<string, Uint8Array>)
  const lines = text.getReader()
  let rest = ''
  void (async () => {
    try {
      for (;;) {
        const { value, done } = await lines.read()
        if (done) break
        rest += value
        const parts = rest.split(/[\r\n]+/)
        rest = parts.pop()!.slice(-200)
        for (const line of parts) {
          const r = parse.reading(line, '').reading
          if (!r) continue
          state.reading = r
          if (!r.pressed) continue
          state.presses++
          asked.value?.take(r, state.name)
        }
      }
    } catch {
      // unplugged in mid-reading: said below
    }
    state.connected = false
    state.problem = 'unplugged'
  })()
}
watch(serial, (list) => {
  const gone = list.findIndex((s) => !s.connected)
  if (gone >= 0) setTimeout(() => serial.splice(gone, 1), 10_000)
})
