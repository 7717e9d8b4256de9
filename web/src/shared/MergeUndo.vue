<script setup lang="ts">
import { ElButton } from 'element-plus'
import { watch } from 'vue'

import { api, take, type Schemas } from '../api/client'
import { lastMerge } from './merges'
import ProblemNote from './ProblemNote.vue'
import { useChange } from './useChange'
import { useUndo } from './useUndo'

const { problem, mine, theirs, save } = useChange()
const { gone, offer, undo } = useUndo((m: Schemas['Merge']) =>
  save((v, header) =>
    take(
      api.POST('/api/merges/{id}/undo', {
        params: { path: { id: m.id }, query: { version: v ?? m.version }, header },
      }),
    ),
  ),
)
watch(lastMerge, (m) => offer(m))
</script>

<template>
  <div v-if="gone || problem" class="merged no-print" role="status">
    <span v-if="gone">Two {{ gone.kind }}s are one now.</span>
    <ElButton v-if="gone" @click="undo">Undo</ElButton>
    <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
  </div>
</template>

<style scoped>
.merged {
  position: fixed;
  right: 20px;
  bottom: 76px;
  z-index: 30;
  display: flex;
  gap: 12px;
  align-items: center;
  background: var(--amber-wash);
  border: 1px solid var(--ink);
  padding: 8px 14px;
}
</style>
