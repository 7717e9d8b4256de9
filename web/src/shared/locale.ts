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

/** A day in the reader's locale, or the workshop's where the office set one; it never breaks over a line. */
export function day(iso: string | undefined): string {
  if (!iso) return ''
  const at = new Date(`${iso.slice(0, 10)}T12:00:00Z`)
  if (Number.isNaN(at.getTime())) return iso
  return dates({ year: 'numeric', month: 'short', day: 'numeric', timeZone: 'UTC' }).format(at).replace(/[ -]/g, glue)
}
/** A moment: its day where it is not today, and the time of the day. */
export function moment(iso: string | undefined): string {
  if (!iso) return ''
  const at = new Date(iso)
  if (Number.isNaN(at.getTime())) return iso
  const time = dates({ hour: '2-digit', minute: '2-digit' }).format(at)
  const date = dates({ year: 'numeric', month: 'short', day: 'numeric' }).format(at)
  const today = dates({ year: 'numeric', month: 'short', day: 'numeric' }).format(new Date())
  return (date === today ? time : `${date}, ${time}`).replace(/[ -]/g, glue)
}
const glue = (c: string) => (c === ' ' ? '\u00a0' : '\u2011')

/** A text in which days stand as in files: each as the reader writes days. */
export const dated = (text: string) => text.replace(/\b\d{4}-\d{2}-\d{2}\b/g, (d) => day(d))

const keptDates = new Map<string, Intl.DateTimeFormat>()
function dates(options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = `${locale.value ?? ''} ${JSON.stringify(options)}`
  let f = keptDates.get(key)
  if (!f) keptDates.set(key, (f = new Intl.DateTimeFormat(locale.value, options)))
  return f
}
