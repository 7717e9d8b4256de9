import type { Schemas } from '../../api/client'
import type { Taken } from './taken'

/** What an accepted proposal enters: a line of the bench, a swap test, a new part, or its words as a note. */
export function entering(o: Schemas['StripOffer'], t: Taken, words: string, second: number): Schemas['StripSaidLine'] {
  const said = { id: t.id, unit_id: t.unit, second, words }
  if (t.line.trim()) return { ...said, line: t.line }
  if (o.trial) return { ...said, trial: o.trial }
  if (o.new) return { ...said, part: o.new }
  return { ...said, note: `${o.say}: ${words}`.slice(0, 400) }
}

/** The state in which a proposal is shown first. */
export const untouched = (o: Schemas['StripOffer'], id: string): Taken => ({
  state: o.ticked ? 'yes' : '',
  line: o.enter,
  unit: o.unit_id,
  mended: false,
  id,
})
