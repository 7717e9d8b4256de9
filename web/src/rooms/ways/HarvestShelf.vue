<script setup lang="ts">
import { ElInputNumber } from 'element-plus'
import { ref } from 'vue'

import { api, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import { percent } from '../../shared/format'
import { useRoom } from '../../shared/useRoom'
import DataTable from '../../shared/DataTable.vue'
import type { Column } from '../../shared/table'

/** Which parts of a donor pay for their minutes. */
const props = defineProps<{ model: string }>()
const hourly = ref(45)
const { room: harvest } = useRoom(
  () => ['harvest', props.model, hourly.value],
  () =>
    api.GET('/api/models/{id}/harvest', {
      params: { path: { id: props.model }, query: { hourly: Math.round((hourly.value || 0) * 100) } },
    }),
)
const money = (minor: number) => (minor / 100).toFixed(2)
const columns: Column<Schemas['WaysHarvestPart']>[] = [
  { id: 'part', title: 'Part', value: (p) => p.part },
  { id: 'worth', title: 'Worth', kind: 'money', value: (p) => p.worth_minor, text: (p) => money(p.worth_minor) },
  {
    id: 'whole',
    title: 'Undamaged',
    kind: 'number',
    value: (p) => (p.take ? p.survival : undefined),
    text: (p) => (p.take ? percent(p.survival) : ''),
  },
  { id: 'take', title: 'Take?', value: (p) => (p.take ? 'take' : 'leave'), few: true },
]
</script>

<template>
  <section id="harvest" class="half">
    <h2>A donor phone</h2>
    <label>
      An hour costs
      <ElInputNumber v-model="hourly" :min="0" :max="100000" :step="5" aria-label="An hour costs" />
      {{ harvest?.currency }}
    </label>
    <template v-if="harvest">
      <AnswerLine plain :sentence="harvest.answer" />
      <p v-if="harvest.parts.length" :class="harvest.proven ? 'quiet' : 'look'">
        {{ harvest.proven ? 'best order' : `not proven: nothing leaves more than ${money(harvest.bound_minor)}` }}
      </p>
      <DataTable
        v-if="harvest.parts.length"
        name="harvest"
        caption="Parts of a donor phone"
        :rows="harvest.parts"
        :columns="columns"
        :row-key="(p) => p.part_id"
      />
      <p v-if="harvest.unpriced.length" class="quiet">Without a worth: {{ harvest.unpriced.join(', ') }}</p>
    </template>
  </section>
</template>
