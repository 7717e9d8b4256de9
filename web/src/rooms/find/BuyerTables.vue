<script setup lang="ts">
import type { Schemas } from '../../api/client'
import DataTable from '../../shared/DataTable.vue'
import { day } from '../../shared/locale'
import type { Column } from '../../shared/table'

/** The buyer's day: parts that run out, lots to inspect, prices that are old. */
defineProps<{ room: Schemas['FirstRoom'] }>()
type Stock = Schemas['FirstStockLine']
const stock: Column<Stock>[] = [
  { id: 'title', title: 'Part', value: (s) => s.title, few: true },
  { id: 'models', title: 'For', value: (s) => s.models.join(', ') },
  { id: 'hand', title: 'On hand', kind: 'number', value: (s) => s.on_hand },
  { id: 'order', title: 'On order', kind: 'number', value: (s) => s.on_order },
  { id: 'owed', title: 'Promised', kind: 'number', value: (s) => s.owed },
  { id: 'level', title: 'Level', kind: 'number', value: (s) => s.level },
  { id: 'bar', title: 'Stock against need', value: (s) => s.on_hand + s.on_order - s.owed },
  { id: 'out', title: 'Runs out', kind: 'date', value: (s) => s.out },
  { id: 'why', title: 'Why', value: (s) => s.why },
]
const lots: Column<Schemas['FirstArrival']>[] = [
  { id: 'title', title: 'Part', value: (a) => a.title },
  { id: 'model', title: 'For', value: (a) => a.model },
  { id: 'size', title: 'Pieces', kind: 'number', value: (a) => a.size },
  { id: 'lot', title: 'Lot', value: (a) => a.lot },
  { id: 'on', title: 'Came', kind: 'date', value: (a) => a.on },
]
const late: Column<Schemas['FirstLate']>[] = [
  { id: 'number', title: 'Order', value: (o) => o.number },
  { id: 'seller', title: 'Seller', value: (o) => o.seller },
  { id: 'days', title: 'Days late', kind: 'number', value: (o) => o.days },
  { id: 'says', title: 'Where it stands', value: (o) => o.says },
]
const old: Column<Schemas['FirstOldPrice']>[] = [
  { id: 'seller', title: 'Seller', value: (o) => o.seller },
  { id: 'offers', title: 'Offers', kind: 'number', value: (o) => o.offers },
  { id: 'oldest', title: 'Oldest price', kind: 'date', value: (o) => o.oldest },
]
const share = (s: Stock) => Math.max(0, Math.min(1, (s.on_hand + s.on_order - s.owed) / Math.max(1, s.level)))
</script>

<template>
  <div>
    <section>
      <h2>Parts that run out</h2>
      <DataTable
        name="stock"
        caption="Parts that run out"
        :rows="room.stock"
        :columns="stock"
        :row-key="(s) => s.title + s.models.join()"
        :look="(s) => s.owed > s.on_hand + s.on_order"
        :to="() => '/parts'"
      >
        <template #bar="{ row }">
          <svg
            class="bar"
            viewBox="0 0 100 8"
            preserveAspectRatio="none"
            role="img"
            :aria-label="`${row.on_hand + row.on_order - row.owed} of ${row.level}`"
          >
            <rect x="0.5" y="1" width="99" height="6" class="whole" />
            <rect x="0.5" y="1" :width="99 * share(row)" height="6" />
          </svg>
        </template>
        <template #out="{ row }">{{ row.on_hand - row.owed > 0 ? day(row.out) : 'now' }}</template>
        <template #empty>Every part is at its level.</template>
      </DataTable>
    </section>
    <section v-if="room.late.length">
      <h2>Orders that are late or were cancelled</h2>
      <DataTable
        name="late"
        caption="Orders that are late or were cancelled"
        :rows="room.late"
        :columns="late"
        :row-key="(o) => o.id"
        :look="() => true"
        :to="(o) => `/parts?face=order&order=${o.id}`"
      />
    </section>
    <section>
      <h2>Lots to inspect</h2>
      <DataTable
        name="lots"
        caption="Lots to inspect"
        :rows="room.lots"
        :columns="lots"
        :row-key="(a) => a.id"
        :to="() => '/parts?face=incoming'"
      >
        <template #empty>No lot waits for its inspection.</template>
      </DataTable>
    </section>
    <section>
      <h2>Prices older than 30 days</h2>
      <DataTable
        name="old"
        caption="Prices older than 30 days"
        :rows="room.old"
        :columns="old"
        :row-key="(o) => o.seller"
        :to="() => '/parts?face=record'"
      >
        <template #empty>All prices are of these 30 days.</template>
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
