<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, take, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import EvidenceEye from '../../shared/EvidenceEye.vue'
import { figure, measured, minutes, percent } from '../../shared/format'
import { money as inWords } from '../../shared/money'
import { typing } from '../../shared/keys'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useSession } from '../../shared/session'
import { useChange } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'
import { useUndo } from '../../shared/useUndo'
import FitCell from './FitCell.vue'
import FitMark from './FitMark.vue'
import FitTestForm from './FitTestForm.vue'
import LotForm from './LotForm.vue'
import DataTable from '../../shared/DataTable.vue'
import type { Column } from '../../shared/table'

const route = useRoute()
const router = useRouter()
const { may } = useSession()
const writes = may('studies')
const set = (name: string, value: string) => void router.replace({ query: { ...route.query, [name]: value } })
const kind = computed({ get: () => String(route.query.kind ?? 'battery'), set: (v) => set('kind', v) })
const level = computed({
  get: () => (String(route.query.level ?? '') || 'notice') as Schemas['NewFitTest']['outcome'],
  set: (v) => set('level', v),
})
const confidence = computed({
  get: () => Number(route.query.confidence ?? 0.9),
  set: (v) => set('confidence', String(v)),
})
const model = computed(() => (route.query.model as string | undefined) || undefined)
const { room, error } = useRoom(
  () => ['fit', kind.value, model.value, level.value, confidence.value],
  () =>
    api.GET('/api/fit/{kind}', {
      params: {
        path: { kind: kind.value },
        query: { model: model.value, level: level.value, confidence: confidence.value },
      },
    }),
)
const line = (id: string) => room.value?.lines.find((l) => l.id === id)
const name = (id: string) => line(id)?.name ?? id
const hosts = computed(() => room.value?.lines.filter((l) => !l.copy) ?? [])
const pairs = computed(() => new Map(room.value?.found.pairs.map((p) => [`${p.donor} ${p.host}`, p])))
const settled = computed(() => new Map(room.value?.found.unneeded.map((u) => [`${u.donor} ${u.host}`, u.why])))
const chosen = ref('')
watch(kind, () => (chosen.value = ''))
const cell = computed(() => pairs.value.get(chosen.value))
const trying = ref<{ donor?: string; host?: string }>()
const lot = ref(false)
useEventListener('keydown', (e: KeyboardEvent) => {
  if (typing(e) || e.ctrlKey || e.metaKey || e.altKey || !writes.value || trying.value || lot.value) return
  if (e.key === 'n') {
    e.preventDefault()
    const [donor, host] = chosen.value.split(' ')
    trying.value = donor ? { donor, host } : {}
  }
})
const { problem, mine, theirs, save } = useChange()
const { gone, offer, undo } = useUndo((t: Schemas['FitTest']) =>
  save((_, header) =>
    take(
      api.POST('/api/fit-tests/{id}/restore', {
        params: { path: { id: t.id }, query: { version: t.version }, header },
      }),
    ),
  ),
)
async function remove(t: Schemas['FitSeen']) {
  offer(
    await save((v, header) =>
      take(
        api.DELETE('/api/fit-tests/{id}', {
          params: { path: { id: t.id }, query: { version: v ?? t.version ?? 1 }, header },
        }),
      ),
    ),
  )
}
const levels = {
  dark: 'powers up',
  lost: 'runs, functions may go',
  notice: 'works, a notice may show',
  calibrated: 'works once calibrated',
  'looks-wrong': 'works, may look wrong',
  full: 'works in full',
}
const money = (minor: number) => (room.value?.currency ? inWords(minor, room.value.currency) : figure(minor / 100))
const saves = computed(() => (room.value ? room.value.found.naive.cost - room.value.found.fewest.cost : 0))
const columns = computed<Column<(typeof hosts.value)[number]>[]>(() => [
  { id: 'phone', title: 'Phone', value: (h) => h.name },
  { id: 'jobs', title: 'Jobs', kind: 'number', value: (h) => h.demand ?? 0, text: (h) => figure(h.demand ?? 0) },
  {
    id: 'takes',
    title: `takes the ${room.value?.name ?? 'part'} of`,
    value: (h) => name(room.value?.found.fewest.serves[h.id] ?? ''),
  },
  {
    id: 'price',
    title: 'Price',
    kind: 'money',
    value: (h) => line(room.value?.found.fewest.serves[h.id] ?? '')?.price_minor,
    text: (h) =>
      room.value?.found.fewest.serves[h.id] ? money(line(room.value.found.fewest.serves[h.id]!)?.price_minor ?? 0) : '',
  },
])
</script>

