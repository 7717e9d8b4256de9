import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'

import { api, take, type Schemas } from '../api/client'
import { useOutbox } from './bench/outbox'
import { locale } from './locale'
import { forgetTyped } from './useTyped'
import { useRoom } from './useRoom'

/** Somebody is signing out: nothing more is asked in their name. */
const leaving = ref(false)

/** Who is signed in and what they may write. */
export function useSession() {
  const client = useQueryClient()
  const {
    room: data,
    pending: isPending,
    error,
  } = useRoom(['session'], () => api.GET('/api/session'), { staleTime: 60_000 })
  const outbox = useOutbox()
  watch(
    () => data.value?.locale,
    (l) => (locale.value = l || undefined),
    { immediate: true },
  )
  watch(
    () => data.value?.who?.id,
    (id) => {
      if (!id || outbox.user === id) return
      outbox.start(id)
      void navigator.serviceWorker?.ready.then((r) => r.active?.postMessage('all'))
    },
    { immediate: true },
  )
  const may = (
    resource:
      | 'models'
      | 'studies'
      | 'outcomes'
      | 'facts'
      | 'rules'
      | 'schools'
      | 'buying'
      | 'jobs'
      | 'office'
      | 'people'
      | 'visits',
  ) => computed(() => data.value?.rights.includes(resource) ?? false)
  function become(me: Schemas['Me']) {
    client.removeQueries({ predicate: (q) => q.queryKey[0] !== 'session' }) // nothing of the last person stays
    client.setQueryData(['session'], me)
  }
  const signIn = async (name: string, password: string) =>
    become(await take(api.POST('/api/session', { body: { name, password } })))
  async function signOut() {
    leaving.value = true
    try {
      become(await take(api.DELETE('/api/session')))
    } finally {
      leaving.value = false
    }
    outbox.start('')
    forgetTyped()
    navigator.serviceWorker?.controller?.postMessage('forget')
  }
  return { me: data, isPending, error, may, become, signIn, signOut, leaving }
}
