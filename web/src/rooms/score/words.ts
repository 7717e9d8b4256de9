import { numbers } from '../../shared/locale'
import type { Schemas } from '../../api/client'

/** Points with the digits of their school, one figure where both ends read the same. */
export function points(r: readonly number[], digits: number): string {
  const f = (x: number) => numbers({ minimumFractionDigits: digits, maximumFractionDigits: digits }).format(x)
  const [a, b] = [f(r[0]!), f(r[1]!)]
  return a === b ? a : `${a}–${b}`
}

/** The room that a fact comes from, or would come from, as a link. */
export const roomWords = (f: Schemas['ScoreFact']) =>
  f.room === 'swap' ? 'swap tests' : f.room === 'parts' ? 'parts desk' : 'ways'

export function source(f: Schemas['ScoreFact'], model: string) {
  if (f.room === 'ways') return { name: 'ways', params: { id: model }, query: f.at ? { part: f.at } : {} }
  if (f.room === 'swap') return { name: 'swap', params: { id: f.at }, query: { face: 'known' } }
  if (f.room === 'parts') return { name: 'parts', query: { face: 'record', model } }
  return undefined
}

/** How far people agree, by the limits that Krippendorff proposes. */
export function agreement(alpha: number): string {
  return alpha >= 0.8 ? 'reliable' : alpha >= 0.667 ? 'tentative' : 'not agreed: read the single judgements'
}

export const plainly = (choice: unknown) => String(choice).replaceAll('-', ' ')
