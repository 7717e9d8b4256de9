<script setup lang="ts">
import { ElButton } from 'element-plus'
import { ref } from 'vue'

import type { Schemas } from '../../api/client'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'
import { useUndo } from '../../shared/useUndo'
import DeskForm from './DeskForm.vue'
import { kinds, type Facts, type Kept, type KindName, type RowKind } from './rows'

/** Rows of one kind with their form; what is deleted can be brought back for ten seconds. */
const props = defineProps<{
  kind: KindName
  desk: Schemas['DeskDesk']
  rows: readonly Kept[]
  heads: readonly string[]
  cells: (row: Kept) => readonly string[]
  writes: boolean
  start?: Facts
  title?: string
}>()
const kind: RowKind = kinds[props.kind]
const open = ref<Kept | 'new'>()
const shown = ref(50)
const { problem, mine, theirs, save } = useChange()
const { gone, offer, undo } = useUndo((r: Kept) => save((v, header) => kind.restore(header, r.id, v ?? r.version)))
async function drop(row: Kept) {
  offer(await save((v, header) => kind.remove(header, row.id, v ?? row.version)))
}
</script>

<template>
  <section>
    <h2>{{ title ?? kind.name }}</h2>
    <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
    <p v-if="gone" class="undo" role="status">
      Deleted.
      <ElButton @click="undo">Undo</ElButton>
    </p>
    <div v-if="rows.length" class="scroll">
      <table>
        <thead>
          <tr>
            <th v-for="h in heads" :key="h">{{ h }}</th>
            <th v-if="writes"><span class="hidden">Change</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows.slice(0, shown)" :key="r.id">
            <td v-for="(c, i) in cells(r)" :key="i">{{ c }}</td>
            <td v-if="writes" class="acts">
              <button class="bare link" :aria-label="`Change ${cells(r)[0]}`" @click="open = r">change</button>
              <button class="bare link" :aria-label="`Delete ${cells(r)[0]}`" @click="drop(r)">delete</button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-else class="quiet">None on record.</p>
    <div class="row">
      <ElButton v-if="rows.length > shown" @click="shown += 100">{{ rows.length - shown }} more</ElButton>
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
