<script setup lang="ts">
import { ElButton } from 'element-plus'

import { api, take, type Schemas } from '../../api/client'
import { moment } from '../../shared/locale'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'
import { done, said } from './said'

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
</script>

<template>
  <div>
    <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
    <div class="scroll">
      <table>
        <thead>
          <tr>
            <th>When</th>
            <th>Who</th>
            <th>Did</th>
            <th>What changed</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="l in lines" :key="l.id">
            <td class="fig">{{ moment(l.happened) }}</td>
            <td>
              {{ l.who }}
              <small v-if="l.token" class="quiet">by “{{ l.token }}”</small>
            </td>
            <td>
              {{ `${done[l.verb] ?? l.verb} ${said(l.entity)}` }}
              <button
                class="bare under"
                :aria-label="`All changes of this ${said(l.entity)}`"
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
            </td>
            <td :class="['changes', { run: l.verb === 'create' }]">
              <span v-for="f in l.fields" :key="f.name">
                {{ said(f.name) }}
                <template v-if="l.verb !== 'create'">
                  <del>{{ f.before || 'nothing' }}</del>
                  →
                </template>
                <ins>{{ f.after || 'nothing' }}</ins>
              </span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
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