<template>
  <div class="room">
    <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
    <AnswerLine v-else class="answer" :sentence="room?.answer" />
    <div v-if="room" class="stage">
      <div class="row pick no-print">
        <label>
          <span>Kind of part</span>
          <ElSelect v-model="kind" :teleported="false" filterable default-first-option aria-label="Kind of part">
            <ElOption
              v-for="k in room.kinds"
              :key="k.kind"
              :value="k.kind"
              :label="k.tests ? `${k.name}, ${k.tests} tests` : k.name"
            />
          </ElSelect>
        </label>
        <label>
          <span>Good enough is</span>
          <ElSelect v-model="level" :teleported="false" aria-label="Good enough is">
            <ElOption v-for="(label, l) in levels" :key="l" :value="l" :label="label" />
          </ElSelect>
        </label>
        <label>
          <span>Sure enough is</span>
          <ElSelect v-model="confidence" :teleported="false" aria-label="Sure enough is">
            <ElOption v-for="c in [0.8, 0.9, 0.95, 0.99]" :key="c" :value="c" :label="percent(c)" />
          </ElSelect>
        </label>
      </div>
      <section id="chart">
        <h2>What goes into what: rows are pieces, columns are phones</h2>
        <div class="scroll">
          <table class="chart">
            <caption class="hidden">What goes into what</caption>
            <thead>
              <tr>
                <th>{{ room.name }} of</th>
                <th v-for="h in hosts" :key="h.id">in {{ h.name }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="d in room.lines" :key="d.id">
                <th scope="row">
                  {{ d.name }}
                  <small v-if="d.copy" class="quiet">copy for {{ name(d.for ?? '') }}</small>
                </th>
                <td v-for="h in hosts" :key="h.id" :class="{ own: d.id === h.id }">
                  <FitCell
                    v-if="pairs.get(`${d.id} ${h.id}`)"
                    :pair="pairs.get(`${d.id} ${h.id}`)!"
                    :own="d.id === h.id"
                    :settled="settled.get(`${d.id} ${h.id}`)"
                    :label="`${d.name} in ${h.name}`"
                    :chosen="chosen === `${d.id} ${h.id}`"
                    @choose="chosen = `${d.id} ${h.id}`"
                  />
                </td>
              </tr>
            </tbody>
          </table>
        </div>
        <p class="quiet">
          Hatched: settled by geometry, no test needed. Hollow: inferred, nobody tried it. {{ room.tried }} of
          {{ room.of }} ordered pairs tried; what was not tried stays untested, whatever its neighbours do.
        </p>
        <p v-if="room.left.length" class="quiet">
          Twelve models are weighed at once; left out: {{ room.left.join(', ') }}.
        </p>
        <div v-if="writes" class="row no-print">
          <ElButton type="primary" @click="trying = { donor: chosen.split(' ')[0], host: chosen.split(' ')[1] }">
            A piece fitted
            <span class="keys">n</span>
          </ElButton>
          <ElButton @click="lot = true">A lot of copies</ElButton>
        </div>
      </section>
      <section id="lines">
        <h2>The fewest lines to stock</h2>
        <template v-if="room.found.fewest.lines.length">
          <DataTable
            name="lines"
            caption="The fewest lines to stock"
            :rows="hosts"
            :columns="columns"
            :row-key="(h) => h.id"
          >
            <template #takes="{ row: h }">
              {{
                room.found.fewest.serves[h.id] ? name(room.found.fewest.serves[h.id]!) : 'nothing that is sure enough'
              }}
              <span v-if="room.found.fewest.untested.includes(h.id)" class="look">never tried</span>
            </template>
          </DataTable>
          <p>
            {{ room.found.fewest.lines.length }} lines for {{ money(room.found.fewest.cost) }}, one per model
            {{ room.found.naive.lines.length }} for {{ money(room.found.naive.cost)
            }}{{ saves > 0 ? `: ${money(saves)} less` : '' }}. All phones are served with
            {{ percent(room.found.fewest.all) }}.
          </p>
        </template>
        <p v-else class="quiet">No piece has a price yet: write its worth into the part, or the price into the lot.</p>
      </section>
    </div>
    <div v-if="room" class="shelf">
      <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
      <p v-if="gone" class="undo" role="status">
        The test is deleted.
        <ElButton @click="undo">Undo</ElButton>
      </p>
      <section v-if="cell" id="cell" aria-live="polite">
        <h2>{{ name(cell.donor) }} in {{ name(cell.host) }}</h2>
        <p>
          <FitMark :level="cell.level" />
          {{ ' ' }}
          <EvidenceEye :state="cell.grade" />
        </p>
        <p>
          Good enough with {{ percent(cell.serves) }}; {{ cell.reached.k }} of {{ cell.reached.n }} fittings got there{{
            cell.reached.n ? ` (${percent(cell.reached.low)} to ${percent(cell.reached.high)})` : ''
          }}.
        </p>
        <p v-if="Object.keys(cell.lost).length">
          Lost:
          {{
            Object.entries(cell.lost)
              .map(([f, n]) => `${f} (${n})`)
              .join(', ')
          }}
        </p>
        <p v-if="settled.get(chosen)" class="quiet">
          Settled by {{ settled.get(chosen) === 'geometry' ? 'geometry' : 'inference' }}: no test needed.
        </p>
        <p v-else-if="cell.missing.length">Missing for proof: {{ cell.missing.join(', ') }}.</p>
        <template v-for="l in [line(cell.donor)]" :key="l?.id">
          <p v-if="l && Object.keys(l.measures).length" class="fig small">
            <span v-for="(q, f) in l.measures" :key="f">
              {{ f }} {{ measured(q) }}
              <br />
            </span>
          </p>
        </template>
        <ul class="plain">
          <li v-for="t in room.tests.filter((x) => x.donor === cell!.donor && x.host === cell!.host)" :key="t.id">
            <FitMark :level="t.outcome" />
            {{ ' ' }}
            <span v-if="t.damaged" class="look">damaged: not counted</span>
            <span class="quiet">
              {{ t.piece }} {{ (t.fittings ?? 1) > 1 ? `${t.fittings} fittings` : '' }} {{ t.build }}
            </span>
            <p v-if="t.apart" class="look">{{ t.apart }}</p>
            <p v-if="t.note">{{ t.note }}</p>
            <RouterLink v-if="t.study_id" :to="{ name: 'swap', params: { id: t.study_id } }">
              a trial of {{ t.trial }}
            </RouterLink>
            <button v-else-if="writes" class="bare quiet" aria-label="Delete this test" @click="remove(t)">×</button>
          </li>
        </ul>
        <ElButton
          v-if="line(cell.donor) && !line(cell.donor)!.copy && cell.donor !== cell.host"
          @click="chosen = `${cell.host} ${cell.donor}`"
        >
          The reverse
        </ElButton>
      </section>
      <section v-if="room.found.contradictions.length">
        <h2>These do not go together</h2>
        <ul class="plain">
          <li v-for="c in room.found.contradictions" :key="c.tests.join()">
            Two tests in {{ name(c.host) }} disagree; repeat the
            {{ name(room.tests.find((t) => t.id === c.repeat)?.donor ?? '') }} piece, it is likelier wrong.
          </li>
        </ul>
      </section>
      <section v-if="room.found.suspects.length">
        <h2>Tests in doubt</h2>
        <ul class="plain">
          <li v-for="s in room.found.suspects" :key="s.test">
            <template v-for="t in room.tests.filter((x) => x.id === s.test)" :key="t.id">
              {{ name(t.donor) }} in {{ name(t.host) }},
              <FitMark :level="t.outcome" />
              {{ ' ' }}is wrong with {{ percent(s.p) }}
            </template>
          </li>
        </ul>
      </section>
      <section v-if="room.found.groups.length">
        <h2>Interchange</h2>
        <ul class="plain">
          <li v-for="g in room.found.groups" :key="g.models.join()">
            <b>{{ g.models.map(name).join(', ') }}</b>
            share a piece with {{ percent(g.together) }}; each serves each with {{ percent(g.interchange) }}.
          </li>
        </ul>
      </section>
      <section id="next">
        <h2>What to try next, by openings</h2>
        <ol class="plain">
          <li v-for="v in room.visits.slice(0, 4)" :key="v.host">
            <b>Open the {{ name(v.host) }}</b>
            {{ ' ' }}
            <span class="fig quiet">{{ minutes(v.minutes) }}</span>
            <br />
            <button
              v-for="d in v.donors"
              :key="d"
              class="bare link try"
              :disabled="!writes"
              @click="((chosen = `${d} ${v.host}`), (trying = { donor: d, host: v.host }))"
            >
              {{ d === v.host ? 'its own piece, as a control' : name(d) }}
            </button>
            <p v-for="a in room.next.filter((x) => x.host === v.host && x.stop)" :key="a.id" class="look">
              {{ name(a.donor) }}: {{ a.stop }}
            </p>
          </li>
        </ol>
        <p v-if="!room.visits.length" class="quiet">No test would settle anything worth its minutes.</p>
        <p v-if="room.found.unneeded.length" class="quiet">{{ room.found.unneeded.length }} pairs need no test.</p>
      </section>
      <p class="quiet">
        Defects are drawn per test, not per piece; phones are told apart from each other; measured equality is weak
        evidence. How much play a fit may have, and what is believed before testing, are house figures.
      </p>
    </div>
    <FitTestForm
      v-if="trying && room"
      :room="room"
      :donor="trying.donor"
      :host="trying.host"
      @close="trying = undefined"
    />
    <LotForm v-if="lot && room" :room="room" @close="lot = false" />
  </div>
</template>

<style scoped>
.pick {
  margin-bottom: 14px;
  align-items: flex-end;
}
.pick label {
  display: flex;
  flex-direction: column;
  font-size: 14px;
  color: var(--quiet);
}
.pick :deep(.el-select) {
  width: 190px;
}
.chart th {
  min-width: 92px;
}
.chart th[scope='row'] {
  border-bottom-color: var(--line);
  color: var(--ink);
  font-size: 15px;
}
.chart th small {
  display: block;
  font-weight: 400;
}
.chart td {
  padding: 3px;
  height: 1px;
}
.chart td.own {
  background: var(--wash);
}
.small {
  font-size: 14px;
}
.try {
  margin-right: 12px;
}
.undo {
  background: var(--amber-wash);
  padding: 8px 12px;
}
</style>
