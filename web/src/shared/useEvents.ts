import { useQueryClient } from '@tanstack/vue-query'
import { useDebounceFn } from '@vueuse/core'
import { onScopeDispose, watch } from 'vue'

/** Those who want to know that what the instruments show has changed. */
const shown = new Set<() => void>()
export function onInstruments(f: () => void) {
  shown.add(f)
  onScopeDispose(() => shown.delete(f))
}

/** While somebody is signed in the server tells what changed, and the page reads what it shows again. */
export function useEvents(signedIn: () => boolean) {
  const client = useQueryClient()
  const again = useDebounceFn(() => client.invalidateQueries(), 400, { maxWait: 2000 })
  let stream: EventSource | undefined
  const end = () => {
    stream?.close()
    stream = undefined
  }
  watch(
    signedIn,
    (is) => {
      end()
      if (!is || typeof EventSource === 'undefined') return
      stream = new EventSource('/api/events')
      let open = false
      stream.addEventListener('open', () => {
        if (open) void again() // it was cut, and is there again
        open = true
      })
      stream.addEventListener('change', (e) => {
        const news = JSON.parse(String(e.data)) as { kind: string }
        if (news.kind === 'instruments') for (const f of shown) f()
        else void again()
      })
      stream.addEventListener('all', () => void again())
    },
    { immediate: true },
  )
  onScopeDispose(end)
}
