<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, take, type Schemas } from '../../api/client'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'

/** Who did what: every change, by row, study and person. */
const route = useRoute()
const router = useRouter()
const q = (k: string) => String(route.query[k] ?? '')
const ask = (v: Record<string, string | undefined>) => router.replace({ query: { ...route.query, ...v } })
const who = computed({ get: () => q('account'), set: (v) => void ask({ account: v || undefined }) })
const entity = computed({ get: () => q('entity'), set: (v) => void ask({ entity: v || undefined }) })
const study = computed({ get: () => q('study'), set: (v) => void ask({ study: v || undefined }) })
const query = computed(() => ({ row: q('row'), study: study.value, account: who.value, entity: entity.value }))
const { room, error } = useRoom(
  () => ['trail', query.value],
  () => api.GET('/api/trail', { params: { query: query.value } }),
)
const { room: studies } = useRoom(['studies', ''], () => api.GET('/api/studies'))
const further = ref<Schemas['TrailLine'][]>([])
const more = ref<number>()
watch(room, (r) => ((further.value = []), (more.value = r?.more)), { immediate: true })
async function on() {
  const r = await take(api.GET('/api/trail', { params: { query: { ...query.value, before: more.value } } }))
  further.value = [...further.value, ...r.lines]
  more.value = r.more
}
const lines = computed(() => [...(room.value?.lines ?? []), ...further.value])
const when = (at: string) => new Date(at).toLocaleString('sv').slice(0, 16)
const words: Record<string, string> = { create: 'made', update: 'changed', delete: 'deleted', restore: 'brought back' }
const said = (name: string) =>
  name
    .replace(/_/g, ' ')
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .toLowerCase()
/** Where a deleted row of a kind is brought back; what is not here has another way back. */
const backs: Record<string, string> = {
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
      raw.POST(`/api/${backs[l.entity]}/{id}/restore`, {
        params: { path: { id: l.row_id }, query: { version: v ?? l.version }, header },
      }),
    ),
  )
const file = computed(
  () => `/api/trail/table?${new URLSearchParams(Object.entries(query.value).filter(([, v]) => v)).toString()}`,
)
</script>

<template>
  <div class="room">
    <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
    <h1 v-else class="answer ask">Who did what, the newest first.</h1>
    <div v-if="room" class="stage wide">
      <div class="row no-print asked">
        <ElSelect v-model="who" :teleported="false" clearable filterable aria-label="Who" placeholder="everybody">
          <ElOption v-for="p in room.people" :key="p.id" :value="p.id" :label="p.name" />
        </ElSelect>
        <ElSelect v-model="entity" :teleported="false" clearable filterable aria-label="What" placeholder="everything">
          <ElOption v-for="e in room.entities" :key="e" :value="e" :label="said(e)" />
        </ElSelect>
        <ElSelect v-model="study" :teleported="false" clearable filterable aria-label="Study" placeholder="every study">
          <ElOption v-for="s in studies ?? []" :key="s.study.id" :value="s.study.id" :label="s.study.title" />
        </ElSelect>
        <ElButton v-if="q('row')" @click="ask({ row: undefined })">All rows</ElButton>
        <a :href="file">As a table (CSV)</a>
      </div>
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
              <td class="fig">{{ when(l.happened) }}</td>
              <td>{{ l.who }}</td>
              <td>
                {{ `${words[l.verb] ?? l.verb} ${said(l.entity)}` }}
                <button
                  class="bare under"
                  :aria-label="`All changes of this ${said(l.entity)}`"
                  @click="ask({ row: l.row_id })"
                >
                  {{ l.names || 'this one' }}
                </button>
                <ElButton
                  v-if="l.gone && backs[l.entity]"
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
      <p v-if="!lines.length" class="quiet">No change matches.</p>
      <ElButton v-if="more" @click="on">Older lines</ElButton>
    </div>
  </div>
</template>

<style scoped>
.asked :deep(.el-select) {
  width: 190px;
}
.asked {
  margin-bottom: 14px;
}
.wide {
  grid-column: 1 / -1;
}
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
