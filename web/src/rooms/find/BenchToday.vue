<script setup lang="ts">
import type { Schemas } from '../../api/client'
import ClockStrip from '../../shared/ClockStrip.vue'
import DataTable from '../../shared/DataTable.vue'
import { minutes } from '../../shared/format'
import type { Column } from '../../shared/table'

/** The technician's day: running clocks, the phones on the bench, what came in. */
defineProps<{ room: Schemas['FirstRoom'] }>()
const jobs: Column<Schemas['FirstJobLine']>[] = [
  { id: 'title', title: 'Phone', value: (j) => j.title },
  { id: 'state', title: 'State', value: (j) => j.state, few: true },
  { id: 'now', title: 'Next', value: (j) => j.now },
  { id: 'minutes', title: 'Left', kind: 'minutes', value: (j) => j.minutes, text: (j) => minutes(j.minutes) },
  { id: 'done', title: 'Done', value: (j) => Math.round(100 * j.done) },
]
const lots: Column<Schemas['FirstArrival']>[] = [
  { id: 'title', title: 'Part', value: (a) => a.title },
  { id: 'model', title: 'For', value: (a) => a.model },
  { id: 'size', title: 'Pieces', kind: 'number', value: (a) => a.size },
  { id: 'lot', title: 'Lot', value: (a) => a.lot },
  { id: 'on', title: 'Came', kind: 'date', value: (a) => a.on },
]
</script>

<template>
  <div>
    <ClockStrip />
    <section>
      <h2>On the bench today</h2>
      <DataTable
        name="today"
        caption="Phones on the bench today"
        :rows="room.jobs"
        :columns="jobs"
        :row-key="(j) => j.id"
        :to="(j) => j.path"
      >
        <template #done="{ row }">
          <svg
            class="bar"
            viewBox="0 0 100 8"
            preserveAspectRatio="none"
            role="img"
            :aria-label="`${Math.round(100 * row.done)} of 100 done`"
          >
            <rect x="0.5" y="1" width="99" height="6" class="whole" />
            <rect x="0.5" y="1" :width="99 * row.done" height="6" />
          </svg>
        </template>
        <template #empty>
          No phone is on today’s bench.
          <RouterLink to="/day">Put one on the bench day</RouterLink>
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
.bar {
  width: 120px;
  height: 10px;
}
rect {
  fill: var(--pine);
}
.whole {
  fill: none;
  stroke: var(--strong-line);
  vector-effect: non-scaling-stroke;
}
</style>
