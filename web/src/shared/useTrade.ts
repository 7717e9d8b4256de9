import { computed } from 'vue'

import { api, type Schemas } from '../api/client'
import { useRoom } from './useRoom'

const none: Schemas['Trade'] = {
  families: [],
  kinds: [],
  verbs: [],
  joints: [],
  drives: [],
  methods: [],
  incidents: [],
  terms: [],
  symptoms: [],
  units: [],
  grammar: [],
}

/** The vocabulary of the trade, which the server keeps: pages offer it and know no word of their own. */
export function useTrade() {
  const { room } = useRoom(['trade'], () => api.GET('/api/trade'), { staleTime: Infinity })
  const trade = computed(() => room.value ?? none)
  /** Whether a joint holds by a thread: a screw or a post. */
  const threaded = (joint: string | undefined) => trade.value.joints.some((j) => j.id === joint && j.threaded)
  return { trade, threaded }
}
