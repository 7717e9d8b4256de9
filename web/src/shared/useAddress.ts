import { computed, type WritableComputedRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'

/** What changes in one turn goes into the address together: two changes at once do not lose each other. */
let coming: Record<string, string | undefined> | undefined

/**
 * A value that lives in the address of the page, so that reload, Back and another tab keep it. The usual value is left out
 * of the address.
 */
export function useAddress(name: string, usual = ''): WritableComputedRef<string> {
  const route = useRoute()
  const router = useRouter()
  return computed({
    get: () => String(route.query[name] ?? usual),
    set: (v) => {
      if (coming) coming[name] = v === usual ? undefined : v
      else {
        coming = { [name]: v === usual ? undefined : v }
        queueMicrotask(() => {
          const query = { ...route.query, ...coming }
          coming = undefined
          void router.replace({ query, hash: route.hash })
        })
      }
    },
  })
}
