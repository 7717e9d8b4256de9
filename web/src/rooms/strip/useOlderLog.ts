import { computed, ref, watch, type Ref } from 'vue'

import { api, take, type Schemas } from '../../api/client'

type Entry = Schemas['LogEntry']

/** The log of a phone: what the room shows, and before it the pages that were asked for. */
export function useOlderLog(
  id: string,
  room: Ref<Schemas['StripRoom'] | undefined>,
  unit: Ref<Schemas['Unit'] | undefined>,
  shown: Ref<Entry[]>,
) {
  const pages = ref<Entry[]>([])
  const authors = ref<Record<string, string>>({})
  const trouble = ref('')
  const all = computed(() => room.value?.older[unit.value?.id ?? ''] ?? 0)

  /** Reads back until at least so many entries are there, from what the room shows or from what was read already. */
  async function read(least: number, list: Entry[] = []) {
    trouble.value = ''
    try {
      await readOn(least, list)
    } catch (e) {
      trouble.value = (e as Error).message
    }
  }
  async function readOn(least: number, list: Entry[]) {
    const u = unit.value?.id
    let by = list.length ? authors.value : {}
    for (let left = all.value - list.length; u && left > 0 && list.length < least;) {
      const before = (list[0] ?? shown.value[0])?.seq ?? 0
      const page = await take(
        api.GET('/api/studies/{id}/log', { params: { path: { id }, query: { unit: u, before } } }),
      )
      list = [...page.entries, ...list]
      by = { ...page.by, ...by }
      left = page.entries.length ? page.older : 0
    }
    if (unit.value?.id === u) {
      pages.value = list
      authors.value = by
    }
  }
  // An entry that is written moves the room's window on, and a correction may lie in a page: both are read again.
  watch(
    () => [unit.value?.id, room.value] as const,
    ([now], [before]) => {
      trouble.value = ''
      if (now !== before) pages.value = []
      else if (pages.value.length) void read(pages.value.length)
    },
  )
  return {
    log: computed(() => {
      const from = shown.value[0]?.seq ?? 0
      return [...pages.value.filter((e) => e.seq < from), ...shown.value]
    }),
    by: computed(() => ({ ...authors.value, ...room.value?.by })),
    older: computed(() => Math.max(0, all.value - pages.value.length)),
    trouble,
    further: () => read(pages.value.length + 1, pages.value),
  }
}
