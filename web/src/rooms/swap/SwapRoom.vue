<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { useEventListener } from '@vueuse/core'
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'

import { api, once, take, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import EvidenceEye from '../../shared/EvidenceEye.vue'
import { figure, minutes, percent } from '../../shared/format'
import { typing } from '../../shared/keys'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useSave } from '../../shared/save'
import { useSession } from '../../shared/session'
import CellEvidence from './CellEvidence.vue'
import SuspectGrid from './SuspectGrid.vue'
import TrialForm from './TrialForm.vue'
import TrialList from './TrialList.vue'

const id = String(useRoute().params.id)
const build = ref('')
const { data: room, error } = useQuery({
  queryKey: computed(() => ['swap', id, build.value]),
  queryFn: () => take(api.GET('/api/studies/{id}/swap', { params: { path: { id }, query: { build: build.value } } })),
  placeholderData: keepPreviousData,
})
const { may } = useSession()
const writes = may('studies')
const trial = ref<Schemas['TrialView'] | 'new'>()
const start = ref<Schemas['NextSwap']>()
const cell = ref<Schemas['Verdict']>()
const lost = computed(() => room.value?.reports.filter((r) => r.lost > 0) ?? [])
const quietChecks = computed(() => room.value?.reports.filter((r) => r.tested > 0 && !r.lost) ?? [])
const untried = computed(() => room.value?.reports.filter((r) => !r.tested) ?? [])
useEventListener('keydown', (e: KeyboardEvent) => {
  if (e.key === 'n' && !typing(e) && writes.value && (room.value?.units.length ?? 0) > 0) {
    e.preventDefault()
    trial.value = 'new'
  }
})
function begin(n?: Schemas['NextSwap']) {
  start.value = n
  trial.value = 'new'
}
const { problem, mine, theirs, save } = useSave()
const gone = ref<Schemas['Trial']>()
async function remove(t: Schemas['TrialView']) {
  gone.value = await save((v) =>
    take(api.DELETE('/api/trials/{id}', { params: { path: { id: t.id }, query: { version: v ?? t.version }, header: once() } })),
  )
  setTimeout(() => (gone.value = undefined), 10_000)
}
async function restore() {
  const t = gone.value!
  gone.value = undefined
  await save(() =>
    take(api.POST('/api/trials/{id}/restore', { params: { path: { id: t.id }, query: { version: t.version }, header: once() } })),
  )
}
</script>

