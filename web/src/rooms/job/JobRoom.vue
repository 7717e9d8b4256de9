<script setup lang="ts">
import { ElButton, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed, defineAsyncComponent, reactive, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, newId, take } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import CautionList from '../../shared/CautionList.vue'
import EvidenceEye from '../../shared/EvidenceEye.vue'
import { measured, minutes, percent } from '../../shared/format'
import PhoneMap from '../../shared/PhoneMap.vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'
import { useSession } from '../../shared/session'
import VerdictMark from '../../shared/VerdictMark.vue'
import { useRoom } from '../../shared/useRoom'
import FitLines from '../fit/FitLines.vue'
import GateCard from '../parts/GateCard.vue'

const NewFault = defineAsyncComponent(() => import('../faults/NewFault.vue'))
const route = useRoute()
const router = useRouter()
const path = { id: String(route.params.id), part: String(route.params.part) }
const { room: job, error } = useRoom(['job', path.id, path.part], () =>
  api.GET('/api/models/{id}/parts/{part}', { params: { path } }),
)
const { may } = useSession()
const tells = may('outcomes')
const visits = may('visits')
const looking = ref(false)
const build = computed(() => job.value?.builds.at(-1))
const facts = computed(() => {
  const p = job.value?.part
  if (!p) return []
  return [
    ['label', p.label],
    ['chip mark', p.chip_mark],
    ['connector code', p.connector_code],
    ['also called', p.aliases?.join(', ')],
    ['size', p.w_mm ? `${p.w_mm} × ${p.h_mm} mm` : ''],
    ...Object.entries(job.value?.measures ?? {}).map(([kind, q]) => [kind, measured(q)] as const),
    ['mount', p.mount],
    ['belongs to', p.mate],
    ['supply', p.supply],
  ].filter(([, v]) => v)
})
const how = reactive({ minutes: 45, went: 'fine' as 'fine' | 'tab broke' | 'incident' | 'gave up', note: '' })
const { problem, busy, save } = useChange()
let id = newId()
async function tell() {
  const done = await save((_v, header) =>
    take(api.POST('/api/models/{id}/parts/{part}/outcomes', { params: { path, header }, body: { id, ...how } })),
  )
  if (done) {
    id = newId()
    how.note = ''
  }
}
/** The common job that this part is, for the gate. */
const common = computed({
  get: () => jobOf[job.value?.kind ?? ''],
  set: () => {},
})
const jobOf: Record<string, 'battery' | 'screen' | 'back-glass' | 'port' | 'camera' | undefined> = {
  battery: 'battery',
  display: 'screen',
  'rear-glass': 'back-glass',
  'charge-port': 'port',
  'rear-camera': 'camera',
}
</script>

<template>
  <div class="room">
    <div v-if="error" class="answer wait" role="alert">{{ error.message }}</div>
    <AnswerLine v-else class="answer" :sentence="job?.answer" />
    <template v-if="job">
      <div class="stage">
        <section id="way">
          <h2>{{ job.model.maker }} {{ job.model.name }}, {{ job.part.name }}</h2>
          <PhoneMap
            :model="job.model"
            :parts="job.parts"
            :selected="job.part.id"
            :walk="job.way?.steps"
            compact
            @select="(p) => router.push({ name: 'job', params: { id: path.id, part: p } })"
          />
          <template v-if="job.way && !job.way.blocked">
            <p>
              <b class="fig">{{ job.way.steps.length }}</b>
              steps,
              <b class="fig">{{ job.way.depth }}</b>
              steps deep,
              <b class="fig">{{ job.way.screws }}</b>
              screws, with {{ job.way.tools.join(', ') }}.
              <template v-if="!job.way.measured">All times are estimates.</template>
              <template v-else>{{ job.way.measured }} of {{ job.way.steps.length }} steps were timed.</template>
            </p>
            <p v-for="s in job.way.survival.slice(0, 3)" :key="s.part" class="quiet">
              {{ s.part }} comes through undamaged in {{ percent(s.p) }}
            </p>
            <RouterLink :to="{ name: 'ways', params: { id: path.id }, query: { part: path.part } }">
              The way in, step by step
            </RouterLink>
          </template>
        </section>
      </div>
      <div class="shelf">
        <p v-if="visits" class="no-print">
          <ElButton @click="looking = true">Find the fault of a phone of this model</ElButton>
        </p>
        <NewFault
          v-if="looking"
          :model="{ id: job.model.id, name: `${job.model.maker} ${job.model.name}` }"
          @close="looking = false"
        />
        <GateCard v-if="common" v-model:job="common" :model="path.id" />
        <section id="losses">
          <h2>Replaced by another of the same model{{ build ? `, build ${build.build}` : '' }}</h2>
          <ul v-if="build && (build.losses.length || build.works.length)" class="plain">
            <li v-for="l in build.losses" :key="l.check" class="loss">
              <EvidenceEye :state="l.verdict.eye" />
              <span>
                {{ l.check }}:
                <VerdictMark :mark="l.verdict.mark" />
                <small v-if="l.verdict.p !== undefined" class="quiet">&nbsp;likely, {{ percent(l.verdict.p) }}</small>
              </span>
            </li>
            <li v-if="build.works.length" class="loss">
              <EvidenceEye state="half" />
              <span>{{ build.works.length }} other checks passed with it</span>
            </li>
          </ul>
          <p v-else class="quiet row">
            <EvidenceEye state="shut" />
            Untested: nobody has swapped this part yet.
          </p>
          <p v-if="build?.untested" class="quiet">{{ build.untested }} checks untested.</p>
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
        <section>
          <h2>Take care</h2>
          <CautionList :cautions="job.hazards" :notice="job.notice" />
        </section>
        <section>
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
        <section>
          <h2>How it went</h2>
          <ul class="plain">
            <li v-for="o in job.outcomes" :key="o.id">
              <b class="fig">{{ minutes(o.minutes) }}</b>
              , {{ o.went }}
              <span class="quiet">{{ o.who }}</span>
              <br v-if="o.note" />
              {{ o.note }}
            </li>
          </ul>
          <p v-if="!job.outcomes.length" class="quiet">No result yet.</p>
          <form v-if="tells" class="tell" @submit.prevent="tell">
            <ElInputNumber v-model="how.minutes" :min="1" :max="1440" aria-label="Minutes of the whole repair" />
            <ElSelect v-model="how.went" :teleported="false" aria-label="How it went">
              <ElOption v-for="w in ['fine', 'tab broke', 'incident', 'gave up']" :key="w" :value="w" :label="w" />
            </ElSelect>
            <ElInput v-model="how.note" aria-label="Note" placeholder="Note" maxlength="1000" />
            <ElButton native-type="submit" type="primary" :loading="busy">Save result</ElButton>
          </form>
          <ProblemNote :problem="problem" />
        </section>
      </div>
    </template>
  </div>
</template>

<style scoped>
.wait {
  padding: 24px 0;
}
.loss {
  display: flex;
  gap: 10px;
}
.tell {
  display: grid;
  grid-template-columns: 150px 1fr;
  gap: 8px;
  margin-top: 10px;
}
</style>
