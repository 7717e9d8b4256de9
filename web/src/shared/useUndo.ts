import { onScopeDispose, shallowRef } from 'vue'

/** Offers for ten seconds to bring back what was just taken away; `back` does it. */
export function useUndo<T>(back: (gone: T) => unknown) {
  const gone = shallowRef<T>()
  let timer: ReturnType<typeof setTimeout> | undefined
  function offer(item: T | undefined) {
    clearTimeout(timer)
    gone.value = item
    if (item !== undefined) timer = setTimeout(() => (gone.value = undefined), 10_000)
  }
  async function undo() {
    const item = gone.value
    offer(undefined)
    if (item !== undefined) await back(item)
  }
  onScopeDispose(() => clearTimeout(timer))
  return { gone, offer, undo }
}
