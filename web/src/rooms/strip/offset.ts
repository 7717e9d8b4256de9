import type { Schemas } from '../../api/client'
import { clock } from '../../shared/format'

/** The note that starts a film: later entries show their offset from it. */
export const syncMark = 'sync mark'

/** How far into the film an entry lies: from the latest sync mark before it; empty without one. */
export function offset(log: Schemas['LogEntry'][], entry: Schemas['LogEntry']): string {
  const at = (e: Schemas['LogEntry']) => Date.parse(e.happened_at)
  const mark = log.findLast((e) => e.kind === 'note' && e.note === syncMark && at(e) <= at(entry))
  return mark && mark.id !== entry.id ? clock((at(entry) - at(mark)) / 1000) : ''
}
