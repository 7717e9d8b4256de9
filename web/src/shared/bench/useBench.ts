import { computed, onMounted, onScopeDispose, ref, shallowRef, type Ref } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'

import { newId, type Schemas } from '../../api/client'
import { useOutbox } from './outbox'
import { reader, type Reader } from './reader'

export type LogBody = Omit<Schemas['NewLog'], 'id' | 'unit_id'>

/** The bench of one phone: what waits in the queue, the reader of the line, and the steps that come next. */
export function useBench(
  study: string,
  state: Ref<Schemas['StripUnitState'] | undefined>,
  unit: Ref<Schemas['Unit'] | undefined>,
) {
  const outbox = useOutbox()
  const client = useQueryClient()
  const read = shallowRef<Reader>()
  const noReader = ref('')
  /** The reader once it is there: nothing that a stop may hold back is written before. */
  async function ready() {
    try {
      read.value ??= await reader()
    } catch (error) {
      noReader.value = (error as Error).message
    }
    return read.value
  }
  onMounted(ready)
  onScopeDispose(outbox.onSent(() => client.invalidateQueries()))

  const queued = computed(() => outbox.waiting.filter((e) => e.study === study && e.unit === unit.value?.id))
  const tray = computed(() => outbox.tray.filter((e) => e.study === study))
  const pending = computed(() =>
    queued.value.filter((e) => e.method === 'POST' && e.line).flatMap((e) => e.lines ?? [e.line!]),
  )
  /** The tiles: the server's, moved along by what waits. */
  const next = computed<Schemas['StripNextStep'][]>(() => {
    const known = state.value?.next ?? []
    if (!state.value || !pending.value.length || !read.value) return known
    return read.value
      .next(state.value.bench, pending.value)
      .slice(0, 8)
      .map((id) => known.find((n) => n.step_id === id) ?? { step_id: id, cautions: [] })
  })

  /** `lines` are the facts as lines of the grammar: what waits is read again without asking again. */
  async function log(body: LogBody, text: string, lines?: string[]) {
    const id = newId()
    const line = body.line ?? (body.step_id ? `${body.back ? '+' : ''}=${body.step_id}` : undefined)
    await outbox.add({
      study,
      unit: unit.value!.id,
      row: id,
      method: 'POST',
      path: `/api/studies/${study}/log`,
      body: { id, unit_id: unit.value!.id, ...body },
      line,
      lines,
      text: `${unit.value!.name}: ${text}`,
    })
  }
  /** Teaches the workshop what a word means; a word that is known already is no news. */
  async function teach(words: { say: string; means: string; kind: string }[]) {
    for (const w of words) {
      const id = newId()
      await outbox.add({
        study,
        unit: unit.value!.id,
        row: id,
        method: 'POST',
        path: '/api/words',
        body: { id, ...w },
        text: `“${w.say}” means ${w.means}`,
      })
    }
  }
  /** Takes back the last entry on this phone: out of the queue while it waits, else on the server. */
  async function undo(last: Schemas['LogEntry'] | undefined): Promise<'dropped' | 'sent' | undefined> {
    const waits = queued.value.findLast((e) => e.method === 'POST')
    const sent = waits && (waits.seq === outbox.flight || waits.row === last?.id)
    if (waits && !sent) {
      await outbox.drop(waits)
      return 'dropped'
    }
    // What is on its way, or has just arrived, is taken back on the server: its first version is known beforehand.
    const row = sent ? { id: waits.row, version: 1, unit_id: waits.unit } : last
    if (!row || queued.value.some((e) => e.method === 'DELETE' && e.row === row.id)) return
    await outbox.add({
      study,
      unit: row.unit_id,
      row: row.id,
      method: 'DELETE',
      path: `/api/log/${row.id}?version=${row.version}`,
      text: `${unit.value!.name}: taken back`,
    })
    return 'sent'
  }
  return { read, ready, noReader, queued, tray, pending, next, log, teach, undo }
}
