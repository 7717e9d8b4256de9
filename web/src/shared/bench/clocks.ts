import { useIntervalFn, useLocalStorage, useWakeLock } from '@vueuse/core'
import { computed, ref, watch } from 'vue'

import { tone } from './tone'

/** A running wait of one phone, by the wall clock, so that it survives a reload. */
export interface Clock {
  id: string
  study: string
  unit: string
  name: string
  task: string
  face: string
  /** The line that is logged when the clock is answered, without its seconds and result. */
  line: string
  started: number
  seconds: number
  silenced?: boolean
  /** Where it is looked at, where that is not a study. */
  path?: string
}

const clocks = useLocalStorage<Clock[]>('waryowl-clocks', [])
export const filming = useLocalStorage('waryowl-filming', false)

/** The clocks of a repair as they are now, in place of those that were told before. */
export function mirror(of: string, list: Clock[]) {
  const rest = clocks.value.filter((c) => !c.id.startsWith(`${of} `))
  const known = clocks.value.length - rest.length
  if (known || list.length) clocks.value = [...rest, ...list]
}

/** The running waits of a study, or of all, the one that ends first before the others. */
export function useRunning(study?: string) {
  const now = ref(Date.now())
  useIntervalFn(() => (now.value = Date.now()), 500)
  const running = computed(() =>
    clocks.value
      .filter((c) => study === undefined || c.study === study)
      .map((c) => ({ ...c, left: Math.round(c.seconds - (now.value - c.started) / 1000) }))
      .sort((a, b) => a.left - b.left),
  )
  return { running }
}

/** The clocks of a study. They warn ten seconds before their end, and stay until somebody answers. */
export function useClocks(study: string) {
  const { running } = useRunning(study)
  const loudest = computed(() => running.value.find((c) => c.left <= 0 && !c.silenced))
  const wake = useWakeLock()
  watch(
    () => running.value.length > 0,
    (some) => {
      if (wake.isSupported.value) void (some ? wake.request('screen') : wake.release())
    },
    { immediate: true },
  )
  useIntervalFn(
    () => {
      const soon = running.value.some((c) => c.left > 0 && c.left <= 10)
      if ((!loudest.value && !soon) || filming.value) return
      tone(Boolean(loudest.value))
    },
    1500,
    { immediate: true },
  )
  const start = (clock: Omit<Clock, 'id' | 'started' | 'study'>) =>
    clocks.value.push({ ...clock, study, id: crypto.randomUUID?.() ?? String(Math.random()), started: Date.now() })
  const silence = (id: string) => (clocks.value = clocks.value.map((c) => (c.id === id ? { ...c, silenced: true } : c)))
  const end = (id: string) => (clocks.value = clocks.value.filter((c) => c.id !== id))
  /** Seconds that a clock has really run. */
  const ran = (c: Clock) => Math.max(1, Math.round((Date.now() - c.started) / 1000))
  return { running, loudest, filming, start, silence, end, ran }
}
