import { useIntervalFn, useLocalStorage } from '@vueuse/core'
import { computed, onBeforeUnmount, ref, watch, type Ref } from 'vue'

import { newId, type Schemas } from '../../api/client'
import { useOutbox } from '../../shared/bench/outbox'

export type Act = Schemas['RepairAct']
type Entry = Schemas['VisitEntry']

/** An act as it was done: by the server's record, or still waiting in this browser. */
export interface Done {
  id: string
  key: string
  seconds: number
  at: number
  result?: string
  hurt?: string
  version?: number
  seq?: number
}

/**
 * One repair on this device: what is done by the server's record and by what waits here, the act to do, and its clocks. They run
 * by wall time from the record, so that a reload, another device or a server that is away change nothing.
 */
export function useRepair(id: string, room: Ref<Schemas['VisitRoom'] | undefined>, again: () => unknown) {
  const outbox = useOutbox()
  onBeforeUnmount(outbox.onSent(again))
  const mine = `visit ${id}`
  const unsent = computed(() => outbox.waiting.filter((e) => e.study === mine))
  const tray = computed(() => outbox.tray.filter((e) => e.study === mine))
  const now = ref(Date.now())
  useIntervalFn(() => (now.value = Date.now()), 500)

  /** Acts of this page: an entry that was sent stays done while the record that has it is still on its way. */
  const own = ref<Done[]>([])
  const acts = computed<Act[]>(() => room.value?.acts ?? [])
  const done = computed<Done[]>(() => {
    const of = (e: Entry): Done => ({
      id: e.id,
      key: e.key,
      seconds: e.away ? 0 : (e.seconds ?? 0),
      at: Date.parse(e.happened_at),
      result: e.result,
      hurt: e.hurt_part,
      version: e.version,
    })
    const list = (room.value?.entries ?? []).map(of)
    for (const w of unsent.value) {
      const b = w.body as { id: string; key: string; seconds?: number; result?: string; hurt_part?: string } | undefined
      if (w.method === 'DELETE') {
        const k = list.findIndex((d) => d.id === w.row)
        if (k >= 0) list.splice(k, 1)
      } else if (b && !list.some((d) => d.id === b.id)) {
        list.push({
          id: b.id,
          key: b.key,
          seconds: b.seconds ?? 0,
          at: Date.parse(w.header['Happened-At']),
          result: b.result,
          hurt: b.hurt_part,
          seq: w.seq,
        })
      }
    }
    const refused = new Set(tray.value.map((t) => t.row))
    for (const d of own.value) if (!list.some((x) => x.id === d.id) && !refused.has(d.id)) list.push(d)
    return list.sort((a, b) => a.at - b.at)
  })
  watch(
    () => room.value?.entries,
    (list) => (own.value = own.value.filter((d) => !list?.some((e) => e.key === d.key))),
  )
  const keys = computed(() => new Set(done.value.map((d) => d.key)))
  const result = (key: string) => done.value.find((d) => d.key === key)?.result
  const counted = computed(() => acts.value.filter((a) => !a.rest))
  const next = computed(() => counted.value.find((a) => !keys.value.has(a.key)))
  const at = (key: string) => acts.value.find((a) => a.key === key)

  // The clock of an act begins with the end of the one before it, or with the first look at the repair.
  const begun = useLocalStorage(`waryowl-repair-${id}`, 0)
  const last = computed(() => Math.max(begun.value, ...done.value.map((d) => d.at)))
  const begin = () => {
    if (!begun.value) begun.value = Date.now()
  }
  /** Seconds that a clock was given on top. */
  const more = useLocalStorage<Record<string, number>>(`waryowl-more-${id}`, {})
  const clocks = computed(() =>
    counted.value.flatMap((a) => {
      if (a.kind !== 'wait' || keys.value.has(a.key) || !keys.value.has(a.begins ?? '')) return []
      const rounds = done.value.filter((d) => d.key.startsWith('round ') && d.key.endsWith(` ${a.step_id}`))
      const from = Math.max(
        ...done.value.filter((d) => d.key === a.begins).map((d) => d.at),
        ...rounds.map((d) => d.at),
      )
      const whole = Math.round(a.seconds ?? 0) + (more.value[a.key] ?? 0)
      return [{ act: a, from, whole, left: Math.round(whole - (now.value - from) / 1000), round: rounds.length + 1 }]
    }),
  )

  async function put(body: Record<string, unknown> & { key: string }, text: string) {
    const entry = newId()
    const seconds = last.value ? Math.max(0, Math.round((Date.now() - last.value) / 100) / 10) : 0
    const { result, hurt_part: hurt } = body as { result?: string; hurt_part?: string }
    own.value.push({
      id: entry,
      key: body.key,
      seconds: (body.seconds as number | undefined) ?? seconds,
      at: Date.now(),
      result,
      hurt,
    })
    await outbox.add({
      study: mine,
      unit: '',
      row: entry,
      method: 'POST',
      path: `/api/visits/${id}/entries`,
      body: { seconds, ...body, id: entry },
      text,
    })
    begin()
  }
  /** Takes an act back: what waits here is dropped, what the server has is deleted there. */
  async function undo(d: Done) {
    own.value = own.value.filter((x) => x.id !== d.id)
    const waits = unsent.value.find((w) => w.seq === d.seq && d.seq !== undefined)
    if (waits && outbox.flight !== waits.seq) return outbox.drop(waits)
    await outbox.add({
      study: mine,
      unit: '',
      row: d.id,
      method: 'DELETE',
      path: `/api/visit-entries/${d.id}?version=${d.version ?? 1}`,
      text: `take back: ${at(d.key)?.text ?? d.key}`,
    })
  }
  const hands = computed(() =>
    done.value.reduce((sum, d) => sum + (at(d.key)?.kind === 'wait' || d.key.startsWith('round ') ? 0 : d.seconds), 0),
  )
  const waited = computed(() =>
    done.value.reduce((sum, d) => sum + (at(d.key)?.kind === 'wait' || d.key.startsWith('round ') ? d.seconds : 0), 0),
  )
  /** Acts that took so long that somebody may have been away. */
  const long = computed(() =>
    done.value.filter((d) => {
      const a = at(d.key)
      return a && a.kind !== 'wait' && a.late && d.seconds > 60 && d.seconds > 3 * a.late
    }),
  )
  return {
    acts,
    counted,
    done,
    keys,
    result,
    next,
    at,
    clocks,
    more,
    put,
    undo,
    begin,
    now,
    unsent,
    tray,
    hands,
    waited,
    long,
  }
}
