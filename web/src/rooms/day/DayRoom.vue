<script setup lang="ts">
import { useIntervalFn, useLocalStorage } from '@vueuse/core'
import { ElButton, ElInput } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, take, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import { tone } from '../../shared/bench/tone'
import { percent } from '../../shared/format'
import { day as inDays } from '../../shared/locale'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useSession } from '../../shared/session'
import { useChange } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'
import { useUndo } from '../../shared/useUndo'
import DayJobForm from './DayJobForm.vue'
import DayLanes from './DayLanes.vue'
import HandsForm from './HandsForm.vue'
import { clockOf, offsetOf, today } from './times'
import DataTable from '../../shared/DataTable.vue'
import type { Column } from '../../shared/table'

/** The bench day: will it all be done, and what comes next. */
const route = useRoute()
const router = useRouter()
const date = computed(() => String(route.query.date ?? today()))
const go = (d: string) => router.replace({ query: { ...route.query, date: d === today() ? undefined : d } })
function shift(days: number) {
  const d = new Date(`${date.value}T12:00:00`)
  d.setDate(d.getDate() + days)
  void go(d.toLocaleDateString('sv'))
}
const typedDate = ref(date.value)
watch(date, (d) => (typedDate.value = d))
const ask = () => ({ path: { date: date.value }, query: { offset: offsetOf(date.value) } })
const { room, error, pending, again } = useRoom(
  () => ['day', date.value],
  () => api.GET('/api/days/{date}', { params: ask() }),
)
/** What the swap lab has for the day: read by itself, the plan does not wait for it. */
const { room: lab } = useRoom(
  () => ['day-lab', date.value],
  () => api.GET('/api/days/{date}/lab', { params: ask() }),
  { staleTime: 300_000 },
)
const { may } = useSession()
const writes = may('jobs')
const office = may('office')
const { room: desk } = useRoom(['desk'], () => api.GET('/api/parts'))
const picked = ref('')
const adding = ref(false)
const hands = ref(false)
const { problem, busy, mine, theirs, each } = useChange()
const { gone, offer, undo } = useUndo((r: Schemas['BenchJob']) =>
  each(`restore ${r.id}`, (v, header) =>
    take(
      api.POST('/api/day-jobs/{id}/restore', {
        params: { path: { id: r.id }, query: { version: v ?? r.version }, header },
      }),
    ),
  ),
)
const job = (id: string) => room.value?.jobs.find((j) => j.id === id)

/** The clock of the day, counted on from when the room was read. */
const ticks = ref(0)
let read = Date.now()
watch(room, () => ((read = Date.now()), (ticks.value = 0)))
useIntervalFn(() => (ticks.value = Math.round((Date.now() - read) / 1000)), 1000)
const now = computed(() => (room.value && room.value.now >= 0 ? room.value.now + ticks.value : -1))
useIntervalFn(() => now.value >= 0 && void again(), 30_000)

const tell = (a: Schemas['BenchdayAct'], what: 'start' | 'end' | 'undo') =>
  each(`${what} ${a.job_id} ${a.op}`, (v, header) =>
    take(
      api.PUT('/api/day-jobs/{id}/step', {
        params: { path: { id: a.job_id }, header },
        body: {
          version: v ?? job(a.job_id)?.version ?? 1,
          op: a.op,
          what,
          at: Math.max(0, now.value >= 0 ? now.value : a.start),
          person: a.person ?? '',
        },
      }),
    ),
  )
const drop = async (j: Schemas['BenchdayJobView']) =>
  offer(
    await each(`drop ${j.id}`, (v, header) =>
      take(
        api.DELETE('/api/day-jobs/{id}', {
          params: { path: { id: j.id }, query: { version: v ?? j.version }, header },
        }),
      ),
    ),
  )

/** What rings: a running heat or wait that is over, until it is silenced or its end is said. */
const silenced = useLocalStorage<string[]>('waryowl-day-silenced', [])
const key = (a: Schemas['BenchdayAct']) => `${date.value}/${a.job_id}/${a.op}`
const over = computed(() =>
  (room.value?.acts ?? []).filter(
    (a) => a.state === 'running' && !a.person && now.value >= a.end && !silenced.value.includes(key(a)),
  ),
)
useIntervalFn(() => over.value.length && tone(true), 1500)
const silence = () => (silenced.value = [...silenced.value, ...over.value.map(key)].slice(-200))
const at = (s: number) => clockOf(room.value?.open ?? 0, s)
const words = { planned: '', running: 'running', done: 'done' } as const
const hoursOf = (m: number) =>
  m < 100 ? `${m} min` : [`${Math.floor(m / 60)} h`, m % 60 ? `${m % 60} min` : ''].join(' ').trim()
