<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import { useRoute } from 'vue-router'

import { api, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import CautionList from '../../shared/CautionList.vue'
import EvidenceEye from '../../shared/EvidenceEye.vue'
import { minutes } from '../../shared/format'
import BetweenSheet from './BetweenSheet.vue'
import FilesShelf from './FilesShelf.vue'
import PhoneMap from '../../shared/PhoneMap.vue'
import StickerTag from '../../shared/StickerTag.vue'
import VerdictMark from '../../shared/VerdictMark.vue'
import WaySteps from '../ways/WaySteps.vue'
import { useRoom } from '../../shared/useRoom'
import DataTable from '../../shared/DataTable.vue'
import type { Column } from '../../shared/table'
import { say } from '../../words'
import { day } from '../../shared/locale'

const route = useRoute()
const id = String(route.params.id)
const { room: sheet, error } = useRoom(['handover', id], () =>
  api.GET('/api/studies/{id}/handover', { params: { path: { id } } }),
)
const { room: scores } = useRoom(
  () => ['scorecard', sheet.value?.model.id],
  () => api.GET('/api/models/{id}/scorecard', { params: { path: { id: sheet.value!.model.id } } }),
  { enabled: () => Boolean(sheet.value) },
)
const told = computed(() => sheet.value?.findings.filter((f) => f.mark !== 'not settled') ?? [])
type Finding = Schemas['HandoverFinding']
const columns: Column<Finding>[] = [
  { id: 'part', title: 'Part', value: (f) => f.part },
  { id: 'state', title: 'Which piece', value: (f) => say('state', f.state), few: true },
  { id: 'check', title: 'Function', value: (f) => f.check },
  { id: 'verdict', title: 'Verdict', value: (f) => say('verdict', f.mark), few: true },
  { id: 'eye', title: 'How sure', value: (f) => say('eye', f.eye), few: true, file: true },
]
const print = () => window.print()
</script>

<template>
  <div class="room">
    <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
    <AnswerLine v-else class="answer" :sentence="sheet?.answer" />
    <template v-if="sheet">
      <div class="stage sheet">
        <header>
          <h2>{{ sheet.model.maker }} {{ sheet.model.name }}: {{ sheet.study.title }}</h2>
          <p>
            Made {{ day(sheet.date) }}, holds for build {{ sheet.build || 'not recorded'
            }}{{ sheet.study.variant ? `, variant ${sheet.study.variant}` : '' }}.
            <StickerTag v-for="u in sheet.units" :key="u.id" :unit="u" class="unit" />
          </p>
        </header>
        <section id="claims">
          <h2>Safe to publish</h2>
          <ul class="plain">
            <li v-for="c in sheet.claims.filter((x) => x.may)" :key="c.text">
              {{ c.text }}
              <span class="quiet">{{ c.why }}</span>
            </li>
          </ul>
          <details v-if="sheet.claims.some((x) => !x.may)">
            <summary>{{ sheet.claims.filter((x) => !x.may).length }} claims that the evidence does not carry</summary>
            <ul class="plain">
              <li v-for="c in sheet.claims.filter((x) => !x.may)" :key="c.text">
                <s>{{ c.text }}</s>
                <span class="quiet">{{ ` ${c.why}` }}</span>
              </li>
            </ul>
          </details>
          <p v-if="!sheet.claims.length" class="quiet">Nothing was tried that would carry a claim.</p>
        </section>
        <section>
          <h2>Ways in to the common jobs</h2>
          <p v-if="!sheet.ways.length" class="quiet">No way on record.</p>
          <div v-for="w in sheet.ways" :key="w.part_id" class="way">
            <h3 class="job">
              {{ w.part }}: to the part
              <span class="fig">{{ minutes(w.elapsed_minutes) }}</span>
              , whole repair
              <span class="fig">{{ minutes(w.closed_minutes) }}</span>
            </h3>
            <p class="quiet">
              {{ w.tools.join(', ') }}; {{ w.screws }} screws; {{ w.measured }} of {{ w.steps.length }} steps timed
            </p>
            <WaySteps :way="w" />
          </div>
        </section>
        <section id="findings">
          <h2>What is lost when parts are swapped</h2>
          <DataTable
            name="findings"
            caption="What is lost when parts are swapped"
            :rows="told"
            :columns="columns"
            :row-key="(f) => f.part + f.state + f.check"
            empty="No loss on record."
          >
            <template #verdict="{ row: f }">
              <EvidenceEye :state="f.eye" />
              <VerdictMark :mark="f.mark" />
            </template>
          </DataTable>
          <details v-if="sheet.findings.length > told.length">
            <summary>{{ sheet.findings.length - told.length }} possible causes that need a test</summary>
            <ul class="plain">
              <li v-for="(f, i) in sheet.findings.filter((x) => x.mark === 'not settled')" :key="i">
                {{ f.part }}, {{ say('state', f.state) }}: {{ f.check }}
              </li>
            </ul>
          </details>
        </section>
        <section v-if="sheet.swaps.done.length" id="swaps">
          <h2>The swaps in words</h2>
          <p>{{ sheet.swaps.shown.join(' ') || 'Nothing was shown yet.' }}</p>
          <details>
            <summary>{{ sheet.swaps.done.length }} trials, and what they do not show</summary>
            <ul class="plain">
              <li v-for="d in sheet.swaps.done" :key="d">{{ d }}</li>
              <li v-for="d in sheet.swaps.not_shown" :key="d" class="quiet">{{ d }}</li>
            </ul>
          </details>
        </section>
        <section v-if="sheet.questions.length">
          <h2>Statements, and what became of them</h2>
          <ul class="plain">
            <li v-for="q in sheet.questions" :key="q.text">
              {{ q.text }}
              <b>{{ q.state }}</b>
              <span class="quiet">{{ ` ${[q.source, q.evidence].filter(Boolean).join(', ')}` }}</span>
            </li>
          </ul>
        </section>
        <BetweenSheet :model="sheet.model.id" />
        <section>
          <h2>Interests, water, what was left over</h2>
          <ul class="plain">
            <li v-for="l in [...sheet.interests, ...sheet.water, ...sheet.surplus]" :key="l">{{ l }}</li>
          </ul>
        </section>
        <p class="notice">{{ sheet.notice }}</p>
      </div>
      <div class="shelf">
        <ElButton type="primary" class="no-print print" @click="print">Print this sheet</ElButton>
        <FilesShelf :sheet="sheet" />
        <section id="open">
          <h2>Not tested, or needs a test</h2>
          <ul class="plain">
            <li v-if="sheet.unsettled">{{ sheet.unsettled }} pairs of part and check whose tests do not settle them</li>
            <li v-if="sheet.untested">{{ sheet.untested }} pairs of part and check without a test</li>
            <li v-for="o in sheet.open" :key="o">{{ o }}</li>
          </ul>
          <p v-if="!sheet.open.length && !sheet.untested && !sheet.unsettled" class="quiet">Nothing on this list.</p>
        </section>
        <section>
          <h2>Scores, by whose rule</h2>
          <ul class="plain">
            <li v-for="x in scores" :key="x.title">
              {{ x.words }}.
              <span v-if="x.costs.length" class="quiet">What loses most points: {{ x.costs.join('; ') }}.</span>
            </li>
          </ul>
        </section>
        <section>
          <h2>Take care</h2>
          <CautionList :cautions="sheet.hazards" />
        </section>
        <section>
          <h2>Where things lie</h2>
          <PhoneMap :model="sheet.model" :parts="sheet.parts" compact />
        </section>
      </div>
    </template>
  </div>
</template>

<style scoped>
.unit {
  margin-left: 12px;
}
.way {
  margin-bottom: 22px;
  break-inside: avoid;
}
h3 {
  font-size: 16px;
}
.job::first-letter {
  text-transform: uppercase;
}
.print {
  margin-bottom: 18px;
}
.notice {
  border: 1px solid var(--ink);
  padding: 8px 12px;
}
</style>
