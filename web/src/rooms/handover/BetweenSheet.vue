<script setup lang="ts">
import { computed } from 'vue'

import { api } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import { useRoom } from '../../shared/useRoom'
import FitLines from '../fit/FitLines.vue'

/** What the rooms between models say of one model: against its predecessor, and which pieces stand in for its own. */
const props = defineProps<{ model: string }>()
const { room: generations } = useRoom(
  () => ['generations', props.model],
  () => api.GET('/api/models/{id}/generations', { params: { path: { id: props.model } } }),
)
const before = computed(() => {
  const at = generations.value?.findIndex((g) => g.model_id === props.model) ?? -1
  return at > 0 ? generations.value![at - 1]!.model_id : ''
})
const { room: compared } = useRoom(
  () => ['compare', props.model, before.value],
  () => api.GET('/api/models/{id}/compare/{other}', { params: { path: { id: props.model, other: before.value } } }),
  { enabled: () => Boolean(before.value) },
)
const kinds = { battery: 'Batteries', display: 'Screens', 'charge-port': 'Ports', 'rear-camera': 'Rear cameras' }
</script>

<template>
  <section v-if="compared">
    <h2>Against its predecessor</h2>
    <AnswerLine plain :sentence="compared.answer" />
    <p v-for="c in compared.claims" :key="c.text" class="quiet">{{ c.text }}: {{ c.finding }}, {{ c.found }}</p>
    <RouterLink class="no-print" :to="{ name: 'compare', query: { model, other: before } }">The comparison</RouterLink>
  </section>
  <FitLines
    v-for="(title, kind) in kinds"
    :key="kind"
    :model="model"
    :kind="kind"
    :title="`${title} of other models`"
  />
</template>
