<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { ElButton } from 'element-plus'
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import CautionList from '../../shared/CautionList.vue'

import { first, jumping, typing } from '../../shared/keys'
import { money } from '../../shared/money'
import PhoneMap from '../../shared/PhoneMap.vue'
import { useSession } from '../../shared/session'
import { useRoom } from '../../shared/useRoom'
import FitLines from '../fit/FitLines.vue'
import JobCells from './JobCells.vue'
import JobFacts from './JobFacts.vue'
import JobWay from './JobWay.vue'
import OutcomeDots from './OutcomeDots.vue'

const VisitForm = defineAsyncComponent(() => import('../visit/VisitForm.vue'))

/** May I take this job, and how? The verdict is the largest thing on the page, then what it costs, then the way. */
const route = useRoute()
const router = useRouter()
const path = computed(() => ({ id: String(route.params.id), part: String(route.params.part) }))
const { room: job, error } = useRoom(
  () => ['job', path.value.id, path.value.part],
  () => api.GET('/api/models/{id}/parts/{part}', { params: { path: path.value } }),
)
type Common = 'battery' | 'screen' | 'back-glass' | 'port' | 'camera'
const common = computed(() => job.value?.job as Common | undefined)
const ask = (soon: boolean) =>
  api.GET('/api/models/{id}/gate/{job}', {
    params: { path: { id: path.value.id, job: common.value! }, query: { soon } },
  })
// The verdict stands at once; when the bench has room for it takes a moment longer.
const { room: soon } = useRoom(
  () => ['gate', path.value.id, common.value, 'soon'],
  () => ask(true),
  { enabled: () => Boolean(common.value) },
)
const { room: later } = useRoom(
  () => ['gate', path.value.id, common.value],
  () => ask(false),
  { enabled: () => Boolean(soon.value) },
)
const gate = computed(() => (common.value ? (later.value ?? soon.value) : undefined))
const grade = computed(() => gate.value?.found.answer ?? job.value?.grade)
const verdict = computed(() => gate.value?.verdict ?? job.value?.verdict)
const why = computed(() => gate.value?.why ?? job.value?.why ?? [])
/** What speaks for and against it, as sentences. */
const more = computed(() => {
  const up = (s: string) => s.charAt(0).toUpperCase() + s.slice(1)
  const f = gate.value?.found
  return [
    left.value && `It ${left.value}.`,
    f?.promise && grade.value === 'take_later' && `Promise ${f.promise}, likely ${f.likely}.`,
  ]
    .filter(Boolean)
    .concat(grade.value === 'take' ? [] : why.value.slice(0, 2).map((w) => `${up(w)}.`)) as string[]
})
const left = computed(() => {
  const g = gate.value
  if (!g?.priced) return ''
  return `${g.leaves_minor < 0 ? 'loses' : 'leaves'} ${money(Math.abs(g.leaves_minor), g.currency)}`
})

const { may } = useSession()
const visits = may('visits')
const taking = ref(false)
watch(
  () => route.query.take,
  (t) => (taking.value = Boolean(t) && visits.value),
  { immediate: true },
)
watch(visits, (v) => v && route.query.take && (taking.value = true))
const against = computed(() => grade.value === 'refuse')
useEventListener('keydown', (e: KeyboardEvent) => {
  if (typing(e) || jumping() || e.ctrlKey || e.metaKey || e.altKey || !job.value) return
  if (((first(e) && !against.value) || e.key === 't') && visits.value) taking.value = true
  else if (e.key === 'x') router.back()
  else return
  e.preventDefault()
})
</script>

