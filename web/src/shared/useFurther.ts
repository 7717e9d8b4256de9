import { computed, ref, watch, type Ref } from 'vue'

/** A room that holds the newest rows, and the pages before them that are asked for; a page that does not come says why. */
export function useFurther<R, T, M>(
  room: Ref<R | undefined>,
  rows: (page: R) => T[],
  next: (page: R) => M | undefined,
  ask: (before: M) => Promise<R>,
) {
  const pages = ref<T[]>([]) as Ref<T[]>
  const more = ref<M>() as Ref<M | undefined>
  const trouble = ref('')
  watch(
    room,
    (r) => {
      pages.value = []
      more.value = r && next(r)
      trouble.value = ''
    },
    { immediate: true },
  )
  async function onward() {
    const [of, before] = [room.value, more.value]
    if (before === undefined) return
    try {
      const page = await ask(before)
      if (room.value !== of || more.value !== before) return // another question, or the same page twice
      pages.value = [...pages.value, ...rows(page)]
      more.value = next(page)
      trouble.value = ''
    } catch (e) {
      trouble.value = (e as Error).message
    }
  }
  return { all: computed(() => [...(room.value ? rows(room.value) : []), ...pages.value]), more, onward, trouble }
}
