<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '../../api/client'
import DataTable from '../../shared/DataTable.vue'
import { minutes } from '../../shared/format'
import type { Column } from '../../shared/table'

/** The technician's shift: the phones with the minutes that are left; what came in. */
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
</script>

<template>
  <div>
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
          <small v-if="row.hands_on" class="quiet">
            {{ minutes(row.hands_on) }} hands-on, {{ minutes(row.waits ?? 0) }} waiting
          </small>
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
