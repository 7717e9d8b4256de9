<script setup lang="ts">
import { ElButton } from 'element-plus'

import { api, take, type Schemas } from '../../api/client'
import { dated, moment } from '../../shared/locale'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'
import { done, said } from './said'
import DataTable from '../../shared/DataTable.vue'
import type { Column } from '../../shared/table'

/** Lines of who did what; `backs` offers to bring back what was deleted. */
defineProps<{ lines: Schemas['TrailLine'][]; backs?: boolean }>()
const emit = defineEmits<{ row: [id: string] }>()
/** Where a deleted row of a kind is brought back; what is not here has another way back. */
const places: Record<string, string> = {
  BenchJob: 'day-jobs',
  Delivery: 'deliveries',
  Exchange: 'exchanges',
  FactSaying: 'facts',
  FitTest: 'fit-tests',
  LogEntry: 'log',
  Lot: 'lots',
  Offer: 'offers',
  PartPair: 'part-pairs',
  Photo: 'photos',
  Price: 'prices',
  Rubric: 'rubrics',
  ScoreMark: 'score-marks',
  Seller: 'sellers',
  Shelf: 'shelves',
  Study: 'studies',
  SwapAct: 'swap-acts',
  Trial: 'trials',
  Work: 'work-orders',
}
const { problem, mine, theirs, save } = useChange()
/** All rows come back alike, so that one description of the interface is enough for them. */
const raw = api as unknown as {
  POST: (path: string, init: object) => Promise<{ data?: unknown; error?: unknown; response: Response }>
}
const back = (l: Schemas['TrailLine']) =>
  save((v, header) =>
    take(
      raw.POST(`/api/${places[l.entity]}/{id}/restore`, {
        params: { path: { id: l.row_id }, query: { version: v ?? l.version }, header },
      }),
    ),
  )
/** A value as it stands in the record, without the marks of the record. */
const value = (v?: string) => (v ? dated(v.replace(/T00:00:00Z/g, '').replace(/[[\]"]/g, '')) : 'nothing')
const columns: Column<Schemas['TrailLine']>[] = [
  { id: 'when', title: 'When', kind: 'date', value: (l) => l.happened, text: (l) => moment(l.happened) },
  { id: 'who', title: 'Who', value: (l) => l.who, few: true },
  { id: 'did', title: 'Did', value: (l) => `${done[l.verb] ?? l.verb} ${said(l.entity)} ${l.names ?? ''}` },
  {
    id: 'changes',
    title: 'What changed',
    value: (l) => l.fields.map((f) => `${said(f.name)}: ${f.before ?? ''} → ${f.after ?? ''}`).join('; '),
  },
]
</script>

<template>
  <div>
    <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
    <DataTable name="lines" caption="Changes" :rows="lines" :columns="columns" :row-key="(l) => String(l.id)">
      <template #who="{ row: l }">
        {{ l.who }}
        <small v-if="l.token" class="quiet">by “{{ l.token }}”</small>
      </template>
      <template #did="{ row: l }">
        {{ `${done[l.verb] ?? l.verb} ${said(l.entity)}` }}
        <button
          class="bare under"
          :aria-label="`${l.names || 'this one'}: all changes of this ${said(l.entity)}`"
          @click="emit('row', l.row_id)"
        >
          {{ l.names || 'this one' }}
        </button>
        <ElButton
          v-if="backs && l.gone && places[l.entity]"
          size="small"
          :aria-label="`Bring back: ${said(l.entity)} ${l.names ?? ''}`"
          @click="back(l)"
        >
          Bring back
        </ElButton>
      </template>
      <template #changes="{ row: l }">
        <span :class="['changes', { run: l.verb === 'create' }]">
          <span v-for="f in l.fields" :key="f.name">
            {{ said(f.name) }}
            <template v-if="l.verb !== 'create'">
              <del>{{ value(f.before) }}</del>
              →
            </template>
            <ins>{{ value(f.after) }}</ins>
          </span>
        </span>
      </template>
    </DataTable>
  </div>
</template>

<style scoped>
.under {
  text-decoration: underline;
  cursor: pointer;
}
td {
  font-size: 15px;
  vertical-align: top;
}
.changes span {
  display: block;
  overflow-wrap: anywhere;
}
.run span {
  display: inline;
}
.run span:not(:last-child)::after {
  content: '; ';
}
del {
  color: var(--brick);
}
ins {
  text-decoration: none;
}
</style>
