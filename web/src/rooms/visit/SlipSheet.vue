<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '../../api/client'
import { minutes } from '../../shared/format'
import { locale } from '../../shared/locale'

/** The slip that goes back with the phone: what was done, what was tested, what is lost. On paper only. */
const props = defineProps<{
  room: Schemas['VisitRoom']
  results: (key: string) => string | undefined
  done: Set<string>
}>()
const v = computed(() => props.room.visit)
const checks = computed(() =>
  props.room.acts
    .filter((a) => a.kind === 'check' && (!a.rest || props.done.has(a.key)))
    .map((a) => ({
      text: a.text,
      result: { pass: 'works', weak: 'weak', lost: 'lost' }[props.results(a.key) ?? ''] ?? 'not tested',
    })),
)
/** What became of the exchange: nothing is called done that is not. */
const what = computed(() => {
  if (!props.room.part) return ''
  if (!v.value.closed_at) return `: ${props.room.part}, not exchanged yet`
  return v.value.went === 'gave up'
    ? `: the repair was given up, the ${props.room.part} was not exchanged`
    : `: ${props.room.part} exchanged`
})
const sealed = computed(() => props.room.acts.some((a) => a.key === 'cure' && props.done.has(a.key)))
const name = (id?: string) => props.room.parts.find((p) => p.id === id)?.name ?? ''
const day = (at?: string) => (at ? new Date(at).toLocaleDateString(locale.value) : '')
</script>

<template>
  <article class="slip" aria-label="Slip for the customer">
    <h1>{{ v.sticker }}{{ v.ticket ? `, ticket ${v.ticket}` : '' }}</h1>
    <p>{{ room.model.maker }} {{ room.model.name }}{{ what }}{{ v.closed_at ? `, ${day(v.closed_at)}` : '' }}</p>
    <p v-if="v.hurt_part">Damaged during the repair: {{ name(v.hurt_part) }}.</p>
    <p v-if="v.minutes">Time at the bench: {{ minutes(Math.round(v.minutes)) }}.</p>
    <template v-if="v.closed_at">
      <h2>Tested when it was closed</h2>
      <ul>
        <li v-for="c in checks" :key="c.text">{{ c.text }}: {{ c.result }}</li>
      </ul>
      <p v-if="room.tell.length">Known of this part from another phone: {{ room.tell.join('; ') }}.</p>
      <p>
        Water:
        {{
          sealed
            ? 'the edge has new adhesive, which was not tested; treat it as not keeping water out'
            : 'the edge was not sealed anew; keep it dry'
        }}.
      </p>
    </template>
    <p>{{ room.notice }}</p>
  </article>
</template>

<style scoped>
.slip {
  display: none;
}
@media print {
  .slip {
    display: block;
    font-size: 12pt;
  }
  .slip ul {
    columns: 2;
  }
}
</style>
