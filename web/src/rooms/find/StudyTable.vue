<script setup lang="ts">
import type { Schemas } from '../../api/client'
import DataTable from '../../shared/DataTable.vue'
import EvidenceEye from '../../shared/EvidenceEye.vue'
import { minutes } from '../../shared/format'
import type { Column } from '../../shared/table'

defineProps<{ studies: Schemas['FirstStudyLine'][]; writes: boolean }>()
defineEmits<{ remove: [id: string] }>()
type Line = Schemas['FirstStudyLine']
const columns: Column<Line>[] = [
  { id: 'title', title: 'Study', value: (s) => s.title },
  { id: 'model', title: 'Model', value: (s) => s.model, few: true },
  { id: 'stages', title: 'Stages', value: (s) => s.filled, text: (s) => `${s.filled} of ${s.stages.length}` },
  { id: 'next', title: 'Next', value: (s) => s.next.title },
  {
    id: 'minutes',
    title: 'Takes',
    kind: 'minutes',
    value: (s) => s.next.minutes,
    text: (s) => (s.next.minutes ? minutes(Math.round(s.next.minutes)) : ''),
  },
  { id: 'missing', title: 'Missing', value: (s) => s.stages.find((x) => x.missing)?.missing },
  { id: 'delete', title: 'Delete', value: () => '', bare: true },
]
</script>

<template>
  <section>
    <h2>Studies</h2>
    <DataTable
      name="studies"
      caption="Studies"
      :rows="studies"
      :columns="columns"
      :row-key="(s) => s.id"
      :to="(s) => ({ name: 'intake', params: { id: s.id } })"
    >
      <template #stages="{ row }">
        <span class="eyes">
          <EvidenceEye
            v-for="st in row.stages"
            :key="st.id"
            :state="st.eye"
            :label="`${st.title}: ${st.missing ? `missing ${st.missing}` : 'complete'}`"
          />
        </span>
      </template>
      <template #next="{ row }">
        <RouterLink :to="row.next.path">{{ row.next.title }}</RouterLink>
      </template>
      <template #delete="{ row }">
        <button
          v-if="writes"
          class="bare quiet cross"
          :aria-label="`× Delete ${row.title}`"
          @click="$emit('remove', row.id)"
        >
          ×
        </button>
      </template>
    </DataTable>
  </section>
</template>

<style scoped>
.eyes {
  display: inline-flex;
  gap: 5px;
  white-space: nowrap;
}
.cross {
  min-width: 28px;
  min-height: 28px;
  font-size: 20px;
  text-align: center;
}
</style>
