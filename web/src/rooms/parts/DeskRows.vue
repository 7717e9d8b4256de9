<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'

import type { Schemas } from '../../api/client'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'
import { useUndo } from '../../shared/useUndo'
import DeskForm from './DeskForm.vue'
import { kinds, type Facts, type Kept, type KindName, type RowKind } from './rows'
import DataTable from '../../shared/DataTable.vue'
import type { Column } from '../../shared/table'

/** Rows of one kind with their form; what is deleted can be brought back for ten seconds. */
const props = defineProps<{
  kind: KindName
  desk: Schemas['DeskDesk']
  rows: readonly Kept[]
  heads: readonly string[]
  cells: (row: Kept) => readonly string[]
  /** What a column is sorted by, where its words do not tell. */
  sorts?: (row: Kept) => Record<number, string | number | undefined>
  /** Columns, by place, in which a row can be filtered by its few values. */
  few?: readonly number[]
  writes: boolean
  start?: Facts
  title?: string
  /** What can be changed in many rows at once: the words on its button, and what becomes of a row. */
  bulk?: { words: string; facts: Facts }
}>()
const kind: RowKind = kinds[props.kind]
const open = ref<Kept | 'new'>()
const { problem, mine, theirs, save } = useChange()
const chosen = ref<string[]>([])
/** What was deleted at once comes back at once. */
const { gone, offer, undo } = useUndo(async (list: Kept[]) => {
  for (const r of list) await save((v, header) => kind.restore(header, r.id, v ?? r.version))
})
async function drop(rows: readonly Kept[]) {
  const away: Kept[] = []
  for (const row of rows) {
    const done = await save((v, header) => kind.remove(header, row.id, v ?? row.version))
    if (!done) break
    away.push(done)
  }
  chosen.value = []
  if (away.length) offer(away)
}
/** Rows as they were before a change of many, to be put back. */
const {
  gone: before,
  offer: keep,
  undo: putBack,
} = useUndo(async (list: Kept[]) => {
  for (const r of list) await save((v, header) => kind.change(header, r.id, facts(r, v ?? r.version + 1)))
})
const facts = ({ id, ...row }: Kept, version: number): Facts => (void id, { ...row, version })
async function changeAll(rows: readonly Kept[]) {
  const done: Kept[] = []
  for (const row of rows) {
    const made = await save((v, header) =>
      kind.change(header, row.id, { ...facts(row, v ?? row.version), ...props.bulk!.facts }),
    )
    if (!made) break
    done.push(row)
  }
  chosen.value = []
  if (done.length) keep(done)
}
const columns = computed<Column<Kept>[]>(() => [
  ...props.heads.map<Column<Kept>>((title, i) => ({
    id: `c${i}`,
    title,
    value: (r) => props.sorts?.(r)[i] ?? props.cells(r)[i],
    text: (r) => props.cells(r)[i] ?? '',
    few: props.few?.includes(i),
    kind: typeof props.sorts?.(props.rows[0] ?? ({} as Kept))[i] === 'number' ? 'money' : 'text',
  })),
  ...(props.writes ? [{ id: 'change', title: 'Change', value: () => '', bare: true } as Column<Kept>] : []),
])
</script>

<template>
  <section>
    <h2>{{ title ?? kind.name }}</h2>
    <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
    <p v-if="gone" class="undo" role="status">
      {{ gone.length > 1 ? `${gone.length} rows are deleted.` : 'Deleted.' }}
      <ElButton @click="undo">Undo</ElButton>
    </p>
    <p v-if="before" class="undo" role="status">
      {{ before.length > 1 ? `${before.length} rows are changed.` : 'Changed.' }}
      <ElButton @click="putBack">Undo</ElButton>
    </p>
    <DataTable
      v-model:chosen="chosen"
      :name="props.kind"
      :caption="title ?? kind.name"
      :rows="rows"
      :columns="columns"
      :row-key="(r) => r.id"
      :select="writes"
      empty="None on record."
    >
      <template #change="{ row }">
        <span class="acts">
          <button class="bare link" :aria-label="`change ${cells(row)[0]}`" @click="open = row">change</button>
          <button class="bare link" :aria-label="`delete ${cells(row)[0]}`" @click="drop([row])">delete</button>
        </span>
      </template>
      <template #acts="{ rows: picked }">
        <ElButton size="small" @click="drop(picked)">Delete {{ picked.length }}</ElButton>
        <ElButton v-if="bulk" size="small" @click="changeAll(picked)">{{ bulk.words }}</ElButton>
      </template>
    </DataTable>
    <div class="row">
      <ElButton v-if="writes" @click="open = 'new'">Add: {{ kind.name.toLowerCase() }}</ElButton>
      <slot />
    </div>
    <DeskForm
      v-if="open"
      :key="open === 'new' ? 'new' : open.id"
      :kind="props.kind"
      :desk="desk"
      :row="open === 'new' ? undefined : open"
      :start="start"
      @close="open = undefined"
    />
  </section>
</template>

<style scoped>
.link {
  color: var(--slate);
  text-decoration: underline;
  cursor: pointer;
  min-height: 24px;
  margin-right: 10px;
}
th {
  position: relative;
}
.acts {
  white-space: nowrap;
}
td {
  font-size: 15px;
}
.undo {
  background: var(--amber-wash);
  padding: 8px 12px;
}
</style>
