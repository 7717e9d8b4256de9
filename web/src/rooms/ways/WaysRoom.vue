<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { computed, type WritableComputedRef } from 'vue'
import { useRoute } from 'vue-router'

import { api, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import CautionList from '../../shared/CautionList.vue'
import { clock, figure, minutes, percent } from '../../shared/format'
import PhoneMap from '../../shared/PhoneMap.vue'
import HarvestShelf from './HarvestShelf.vue'
import WayAgainst from './WayAgainst.vue'
import WaySteps from './WaySteps.vue'
import { useAddress } from '../../shared/useAddress'
import { useRoom } from '../../shared/useRoom'
import DataTable from '../../shared/DataTable.vue'
import type { Column } from '../../shared/table'

const route = useRoute()
const id = String(route.params.id)
type Minimise = 'attended_seconds' | 'elapsed_seconds' | 'depth' | 'risk'
const minimise = useAddress('keep', 'attended_seconds') as unknown as WritableComputedRef<Minimise>
const entry = useAddress('side', 'either') as unknown as WritableComputedRef<'either' | 'front' | 'back'>
const { room, error } = useRoom(
  () => ['ways', id, minimise.value, entry.value],
  () =>
    api.GET('/api/models/{id}/ways', {
      params: {
        path: { id },
        query: { minimise: minimise.value, entry: entry.value === 'either' ? undefined : entry.value },
      },
    }),
)
const chosen = useAddress('part')
const way = computed(() => room.value?.ways.find((w) => w.part_id === chosen.value) ?? room.value?.ways[0])
const cautions = computed(() => {
  const all = (way.value?.steps ?? []).flatMap((s) => s.cautions)
  return all.filter((c, i) => all.findIndex((o) => o.id === c.id) === i)
})
type Way = Schemas['ModelWay']
const odds: Column<Way['odds'][number]>[] = [
  { id: 'part', title: 'Damaged', value: (o) => o.part },
  { id: 'by', title: 'by', value: (o) => `${o.method}, ${o.side}` },
  {
    id: 'counted',
    title: 'counted',
    kind: 'number',
    value: (o) => o.k,
    text: (o) => (o.n ? `${o.k} of ${o.n}` : 'never'),
  },
  {
    id: 'interval',
    title: '95 % interval',
    kind: 'number',
    value: (o) => o.high,
    text: (o) => (o.n ? `${percent(o.low)}–${percent(o.high)}` : 'unknown'),
  },
]
const open = (f: (w: Way) => number) => (w: Way) => (w.blocked ? undefined : f(w))
const columns: Column<Way>[] = [
  { id: 'part', title: 'Part', value: (w) => w.part },
  { id: 'steps', title: 'Steps', kind: 'number', value: open((w) => w.steps.length) },
  { id: 'depth', title: 'Steps deep', kind: 'number', value: open((w) => w.depth) },
  { id: 'screws', title: 'Screws', kind: 'number', value: open((w) => w.screws) },
  { id: 'tools', title: 'Tools', kind: 'number', file: true, value: open((w) => w.tools.length) },
  { id: 'changes', title: 'Tool changes', kind: 'number', file: true, value: open((w) => w.tool_changes) },
  { id: 'turns', title: 'Turns', kind: 'number', file: true, value: open((w) => w.flips) },
  {
    id: 'hands',
    title: 'Hands on',
    kind: 'minutes',
    value: open((w) => w.attended_minutes),
    text: (w) => (w.blocked ? '' : minutes(w.attended_minutes)),
  },
  {
    id: 'in',
    title: 'To the part',
    kind: 'minutes',
    value: open((w) => w.elapsed_minutes),
    text: (w) => (w.blocked ? '' : minutes(w.elapsed_minutes)),
  },
  {
    id: 'whole',
    title: 'Whole repair',
    kind: 'minutes',
    value: open((w) => w.closed_minutes),
    text: (w) => (w.blocked ? '' : minutes(w.closed_minutes)),
  },
  {
    id: 'risk',
    title: 'Damaged most likely',
    value: (w) => w.odds[0]?.part,
    text: (w) =>
      w.blocked
        ? 'no way in: what it needs first can never be met'
        : w.odds[0]
          ? `${w.odds[0].part}: ${w.odds[0].n ? `${w.odds[0].k} of ${w.odds[0].n} by ${w.odds[0].method}` : 'never counted'}`
          : '',
  },
  {
    id: 'times',
    title: 'Times',
    value: (w) => w.measured,
    text: (w) => (w.blocked ? '' : w.measured ? `${w.measured} of ${w.steps.length} timed` : 'estimate'),
  },
]
const units: Record<Minimise, (v: number) => string> = {
  attended_seconds: clock,
  elapsed_seconds: clock,
  depth: (v) => figure(v),
  risk: (v) => `${percent(1 - Math.exp(-v))} to damage something`,
}
</script>

<template>
  <div class="room">
    <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
    <AnswerLine v-else class="answer" :sentence="way?.answer ?? room?.answer" />
    <template v-if="room">
      <div class="stage">
        <section>
          <div class="row pick">
            <label>
              <span class="hidden">Part</span>
              <ElSelect
                :teleported="false"
                :model-value="way?.part_id"
                aria-label="Part"
                filterable
                default-first-option
                style="width: 230px"
                @update:model-value="(v: string) => (chosen = v)"
              >
                <ElOption v-for="w in room.ways" :key="w.part_id" :value="w.part_id" :label="w.part" />
              </ElSelect>
            </label>
            <ElSelect v-model="minimise" :teleported="false" aria-label="What to keep small" style="width: 200px">
              <ElOption value="attended_seconds" label="least hands-on time" />
              <ElOption value="elapsed_seconds" label="least time on the clock" />
              <ElOption value="depth" label="fewest operations" />
              <ElOption value="risk" label="least risk" />
            </ElSelect>
            <ElSelect
              v-if="room.model.entry === 'dual'"
              v-model="entry"
              :teleported="false"
              aria-label="Side"
              style="width: 130px"
            >
              <ElOption value="either" label="either side" />
              <ElOption value="front" label="from the front" />
              <ElOption value="back" label="from the back" />
            </ElSelect>
            <span v-if="way && !way.blocked" :class="way.proven && !way.once ? 'quiet' : 'look'">
              {{
                way.once
                  ? 'as logged once, other orders unknown'
                  : way.proven
                    ? 'shortest of all recorded ways in'
                    : `perhaps not the shortest: at least ${units[minimise](way.bound)}`
              }}
            </span>
          </div>
          <PhoneMap
            :model="room.model"
            :parts="room.parts"
            :selected="way?.part_id"
            :walk="way?.steps"
            depth
            @select="(p) => (chosen = p)"
          />
        </section>
      </div>
      <div v-if="way" class="shelf">
        <p v-if="way.blocked" class="danger" role="alert">{{ way.blocked }}</p>
        <template v-else>
          <section id="steps">
            <h2>The way in to the {{ way.part }}</h2>
            <p class="no-print">
              <RouterLink :to="{ name: 'job', params: { id, part: way.part_id }, query: { take: '1' } }">
                Take a phone in, and follow it act by act
              </RouterLink>
            </p>
            <WaySteps :way="way" />
            <p v-if="way.consumables.length">
              <b>Have ready:</b>
              {{ way.consumables.join(', ') }}
            </p>
            <p v-for="h in way.hidden" :key="h" class="look">Hidden screws: {{ h }}</p>
            <p v-if="way.travels.length">
              <b>Must move to the new part:</b>
              {{ way.travels.join(', ') }}
            </p>
            <p v-if="way.tabs">{{ way.tabs }}</p>
            <p v-for="k in room.model.keep_outs ?? []" :key="k.edge + k.from_mm" class="quiet">
              Pick no deeper than {{ k.depth_mm }} mm at the {{ k.edge }} edge, {{ k.from_mm }} to {{ k.to_mm }} mm{{
                k.why ? `: ${k.why}` : ''
              }}
            </p>
          </section>
          <section id="risk">
            <h2>Take care</h2>
            <CautionList :cautions="cautions" :notice="room.notice" />
            <DataTable
              v-if="way.odds.length"
              name="odds"
              caption="What got damaged on the way"
              plain
              :rows="way.odds"
              :columns="odds"
              :row-key="(o) => o.part + o.method + o.side"
            />
            <p class="quiet">
              Never pooled across methods. For computing, the plan's figure counts as twenty attempts (house).
            </p>
          </section>
        </template>
      </div>
      <WayAgainst v-if="way && !way.blocked" :model="id" :way="way" />
      <HarvestShelf :model="id" />
      <section class="wide">
        <h2>Every part</h2>
        <div id="time">
          <div id="tools">
            <DataTable
              name="all"
              caption="Every part"
              :rows="room.ways"
              :columns="columns"
              :row-key="(w) => w.part_id"
              :here="(w) => w.part_id === way?.part_id"
            >
              <template #part="{ row: w }">
                <button class="bare link" @click="chosen = w.part_id">{{ w.part }}</button>
              </template>
            </DataTable>
          </div>
        </div>
        <p v-if="room.missing.length" class="quiet">Without a way in: {{ room.missing.join(', ') }}</p>
      </section>
    </template>
  </div>
</template>

<style scoped>
.pick {
  margin-bottom: 10px;
}
.wide {
  grid-column: 1 / -1;
}
tr.here td {
  background: var(--wash);
}
</style>
