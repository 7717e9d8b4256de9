<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '../../api/client'
import DriveMark from '../../shared/DriveMark.vue'
import { clock, count } from '../../shared/format'
import { order, toolOf } from '../../words'

/** The way in on the job card: one row a step, with its tool and its time. */
const props = defineProps<{ job: Schemas['JobCard'] }>()
const way = computed(() => props.job.way)
const upper = (s: string) => s.charAt(0).toUpperCase() + s.slice(1)
</script>

<template>
  <h2>
    Way in{{ way && !way.blocked ? `, ${count(way.steps.length, 'act')}` : '' }}
    <RouterLink
      class="no-print other"
      :to="{ name: 'ways', params: { id: job.model.id }, query: { part: job.part.id } }"
    >
      all ways of this model
    </RouterLink>
  </h2>
  <p v-if="!way" class="quiet">No step on record takes it out.</p>
  <p v-else-if="way.blocked" class="danger">{{ way.blocked }}</p>
  <ol v-else class="plain">
    <li v-for="(s, i) in way.steps" :key="s.id">
      <span class="fig quiet">{{ i + 1 }}</span>
      <span>
        {{ upper(order(s.verb, s.what)) }}
        <DriveMark :drive="s.drive" :length="s.length_mm" />
        <small class="quiet">{{ toolOf(s) }}{{ s.runs ? '' : ', predicted' }}</small>
      </span>
      <span class="fig">
        {{ clock(s.seconds) }}
        <small v-if="s.wait_seconds" class="quiet">+ {{ clock(s.wait_seconds) }} wait</small>
      </span>
    </li>
  </ol>
  <p v-if="job.touched.length" class="quiet">Tested afterwards: {{ job.touched.join(', ') }}.</p>
</template>

<style scoped>
.other {
  float: right;
  font-weight: 400;
}
li {
  display: grid;
  grid-template-columns: 28px minmax(0, 1fr) auto;
  gap: 8px;
  min-height: 46px;
}
small {
  display: block;
  font-size: 14px;
}
li > .fig:last-child {
  text-align: right;
}
p {
  margin-top: 10px;
}
</style>
