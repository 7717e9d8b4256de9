<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'

import { api } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import { percent } from '../../shared/format'
import { money } from '../../shared/money'
import { useRoom } from '../../shared/useRoom'

/** May this job be taken: the answer with every reason and its fact. */
const props = defineProps<{ model: string; chooses?: boolean }>()
const jobs = ['battery', 'screen', 'back-glass', 'port', 'camera'] as const
const job = defineModel<(typeof jobs)[number]>('job', { required: true })
const { room, error } = useRoom(
  () => ['gate', props.model, job.value],
  () => api.GET('/api/models/{id}/gate/{job}', { params: { path: { id: props.model, job: job.value } } }),
)
const grades = { take: 'told', take_later: 'later', ask: 'ask', refuse: 'refuse' } as const
</script>

<template>
  <section id="gate">
    <h2>May this job be taken?</h2>
    <ElSelect v-if="chooses" v-model="job" :teleported="false" aria-label="Which job" class="job no-print">
      <ElOption v-for="j in jobs" :key="j" :value="j" :label="j.replace('-', ' ')" />
    </ElSelect>
    <p v-if="error" role="alert">{{ error.message }}</p>
    <template v-else-if="room">
      <AnswerLine :sentence="room.answer" plain />
      <ul class="plain">
        <li v-for="(r, i) in room.found.reasons" :key="i">
          <b :class="{ danger: r.grade === 'refuse', look: r.grade !== 'refuse' && r.grade !== 'take' }">
            {{ grades[r.grade] }}
          </b>
          {{ `${r.item}: ${r.fact}` }}
        </li>
        <li v-if="room.found.p_hurt > 0" class="quiet">
          Something gets damaged in {{ percent(room.found.p_hurt) }}; then it leaves
          {{ money(Math.round(room.found.margin_if_hurt), room.currency) }}.
        </li>
        <li v-if="room.day" class="quiet">
          {{ room.day }}.
          <RouterLink :to="{ name: 'day' }">To the bench day</RouterLink>
        </li>
        <li v-if="room.bench" class="quiet">{{ room.bench }}.</li>
        <li v-for="u in room.unknown" :key="u" class="quiet">Not on record: {{ u }}.</li>
      </ul>
      <p class="quiet">
        Ask and refuse can be taken all the same: write the job down with your name and why.
        <RouterLink :to="{ name: 'parts', query: { face: 'jobs', model } }">To the jobs</RouterLink>
      </p>
    </template>
  </section>
</template>

<style scoped>
.job {
  width: 160px;
  margin-bottom: 8px;
}
</style>
