<script setup lang="ts">
import { computed } from 'vue'

import { api } from '../../api/client'
import EvidenceEye from '../../shared/EvidenceEye.vue'
import { useRoom } from '../../shared/useRoom'
import FitMark from './FitMark.vue'

/** What pieces of other models and copies do in one model, as far as it was tried or is settled. */
const props = defineProps<{ model: string; kind: string; title?: string }>()
const { room } = useRoom(
  () => ['fit', props.kind, props.model],
  () => api.GET('/api/fit/{kind}', { params: { path: { kind: props.kind }, query: { model: props.model } } }),
  { enabled: () => Boolean(props.kind) },
)
const name = (id: string) => room.value?.lines.find((l) => l.id === id)?.name ?? id
const here = computed(
  () => room.value?.found.pairs.filter((p) => p.host === props.model && p.donor !== props.model && p.reached.n) ?? [],
)
const there = computed(
  () => room.value?.found.pairs.filter((p) => p.donor === props.model && p.host !== props.model && p.reached.n) ?? [],
)
const untried = computed(
  () =>
    room.value?.found.pairs.filter((p) => p.host === props.model && p.donor !== props.model && !p.reached.n).length ??
    0,
)
</script>

<template>
  <section v-if="here.length || there.length">
    <h2>{{ title ?? 'Pieces of other models' }}</h2>
    <ul class="plain">
      <li v-for="p in here" :key="p.donor">
        {{ name(p.donor) }}’s here:
        <FitMark :level="p.level" />
        {{ ' ' }}
        <EvidenceEye :state="p.grade" :size="18" />
        {{ ' ' }}
        <small class="quiet">n {{ p.reached.n }}</small>
      </li>
      <li v-for="p in there" :key="p.host">
        this one in the {{ name(p.host) }}:
        <FitMark :level="p.level" />
        {{ ' ' }}
        <EvidenceEye :state="p.grade" :size="18" />
        {{ ' ' }}
        <small class="quiet">n {{ p.reached.n }}</small>
      </li>
    </ul>
    <p class="quiet">
      <template v-if="untried">{{ untried }} more never tried.{{ ' ' }}</template>
      <RouterLink class="no-print" :to="{ name: 'fit', query: { kind, model } }">The whole chart</RouterLink>
    </p>
  </section>
</template>
