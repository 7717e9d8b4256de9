import { computed, ref } from 'vue'

import type { Stop } from './reader'

export interface Told {
  rule: string
  answer: string
}

/** Stops that are asked one after the other, each answered with one key; `done` hears how, and whether it went on. */
export function useStops() {
  const open = ref<Stop[]>([])
  let told: Told[] = []
  let then: (told: Told[], stopped: boolean) => unknown = () => {}
  function ask(stops: Stop[], done: typeof then) {
    if (!stops.length) return done([], false)
    told = []
    then = done
    open.value = stops
  }
  /** The stop to be answered now. */
  const stop = computed(() => {
    const s = open.value[0]
    return s && { title: s.text, text: s.do, answers: ['not yet, stopped', 'already done', ...s.reasons] }
  })
  function answered(i: number) {
    const [s, ...rest] = open.value
    if (!s) return
    told.push({ rule: s.rule, answer: ['not yet', 'already done', ...s.reasons][i]! })
    open.value = i ? rest : []
    if (!i || !rest.length) return then(told, !i)
  }
  return { stop, ask, answered }
}
