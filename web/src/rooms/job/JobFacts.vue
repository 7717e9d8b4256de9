<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '../../api/client'
import { measured, percent } from '../../shared/format'
import { money } from '../../shared/money'

/** What else is known: the part's own facts, and every reason of the verdict. */
const props = defineProps<{ job: Schemas['JobCard']; gate?: Schemas['PartsGateRoom'] }>()
const facts = computed(() => {
  const p = props.job.part
  return [
    ['label', p.label],
    ['chip mark', p.chip_mark],
    ['connector code', p.connector_code],
    ['also called', p.aliases?.join(', ')],
    ['size', p.w_mm ? `${p.w_mm} × ${p.h_mm} mm` : ''],
    ...Object.entries(props.job.measures ?? {}).map(([kind, q]) => [kind, measured(q)] as const),
    ['mount', p.mount],
    ['belongs to', p.mate],
    ['supply', p.supply],
  ].filter(([, v]) => v)
})
</script>

<template>
  <section v-if="gate" id="gate">
    <h2>Why this verdict</h2>
    <ul class="plain">
      <li v-for="(w, i) in gate.why" :key="i">{{ w }}</li>
      <li v-if="gate.found.p_hurt > 0" class="quiet">
        Something gets damaged in {{ percent(gate.found.p_hurt) }}; then it leaves
        {{ money(Math.round(gate.found.margin_if_hurt), gate.currency) }}.
      </li>
      <li v-if="gate.day" class="quiet">
        {{ gate.day }}.
        <RouterLink :to="{ name: 'day' }">To the bench day</RouterLink>
      </li>
      <li v-for="u in gate.unknown" :key="u" class="quiet">Not on record: {{ u }}.</li>
    </ul>
  </section>
  <section v-if="facts.length">
    <h2>The part</h2>
    <table>
      <tbody>
        <tr v-for="[k, v] in facts" :key="k">
          <td class="quiet">{{ k }}</td>
          <td>{{ v }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>
