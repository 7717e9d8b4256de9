import type { Schemas } from '../api/client'
import { numbers } from './locale'

const whole = { format: (x: number) => numbers({ maximumFractionDigits: 0 }).format(x) }
const fine = { format: (x: number) => numbers({ maximumSignificantDigits: 2 }).format(x) }
const one = { format: (x: number) => numbers({ minimumFractionDigits: 1, maximumFractionDigits: 1 }).format(x) }

/** A figure as people read it: minutes and counts whole, points and bits with one decimal. */
export function figure(value: number, unit = ''): string {
  if (unit === 'points' || unit === 'bits') return one.format(value)
  if (value !== 0 && Math.abs(value) < 10 && !Number.isInteger(value)) return fine.format(value)
  return whole.format(value)
}

export function fact(f: Schemas['AnswerFact']): string {
  if (f.name) return f.name
  const low = figure(f.value ?? 0, f.unit)
  const range = f.high === undefined ? low : `${low}–${figure(f.high, f.unit)}`
  if (!f.unit || f.unit === 'points') return range
  return f.unit === '%' ? `${range}\u202f%` : `${range}\u00a0${f.unit}`
}

/** A range, or one figure where both ends read the same. */
export function range(low: number, high: number, unit = 'points'): string {
  const [a, b] = [figure(low, unit), figure(high, unit)]
  return a === b ? a : `${a}–${b}`
}

export const percent = (p: number) => (p < 0.005 ? '<1' : p > 0.995 ? '>99' : whole.format(100 * p)) + '\u202f%'
export const minutes = (m: number) => figure(m) + '\u00a0min'

/** Seconds as m:ss. */
export function clock(seconds: number): string {
  const s = Math.round(seconds)
  return `${Math.floor(s / 60)}:${String(s % 60).padStart(2, '0')}`
}

/** Digits down to the first one that an uncertainty touches. */
export const digitsOf = (u: number) => (u > 0 ? Math.min(4, Math.max(0, Math.ceil(-Math.log10(u)))) : 1)

/** A measured value with its standard uncertainty; what was counted has none to show. */
export function measured(q: { value: number; u: number; unit: string }): string {
  if (q.unit === 'pins') return `${whole.format(q.value)} pins`
  const d = digitsOf(q.u)
  const options = { minimumFractionDigits: d, maximumFractionDigits: d }
  return `${numbers(options).format(q.value)} ± ${numbers(options).format(q.u)}\u00a0${q.unit}`
}

/** So many things in words, in the singular for one. */
export const count = (n: number, one: string, many = `${one}s`) => `${whole.format(n)} ${n === 1 ? one : many}`