<template>
  <div class="card">
    <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
    <template v-else-if="job">
      <header class="top">
        <p class="verdict" :class="grade" aria-live="polite">{{ verdict ?? '…' }}</p>
        <div class="says">
          <AnswerLine :sentence="job.answer" />
          <p class="line" :class="{ danger: grade === 'refuse' }">{{ more.join(' ') }}</p>
        </div>
        <div v-if="visits" class="doing no-print">
          <ElButton :type="against ? undefined : 'primary'" size="large" @click="taking = true">
            {{ against ? 'Take it all the same' : 'Take a phone in' }}
            <span class="keys">{{ against ? 't' : 'Enter' }}</span>
          </ElButton>
          <ElButton :type="against ? 'primary' : undefined" size="large" @click="router.back()">
            Not now
            <span class="keys">x</span>
          </ElButton>
        </div>
      </header>
      <JobCells :job="job" :gate="gate" />
      <div class="body">
        <div class="plan">
          <PhoneMap
            :model="job.model"
            :parts="job.parts"
            :selected="job.part.id"
            :walk="job.way?.steps"
            compact
            @select="(p) => router.push({ name: 'job', params: { id: path.id, part: p } })"
          />
        </div>
        <section id="way" class="way">
          <JobWay :job="job" />
        </section>
        <div class="side">
          <section class="mind">
            <h2>Mind</h2>
            <CautionList :cautions="job.hazards" :notice="job.notice" />
          </section>
          <section>
            <h2>
              How it went
              <span class="quiet">last {{ job.outcomes.length }}, minutes</span>
            </h2>
            <OutcomeDots v-if="job.outcomes.length" :outcomes="job.outcomes" :usual="job.way?.closed_minutes" />
            <p v-else class="quiet">No result yet.</p>
          </section>
          <FitLines v-if="job.kind" :model="path.id" :kind="job.kind" />
          <section v-if="job.inner.length">
            <h2>Repair or replace what is inside</h2>
            <ul class="plain">
              <li v-for="x in job.inner" :key="x.part_id">
                <b>{{ x.part }}</b>
                {{ ': ' }}{{ x.repair ? 'repair' : 'replace' }}
                <p class="quiet">{{ x.why }}</p>
              </li>
            </ul>
          </section>
          <JobFacts :job="job" :gate="gate" />
        </div>
      </div>
      <VisitForm
        v-if="taking"
        :model="{ id: job.model.id, name: job.model.name }"
        :part="{ id: job.part.id, name: job.part.name }"
        :against="against"
        @close="taking = false"
      />
    </template>
    <p v-else class="quiet answer">Reading …</p>
  </div>
</template>

<style scoped>
.card {
  padding: 0 24px 40px;
  max-width: 1500px;
}
.top {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  gap: 24px;
  align-items: center;
  padding: 14px 0;
  border-bottom: 1px solid var(--ink);
}
.verdict {
  font-size: 40px;
  line-height: 44px;
  font-weight: 700;
  margin: 0;
  max-width: 420px;
  color: var(--pine);
}
.verdict.ask,
.verdict.take_later {
  color: var(--amber);
}
.verdict.refuse {
  color: var(--brick);
}
.says :deep(h1) {
  padding: 0;
  margin: 0;
  border: 0;
  min-height: 0;
}
.line,
.says :deep(h1) {
  font-size: 20px;
  line-height: 28px;
  margin: 0;
}
.doing {
  display: grid;
  gap: 6px;
}
.doing :deep(.el-button) {
  justify-content: space-between;
}
.body {
  display: grid;
  grid-template-columns: 300px minmax(0, 1fr) 330px;
  gap: 30px;
  margin-top: 16px;
}
.side section {
  margin-bottom: 22px;
}
@media (max-width: 1100px) {
  .body {
    grid-template-columns: minmax(0, 1fr);
  }
  .side {
    grid-row: 1;
    display: contents;
  }
  .mind {
    grid-row: 1;
  }
}
@media (max-width: 760px) {
  .card {
    padding: 0 14px 110px;
  }
  .top {
    grid-template-columns: minmax(0, 1fr);
    gap: 8px;
  }
  .verdict {
    font-size: 32px;
    line-height: 36px;
  }
  .line,
  .says :deep(h1) {
    font-size: 18px;
    line-height: 25px;
  }
  .doing {
    position: fixed;
    left: 0;
    right: 0;
    bottom: 0;
    grid-template-columns: 1fr 2fr;
    padding: 10px 14px;
    background: var(--ground);
    border-top: 1px solid var(--ink);
    z-index: 10;
  }
  .doing :deep(.el-button) {
    min-height: 52px;
    justify-content: center;
  }
  .doing :deep(.el-button:first-child) {
    order: 2;
  }
  .doing .keys {
    display: none;
  }
}
</style>