const printed = () => window.print()
const columns = computed<Column<Schemas['BenchdayAct']>[]>(() => [
  { id: 'title', title: 'Phone', value: (a) => a.title },
  { id: 'from', title: 'From', kind: 'number', value: (a) => a.start, text: (a) => at(a.start) },
  { id: 'to', title: 'To', kind: 'number', value: (a) => a.end, text: (a) => at(a.end) },
  { id: 'what', title: 'What', value: (a) => a.op },
  { id: 'who', title: 'Who, where', value: (a) => [a.person, a.machine].filter(Boolean).join(', ') },
  { id: 'state', title: 'State', value: (a) => words[a.state], few: true },
  ...(writes.value ? [{ id: 'say', title: 'Say', value: () => '', bare: true } as Column<Schemas['BenchdayAct']>] : []),
])
</script>

<template>
  <div class="room">
    <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
    <AnswerLine v-else class="answer" :sentence="room?.answer" />
    <div class="stage">
      <div class="row no-print asked">
        <ElButton aria-label="The day before" @click="shift(-1)">‹</ElButton>
        <ElInput
          v-model="typedDate"
          class="date"
          maxlength="10"
          aria-label="Day"
          @keydown.enter="go(typedDate)"
          @blur="go(typedDate)"
        />
        <ElButton aria-label="The day after" @click="shift(1)">›</ElButton>
        <ElButton v-if="writes" type="primary" @click="adding = true">Add a job</ElButton>
        <ElButton v-if="office && desk" @click="hands = true">Hands and machines</ElButton>
        <ElButton @click="printed">Print</ElButton>
        <a v-if="room?.jobs.length" :href="`/api/days/${date}/calendar?offset=${offsetOf(date)}`">Calendar file</a>
      </div>
      <p class="only-print">{{ date }}</p>
      <p v-if="gone" class="undo" role="status">
        Taken off this day.
        <ElButton @click="undo">Undo</ElButton>
      </p>
      <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
      <section v-if="over.length" class="alarm" role="alert">
        <p v-for="a in over" :key="a.op + a.job_id">
          {{ a.title }}: {{ a.op }} is over{{ a.heats ? ', open it now' : '' }}.
        </p>
        <button class="big" @click="silence">Silence</button>
      </section>
      <template v-if="room">
        <p v-if="room.later">
          <button class="bare link" @click="go(room.later)">The next day with jobs is {{ inDays(room.later) }}</button>
        </p>
        <section v-if="room.next.length && !room.problem" id="next" class="next">
          <div v-for="a in room.next" :key="a.job_id + a.op" class="act">
            <p class="large">
              {{ at(a.start) }}
              <b>{{ a.title }}</b>
              {{ a.op }}{{ a.person ? `, ${a.person}` : '' }}{{ a.machine ? `, ${a.machine}` : '' }}
            </p>
            <ElButton v-if="writes" type="primary" size="large" :loading="busy" @click="tell(a, 'start')">
              Start {{ a.title }} {{ a.op }}
            </ElButton>
          </div>
          <p v-if="room.next.some((a) => /heat/.test(a.op))" class="quiet">
            Heat: gloves, a thermometer at the opening edge, never a swollen battery on a plate.
          </p>
        </section>
        <p v-if="room.problem" class="danger" role="alert">{{ room.problem }}</p>
        <section v-if="room.acts.length" id="lanes">
          <h2>Hands and machines</h2>
          <DayLanes :room="room" :now="now" :picked="picked" @pick="picked = $event" />
          <DataTable
            name="acts"
            caption="Hands and machines"
            :rows="room.acts.filter((x) => !picked || x.job_id === picked)"
            :columns="columns"
            :row-key="(a) => a.job_id + a.op"
          >
            <template #state="{ row: a }">
              {{ words[a.state] }}
              <span v-if="a.over" class="look">{{ `${Math.ceil(a.over / 60)} min longer` }}</span>
            </template>
            <template #say="{ row: a }">
              <div v-if="writes" class="row no-print">
                <ElButton
                  v-if="a.state === 'planned'"
                  size="small"
                  :aria-label="`Start: ${a.title} ${a.op}`"
                  @click="tell(a, 'start')"
                >
                  Start
                </ElButton>
                <ElButton
                  v-if="a.state === 'running'"
                  size="small"
                  type="primary"
                  :aria-label="`End: ${a.title} ${a.op}`"
                  @click="tell(a, 'end')"
                >
                  Done
                </ElButton>
                <ElButton
                  v-if="a.state !== 'planned'"
                  size="small"
                  :aria-label="`Take back: ${a.title} ${a.op}`"
                  @click="tell(a, 'undo')"
                >
                  Not so
                </ElButton>
              </div>
            </template>
          </DataTable>
        </section>
      </template>
      <p v-else-if="pending" class="quiet">Planning …</p>
    </div>
    <div v-if="room" class="shelf">
      <section v-if="room.jobs.length" id="jobs">
        <h2>Chances</h2>
        <ul class="plain">
          <li v-for="j in room.jobs" :key="j.id" class="row job">
            <button class="bare" :aria-pressed="picked === j.id" @click="picked = picked === j.id ? '' : j.id">
              <b>{{ j.title }}</b>
              {{ j.state === 'done' ? 'done' : `${at(j.ends)}, ${percent(j.on_time)} in time` }}
              <span class="quiet">{{ j.due ? `due ${at(j.due)}` : 'due by closing' }}</span>
            </button>
            <button
              v-if="writes"
              class="bare quiet no-print"
              :aria-label="`Take ${j.title} off this day`"
              @click="drop(j)"
            >
              ×
            </button>
          </li>
          <li>All by {{ at(room.close) }}: {{ percent(room.found.p_done_by_close) }}</li>
        </ul>
        <p class="quiet">
          {{
            room.found.proven
              ? 'No plan is better by the usual times.'
              : `The best plan found; no plan is less than ${Math.round(room.found.bound.weighted_tardiness / 60)} min late.`
          }}
        </p>
      </section>
      <section v-if="room.drops.length">
        <h2>What could wait</h2>
        <ul class="plain">
          <li v-for="d in room.drops" :key="d.job_id">Without {{ d.title }}: {{ percent(d.p) }} by closing time</li>
        </ul>
      </section>
      <section v-if="lab?.settling.length" id="settling">
        <h2>Swap tests that settle most in {{ hoursOf(lab.minutes) }}</h2>
        <ol class="plain">
          <li v-for="t in lab.settling" :key="t.study_id + t.words">
            <RouterLink :to="{ name: 'swap', params: { id: t.study_id } }">{{ t.job }}</RouterLink>
            {{ t.words }}
            <span class="quiet">{{ `${Math.round(t.minutes)} min` }}</span>
          </li>
        </ol>
      </section>
      <section v-if="room.said.length">
        <h2>Worth knowing</h2>
        <ul class="plain">
          <li v-for="s in room.said" :key="s">{{ s }}</li>
        </ul>
      </section>
      <section v-if="room.dues.length || lab?.retests.length" id="dues">
        <h2>Also due</h2>
        <ul class="plain">
          <li v-for="t in lab?.retests ?? []" :key="t.study_id + t.trial">
            <RouterLink :to="{ name: 'swap', params: { id: t.study_id } }">
              {{ t.study }}: {{ t.trial }} again
            </RouterLink>
            {{ t.title }}
            <span class="quiet">{{ `build ${t.on}: ${t.cells} verdicts, ${Math.round(t.minutes)} min` }}</span>
          </li>
          <li v-for="d in room.dues" :key="d.text + d.on">
            <RouterLink :to="{ name: 'parts', query: { face: d.room } }">{{ d.text }}</RouterLink>
            <span :class="d.late ? 'danger' : 'quiet'">{{ ` ${inDays(d.on)}` }}</span>
          </li>
        </ul>
      </section>
      <p v-for="a in room.asks" :key="a" class="quiet">{{ a }}</p>
    </div>
    <DayJobForm v-if="adding && room" :room="room" @close="adding = false" />
    <HandsForm v-if="hands && desk" :desk="desk" @close="hands = false" />
  </div>
</template>

<style scoped>
.asked {
  margin-bottom: 14px;
}
.date {
  width: 120px;
}
.next {
  border-left: 4px solid var(--pine);
  padding: 6px 0 6px 14px;
  margin-bottom: 18px;
}
.act {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 18px;
  align-items: center;
  justify-content: space-between;
}
.large {
  font-size: 24px;
  margin: 4px 0;
}
.alarm {
  border: 3px solid var(--amber-fill);
  padding: 8px 14px;
  margin-bottom: 14px;
  font-size: 22px;
}
.big {
  min-height: 88px;
  min-width: 220px;
  font-size: 24px;
}
.job {
  justify-content: space-between;
}
.done {
  color: var(--quiet);
}
.link {
  color: var(--slate);
  text-decoration: underline;
  cursor: pointer;
}
@media (max-width: 600px) {
  .wide {
    display: none;
  }
}
.only-print {
  display: none;
}
@media print {
  .only-print {
    display: block;
  }
}
td {
  font-size: 15px;
}
</style>
