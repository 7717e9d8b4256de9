<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { computed, ref } from 'vue'

import type { Schemas } from '../../api/client'
import DataTable from '../../shared/DataTable.vue'
import { useRunning } from '../../shared/bench/clocks'
import { clock as time, minutes } from '../../shared/format'
import type { Column } from '../../shared/table'

/** The technician's shift: running clocks, the loudest first; the phones with the minutes that are left; what came in. */
const props = defineProps<{ room: Schemas['FirstRoom'] }>()
type Line = Schemas['FirstJobLine']
const hour = (s: number) => `${Math.floor(s / 3600)}:${String(Math.floor((s % 3600) / 60)).padStart(2, '0')}`
const jobs: Column<Line>[] = [
  { id: 'title', title: 'Phone', value: (j) => j.title },
  { id: 'due', title: 'Due', value: (j) => (j.due ? hour(j.opens + j.due) : '') },
  { id: 'model', title: 'Job', value: (j) => j.model ?? '' },
  { id: 'state', title: 'State', value: (j) => j.state, few: true },
  { id: 'minutes', title: 'Minutes left', value: (j) => j.minutes },
  { id: 'now', title: 'Next', value: (j) => j.now },
]
const lots: Column<Schemas['FirstArrival']>[] = [
  { id: 'title', title: 'Part', value: (a) => a.title },
  { id: 'model', title: 'For', value: (a) => a.model },
  { id: 'size', title: 'Pieces', kind: 'number', value: (a) => a.size },
  { id: 'lot', title: 'Lot', value: (a) => a.lot },
  { id: 'on', title: 'Came', kind: 'date', value: (a) => a.on },
]
const most = computed(() => Math.max(1, ...props.room.jobs.map((j) => j.minutes)))

const now = ref(Date.now())
useIntervalFn(() => (now.value = Date.now()), 500)
const { running } = useRunning()
/** Clocks of the record, and those of studies that only this device knows. */
const clocks = computed(() => {
  const own = props.room.jobs.flatMap((j) =>
    j.clocks.map((c) => ({
      id: j.id + c.key,
      name: j.title,
      task: c.text.replace(/^Wait: /, ''),
      whole: Math.round(c.seconds),
      left: Math.round(c.seconds - (now.value - Date.parse(c.started)) / 1000),
      path: j.path,
      then: j.now,
    })),
  )
  const here = running.value
    .filter((c) => !c.path)
    .map((c) => ({
      id: c.id,
      name: c.name,
      task: [c.task, c.face].filter(Boolean).join(', '),
      whole: c.seconds,
      left: c.left,
      path: `/studies/${c.study}/strip?phone=${c.unit}`,
      then: '',
    }))
  return [...own, ...here].sort((a, b) => a.left - b.left)
})
</script>

<template>
  <div>
    <section v-if="clocks.length" class="clocks" aria-label="Running clocks">
      <RouterLink v-for="c in clocks" :key="c.id" :to="c.path" :class="{ over: c.left <= 0 }">
        <span class="head">
          <b>{{ c.name }}</b>
          <small>{{ c.task }}</small>
        </span>
        <span class="fig left">{{ c.left > 0 ? time(c.left) : `+${time(-c.left)}` }}</span>
        <span class="ruler"><i :style="{ width: `${Math.min(100, (100 * (c.whole - c.left)) / c.whole)}%` }" /></span>
        <small>of {{ time(c.whole) }}{{ c.left <= 0 ? ': over, say how it went' : '' }}</small>
      </RouterLink>
    </section>
    <section>
      <h2>
        Phones that are here
        <RouterLink class="other" to="/day">bench day</RouterLink>
      </h2>
      <DataTable
        name="today"
        caption="Phones that are here"
        :rows="room.jobs"
        :columns="jobs"
        :row-key="(j) => j.id"
        :to="(j) => j.path"
      >
        <template #minutes="{ row }">
          <span
            class="bar"
            role="img"
            :aria-label="`${minutes(row.minutes)} left, ${Math.round(100 * row.done)} of 100 done`"
          >
            <i class="done" :style="{ width: `${(60 * row.done * row.minutes) / most}px` }" />
            <i :style="{ width: `${(120 * (row.hands_on ?? row.minutes)) / most}px` }" />
            <i class="wait" :style="{ width: `${(120 * (row.waits ?? 0)) / most}px` }" />
          </span>
          <small v-if="row.hands_on" class="quiet">{{ row.hands_on }} hands-on, {{ row.waits ?? 0 }} waiting</small>
          <small v-else class="quiet">{{ minutes(row.minutes) }}</small>
        </template>
        <template #empty>
          No phone is here.
          <RouterLink to="/?new=phone">Take one in</RouterLink>
          , or
          <RouterLink to="/day">put one on the bench day</RouterLink>
          .
        </template>
      </DataTable>
    </section>
    <section>
      <h2>Parts that came in</h2>
      <DataTable name="came" caption="Parts that came in" :rows="room.arrived" :columns="lots" :row-key="(a) => a.id">
        <template #empty>Nothing came in these four days.</template>
      </DataTable>
    </section>
  </div>
</template>

<style scoped>
section {
  margin-bottom: 20px;
}
.clocks {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(240px, 1fr));
  gap: 28px;
}
.clocks a {
  display: flex;
  flex-direction: column;
  border-top: 1px solid var(--ink);
  padding-top: 6px;
  color: var(--ink);
  text-decoration: none;
}
.head {
  display: flex;
  justify-content: space-between;
  gap: 10px;
}
.left {
  font-size: 44px;
  line-height: 50px;
  font-weight: 600;
}
.over {
  color: var(--amber) !important;
}
.ruler {
  height: 10px;
  border: 1px solid var(--strong-line);
}
.ruler i {
  display: block;
  height: 100%;
  background: var(--pine);
}
.over .ruler i {
  background: var(--amber-fill);
}
.other {
  float: right;
  font-weight: 400;
}
.bar {
  display: flex;
  height: 12px;
}
.bar i {
  background: var(--pine-wash);
  border: 1px solid var(--pine);
  border-right: 0;
}
.bar i.done {
  background: var(--pine);
}
.bar i.wait {
  background: repeating-linear-gradient(135deg, var(--pine) 0 1.5px, transparent 1.5px 6px);
}
.bar i:last-child {
  border-right: 1px solid var(--pine);
}
small {
  font-size: 14px;
}
</style>
