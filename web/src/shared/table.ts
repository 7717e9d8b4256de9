import { day, numbers } from './locale'

/** What a table shows of a row in one column; the raw value sorts, filters, copies and goes into the file. */
export interface Column<R> {
  id: string
  title: string
  value: (row: R) => string | number | boolean | null | undefined
  /** number and minutes stand right, dates never break. */
  kind?: 'text' | 'number' | 'minutes' | 'date' | 'money'
  /** How the value reads; by its kind where nothing is said. */
  text?: (row: R) => string
  /** Few values: a row can be filtered by each of them. */
  few?: boolean
  /** It stands in what is copied and in the file only. */
  file?: boolean
  /** A column that only holds buttons: neither sorted nor copied. */
  bare?: boolean
}

export const read = <R>(c: Column<R>, row: R): string => {
  if (c.text) return c.text(row)
  const v = c.value(row)
  if (v === null || v === undefined || v === '') return ''
  if (c.kind === 'date') return day(String(v))
  if (typeof v === 'number') return numbers({ maximumFractionDigits: 1 }).format(v)
  return String(v)
}

const words = new Intl.Collator(undefined, { numeric: true, sensitivity: 'base' })

/** Rows in the order of a column: what has no value stands last, whichever way. */
export function sorted<R>(rows: readonly R[], c: Column<R> | undefined, down: boolean): R[] {
  if (!c) return [...rows]
  const turn = down ? -1 : 1
  return rows
    .map((row, i) => ({ row, i, v: c.value(row) }))
    .sort((a, b) => {
      const none = (v: unknown) => v === null || v === undefined || v === ''
      if (none(a.v) || none(b.v)) return Number(none(a.v)) - Number(none(b.v)) || a.i - b.i
      const by =
        typeof a.v === 'number' && typeof b.v === 'number' ? a.v - b.v : words.compare(String(a.v), String(b.v))
      return turn * by || a.i - b.i
    })
    .map((x) => x.row)
}

/** Rows in which every word of a filter is met, in any column. */
export function met<R>(rows: readonly R[], columns: readonly Column<R>[], filter: string): R[] {
  const list = filter.toLowerCase().split(/\s+/).filter(Boolean)
  if (!list.length) return [...rows]
  return rows.filter((row) => {
    const text = columns
      .filter((c) => !c.bare)
      .map((c) => `${read(c, row)} ${c.value(row) ?? ''}`)
      .join(' ')
      .toLowerCase()
    return list.every((w) => text.includes(w))
  })
}

const cells = <R>(c: Column<R>, row: R): string => {
  const v = c.kind === 'money' ? read(c, row) : (c.value(row) ?? '')
  return String(v)
}

/** A table as text between tabs, as other programs take it from the clipboard. */
export function asText<R>(rows: readonly R[], columns: readonly Column<R>[]): string {
  const flat = (s: string) => s.replace(/[\t\r\n]+/g, ' ')
  const shown = columns.filter((c) => !c.bare)
  return [shown.map((c) => c.title), ...rows.map((r) => shown.map((c) => flat(cells(c, r))))]
    .map((l) => l.join('\t'))
    .join('\n')
}

/** A table as CSV (RFC 4180). A text that a spreadsheet would take for a formula gets an apostrophe in front. */
export function asCSV<R>(rows: readonly R[], columns: readonly Column<R>[]): string {
  const quoted = (v: string | number | boolean) => {
    const s = typeof v === 'string' && /^[=+\-@\t\r]/.test(v) ? `'${v}` : String(v)
    return /[",\r\n]/.test(s) ? `"${s.replaceAll('"', '""')}"` : s
  }
  const shown = columns.filter((c) => !c.bare)
  return (
    [
      shown.map((c) => quoted(c.title)),
      ...rows.map((r) => shown.map((c) => quoted(c.kind === 'money' ? read(c, r) : (c.value(r) ?? '')))),
    ]
      .map((l) => l.join(','))
      .join('\r\n') + '\r\n'
  )
}
