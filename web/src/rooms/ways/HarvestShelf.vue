<script setup lang="ts">
import { ElInputNumber } from 'element-plus'
import { ref } from 'vue'

import { api } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import { percent } from '../../shared/format'
import { useRoom } from '../../shared/useRoom'

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
      <table v-if="harvest.parts.length">
        <thead>
          <tr>
            <th>Part</th>
            <th class="num">worth</th>
            <th class="num">unhurt</th>
            <th>take?</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="p in harvest.parts" :key="p.part_id">
            <td>{{ p.part }}</td>
            <td class="num">{{ money(p.worth_minor) }}</td>
            <td class="num">{{ p.take ? percent(p.survival) : '' }}</td>
            <td>{{ p.take ? 'take' : 'leave' }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="harvest.unpriced.length" class="quiet">Without a worth: {{ harvest.unpriced.join(', ') }}</p>
    </template>
  </section>
</template>
