<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'

import type { Schemas } from '../../api/client'
import DataTable from '../../shared/DataTable.vue'
import { typing } from '../../shared/keys'
import MinutesBar from '../../shared/MinutesBar.vue'
import RangeBar from '../../shared/RangeBar.vue'
import type { Column } from '../../shared/table'

/** The models: what the five common jobs take, how the methods score them, how many kinds of part others share. */
const props = defineProps<{ models: Schemas['FirstModelLine'][] }>()
type Line = Schemas['FirstModelLine']
const entries = { front: 'the front', back: 'the back', dual: 'either side' }
const most = computed(() => Math.max(1, ...props.models.flatMap((m) => m.jobs.map((j) => j.minutes))))
const columns = computed<Column<Line>[]>(() => [
  { id: 'name', title: 'Model', value: (m) => `${m.maker} ${m.name}` },
  ...(props.models[0]?.jobs ?? []).map<Column<Line>>((j, i) => ({
    id: `job${i}`,
    title: j.job,
    kind: 'minutes',
    value: (m) => (m.jobs[i]?.minutes ? Math.round(m.jobs[i].minutes) : undefined),
  })),
  {
    id: 'score',
    title: 'Score: what may be',
    value: (m) => m.scores[0]?.range[1],
    text: (m) => m.scores.map((s) => `${s.title} ${s.range.map((x) => x.toFixed(1)).join('–')}`).join(', '),
  },
  ...(props.models[0]?.scores ?? []).flatMap<Column<Line>>((s, i) =>
    ['least', 'most'].map((end, k) => ({
      id: `score${i}${end}`,
      title: `${s.title}, ${end}`,
      file: true,
      value: (m) => m.scores[i]?.range[k],
    })),
  ),
  { id: 'shared', title: 'Shared parts', value: (m) => m.shared },
  { id: 'missing', title: 'Missing', value: (m) => m.missing },
  { id: 'changed', title: 'Changed', value: (m) => m.changed, kind: 'date' },
])
/** The first word of a method tells it from the others in a narrow place. */
const short = (title: string) =>
  title.replace(/^The shop's money$/, 'Shop').replace(/ (ease|first)$/, (w) => (w === ' first' ? w : ''))
const chosen = ref<string[]>([])
const router = useRouter()
const compare = () => router.push({ name: 'compare', query: { model: chosen.value[0], against: chosen.value[1] } })
useEventListener('keydown', (e: KeyboardEvent) => {
  if (e.key === 'c' && chosen.value.length === 2 && !typing(e)) void compare()
})
</script>

<template>
  <section>
    <h2>
      Models
      <small class="quiet">&nbsp;{{ models.length }}, minutes of the whole repair; hollow bars are estimates</small>
    </h2>
    <DataTable
      v-model:chosen="chosen"
      name="models"
      caption="Models"
      select
      :rows="models"
      :columns="columns"
      :row-key="(m) => m.id"
      :to="(m) => ({ name: 'ways', params: { id: m.id } })"
    >
      <template #acts="{ rows }">
        <ElButton v-if="rows.length === 2" size="small" type="primary" @click="compare">
          Compare the two
          <span class="keys">c</span>
        </ElButton>
        <span v-else class="quiet">choose two to compare them</span>
      </template>
      <template v-for="(j, i) in models[0]?.jobs ?? []" :key="j.job" #[`job${i}`]="{ row }">
        <MinutesBar
          :minutes="row.jobs[i]?.minutes ?? 0"
          :estimate="row.jobs[i]?.estimate"
          :most="most"
          :label="`${row.name}, ${j.job}`"
        />
      </template>
      <template #name="{ row }">
        <span class="model">
          <svg width="28" height="54" viewBox="0 0 28 54" aria-hidden="true" :class="{ none: !row.parts }">
            <rect
              x="1"
              y="1"
              :width="row.width_mm ? (52 * row.width_mm) / Math.max(row.width_mm, row.height_mm) : 25"
              height="52"
              rx="4"
            />
            <path v-if="row.parts" d="M5 6h6v8H5zM14 6h8v10h-8zM5 18h16v22H5zM9 44h8" />
          </svg>
          <span>
            <RouterLink :to="{ name: 'ways', params: { id: row.id } }">{{ row.name }}</RouterLink>
            <small class="quiet">{{ row.maker }}, opens from {{ entries[row.entry] }}</small>
          </span>
        </span>
      </template>
      <template #score="{ row }">
        <RouterLink class="score" :to="{ name: 'score', params: { id: row.id } }">
          <RangeBar
            v-for="s in row.scores"
            :key="s.title"
            :low="s.range[0]!"
            :high="s.range[1]!"
            :scale="[s.scale[0]!, s.scale[1]!]"
            :label="short(s.title)"
          />
        </RouterLink>
      </template>
      <template #shared="{ row }">
        <RouterLink :to="{ name: 'fit', query: { model: row.id } }" class="score">
          <b>{{ row.shared }}</b>
          of {{ row.parts }}
          <small v-if="!row.shared" class="quiet">none tried yet</small>
        </RouterLink>
      </template>
      <template #missing="{ row }">{{ row.missing || 'complete' }}</template>
    </DataTable>
  </section>
</template>

<style scoped>
.score {
  display: inline-block;
  min-height: 24px;
  width: 100%;
  color: inherit;
  text-decoration: none;
}
small {
  display: block;
  font-size: 14px;
  font-weight: 400;
}
.model {
  display: flex;
  gap: 12px;
  align-items: center;
  min-width: 150px;
}
.model svg {
  flex: none;
}
.model rect,
.model path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.2;
}
.model path {
  stroke: var(--quiet);
  fill: var(--wash);
}
.none rect {
  stroke-dasharray: 3 2;
}
h2 small {
  display: inline;
}
p {
  margin-top: 6px;
  font-size: 14px;
}
</style>
