import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'

import { take } from '../api/client'

type Answer<T> = Promise<{ data?: T; error?: unknown; response: Response }>

/**
 * The one way to read: what a room shows, under a key that names the room first and then what it is read for. While the
 * key changes the room that was read stays on the page. `error` is an ApiError with the problem in words.
 */
export function useRoom<T>(
  key: MaybeRefOrGetter<readonly unknown[]>,
  read: () => Answer<T>,
  options: { enabled?: MaybeRefOrGetter<boolean>; staleTime?: number } = {},
) {
  const query = useQuery({
    queryKey: computed(() => [...toValue(key)]),
    queryFn: () => take(read()),
    placeholderData: keepPreviousData,
    enabled: computed(() => toValue(options.enabled) ?? true),
    ...(options.staleTime === undefined ? {} : { staleTime: options.staleTime }),
  })
  return { room: query.data, error: query.error, pending: query.isPending, again: query.refetch }
}