<template>
  <div class="room">
    <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
    <AnswerLine v-else class="answer" :sentence="room?.answer" />
    <template v-if="room">
      <div class="stage">
        <section v-if="room.builds.length > 1" class="row">
          <span class="quiet">Read for build</span>
          <ElSelect
            :teleported="false"
            :model-value="room.build"
            aria-label="Build"
            style="width: 140px"
            @update:model-value="(v: string) => (build = v)"
          >
            <ElOption v-for="b in room.builds" :key="b" :value="b" :label="b" />
          </ElSelect>
        </section>
        <section id="known">
          <h2>Known on build {{ room.build || 'not recorded' }}</h2>
          <SuspectGrid :room="room" :chosen="cell" @choose="(v) => (cell = v)" />
        </section>
        <section>
          <h2>Trials, board first</h2>
          <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
          <p v-if="gone" class="undo" role="status">
            Trial t{{ gone.seq }} is deleted.
            <ElButton @click="restore">Undo</ElButton>
          </p>
          <TrialList :room="room" :writes="writes" @edit="(t) => (trial = t)" @remove="remove" />
        </section>
      </div>
      <div class="shelf">
        <CellEvidence v-if="cell" :verdict="cell" :room="room" @close="cell = undefined" />
        <section id="next">
          <h2>Next swap</h2>
          <ol class="plain">
            <li v-for="(n, i) in room.next.slice(0, 3)" :key="i" class="next">
              <span>
                {{ n.words }}
                <small class="quiet">
                  <span class="fig">{{ minutes(n.minutes) }}</span>
                  {{ n.assumed ? '(assumed)' : 'with refit and checks' }},
                  <span class="fig">{{ figure(n.bits, 'bits') }}</span>
                  bits
                </small>
              </span>
              <ElButton v-if="writes" :type="i ? undefined : 'primary'" :aria-label="`Start: ${n.words}`" @click="begin(n)">
                Start
              </ElButton>
            </li>
          </ol>
          <p v-if="!room.next.length && room.trials.length" class="quiet">
            Nothing that could be exchanged next is worth its minutes.
          </p>
          <ElButton v-if="writes && room.units.length" @click="begin()">
            Record a trial
            <span class="keys">n</span>
          </ElButton>
          <p v-if="!room.units.length" class="quiet">
            Record two units at
            <RouterLink :to="{ name: 'intake', params: { id } }">intake</RouterLink>
            first.
          </p>
        </section>
        <section>
          <h2>Suspected, check by check</h2>
          <p v-if="room.refused" class="danger">{{ room.refused }}</p>
          <ul class="plain">
            <li v-for="r in lost" :key="r.check.id">
              <div class="row">
                <EvidenceEye :state="r.settled ? 'open' : 'half'" :label="r.settled ? 'settled' : 'not settled'" />
                <b>{{ r.check.name }}</b>
                <span class="quiet">lost {{ r.lost }} of {{ r.tested }}</span>
              </div>
              <ul class="sus">
                <li v-for="s in r.suspects.slice(0, 3)" :key="s.words">
                  <span class="bar" aria-hidden="true"><i :style="{ width: `${100 * s.p}%` }"></i></span>
                  <span class="fig">{{ percent(s.p) }}</span>
                  {{ s.words }}
                </li>
              </ul>
              <p v-for="d in r.disputes.filter((x) => !x.words.length)" :key="d.trial" class="look">
                {{ d.trial }} and {{ d.against.join(', ') || 'the others' }} disagree: a bad seat or an interaction; repeating
                tells.
              </p>
            </li>
          </ul>
          <p v-if="quietChecks.length" class="quiet">No loss seen: {{ quietChecks.map((r) => r.check.name).join('; ') }}.</p>
          <p v-if="untried.length" class="quiet">Never tested in a trial: {{ untried.map((r) => r.check.name).join('; ') }}.</p>
        </section>
        <section v-if="room.skips.length || room.doubts.length">
          <h2>What does not count, what is doubted</h2>
          <ul class="plain">
            <li v-for="(s, i) in room.skips" :key="i">
              <b>{{ s.trial }}</b>
              {{ s.check }}: {{ s.why }}
            </li>
            <li v-for="d in room.doubts" :key="d.trial + d.check">
              <b>{{ d.trial }}</b>
              {{ d.check }}: noise with {{ percent(d.p) }}; repeating it takes {{ minutes(d.minutes) }}
            </li>
          </ul>
        </section>
        <p class="quiet">
          A reading is taken to be wrong in {{ percent(room.noise.false_loss) }} of passes and
          {{ percent(room.noise.false_pass) }} of losses (house). {{ room.limit }}
        </p>
      </div>
    </template>
    <TrialForm
      v-if="trial && room"
      :room="room"
      :trial="trial === 'new' ? undefined : trial"
      :start="start"
      @close="
        () => {
          trial = undefined
          start = undefined
        }
      "
    />
  </div>
</template>

<style scoped>
.next {
  display: flex;
  gap: 10px;
  justify-content: space-between;
  align-items: flex-start;
}
.next small {
  display: block;
}
.sus {
  list-style: none;
  padding: 4px 0 0 32px;
  margin: 0;
}
.sus li {
  display: grid;
  grid-template-columns: 64px 48px 1fr;
  gap: 8px;
  align-items: center;
  font-size: 15px;
}
.bar {
  height: 8px;
  background: var(--wash);
  border: 1px solid var(--strong-line);
}
.bar i {
  display: block;
  height: 100%;
  background: var(--amber-fill);
}
.undo {
  background: var(--amber-wash);
  padding: 8px 12px;
}
.keys {
  margin-left: 6px;
}
</style>
