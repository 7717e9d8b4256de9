import { useEventListener } from '@vueuse/core'
import { nextTick, toValue, watch, type MaybeRefOrGetter, type Ref } from 'vue'

const prefix = 'waryowl-typed '

/** Forgets everything that was typed and not sent: when somebody signs out. */
export function forgetTyped() {
  for (const key of Object.keys(sessionStorage)) if (key.startsWith(prefix)) sessionStorage.removeItem(key)
}

const read = (key: string): Record<string, string> => {
  try {
    return JSON.parse(sessionStorage.getItem(prefix + key) ?? '{}') as Record<string, string>
  } catch {
    return {}
  }
}

/**
 * Keeps what is typed into the fields of a form until it is sent, over a reload of this tab: by the address of the page, the
 * title of the form and the label of each field. `sent` forgets it. Passwords are never kept.
 */
export function useTyped(box: Ref<HTMLElement | undefined>, title: MaybeRefOrGetter<string>) {
  const key = () => `${location.pathname} ${toValue(title)}`
  type Field = HTMLInputElement | HTMLTextAreaElement
  const label = (f: Field) => f.getAttribute('aria-label') ?? f.labels?.[0]?.textContent?.trim() ?? f.id
  const text = (f: EventTarget | null): f is Field =>
    f instanceof HTMLTextAreaElement ||
    (f instanceof HTMLInputElement &&
      ['text', 'search', 'number', ''].includes(f.getAttribute('type') ?? '') &&
      !f.readOnly &&
      f.getAttribute('role') !== 'combobox')
  useEventListener(box, 'input', (e: Event) => {
    if (!text(e.target) || !e.isTrusted || !label(e.target)) return
    const kept = read(key())
    kept[label(e.target)] = e.target.value
    sessionStorage.setItem(prefix + key(), JSON.stringify(kept))
  })
  async function restore(form: HTMLElement) {
    const kept = read(key())
    if (!Object.keys(kept).length) return
    await nextTick()
    for (const f of form.querySelectorAll<Field>('input, textarea')) {
      const was = text(f) ? kept[label(f)] : undefined
      if (was === undefined || f.value === was) continue
      f.value = was
      f.dispatchEvent(new Event('input', { bubbles: true }))
      f.dispatchEvent(new Event('change', { bubbles: true }))
    }
  }
  watch(box, (form) => void (form && restore(form)), { immediate: true, flush: 'post' })
  return { sent: () => sessionStorage.removeItem(prefix + key()) }
}
