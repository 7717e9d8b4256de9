import { shallowRef } from 'vue'

/** The locale of numbers and dates that the office set; undefined: the reader's own. */
export const locale = shallowRef<string>()

const kept = new Map<string, Intl.NumberFormat>()

/** A formatter of the workshop's locale, made once. */
export function numbers(options: Intl.NumberFormatOptions): Intl.NumberFormat {
  const key = `${locale.value ?? ''} ${JSON.stringify(options)}`
  let f = kept.get(key)
  if (!f) kept.set(key, (f = new Intl.NumberFormat(locale.value, options)))
  return f
}

/** A day as the workshop writes days; an ISO day where nothing was set. */
export function day(iso: string | undefined): string {
  if (!iso) return ''
  if (!locale.value) return iso.slice(0, 10)
  return new Date(`${iso.slice(0, 10)}T12:00:00Z`).toLocaleDateString(locale.value, {
    year: 'numeric',
    month: '2-digit',
    day: '2-digit',
    timeZone: 'UTC',
  })
}
