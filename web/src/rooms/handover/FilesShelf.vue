<script setup lang="ts">
import { ElCheckbox } from 'element-plus'
import { computed, reactive } from 'vue'

import type { Schemas } from '../../api/client'
import { useSession } from '../../shared/session'
import TableImport from '../../shared/TableImport.vue'
import DocumentImport from './DocumentImport.vue'

/** Everything that leaves the house as a file, and what comes in: sheets, the whole record, tables, drawings, labels. */
const props = defineProps<{ sheet: Schemas['HandoverSheet'] }>()
const { may } = useSession()
const writes = may('models')
const sections = {
  claims: 'what may be said',
  teardown: 'parts and map',
  ways: 'ways in to the common jobs',
  mat: 'screw sheet, true to scale',
  swaps: 'swap chart',
  fit: 'what stands in',
  scores: 'scorecard',
  open: 'not tested',
} as const
const chosen = reactive(Object.fromEntries(Object.keys(sections).map((s) => [s, true])) as Record<string, boolean>)
const query = computed(() => {
  const some = Object.keys(sections).filter((s) => chosen[s])
  return some.length === Object.keys(sections).length ? '' : `sections=${some.join(',')}`
})
const none = computed(() => !Object.values(chosen).some(Boolean))
const study = `/api/studies/${props.sheet.study.id}`
const model = `/api/models/${props.sheet.model.id}`
const tables = ['parts', 'steps', 'measures', 'trials', 'facts']
</script>

<template>
  <section id="files" class="no-print">
    <h2>Hand over</h2>
    <fieldset>
      <legend>What goes on the sheet</legend>
      <ElCheckbox v-for="(words, s) in sections" :key="s" v-model="chosen[s]" :label="words" />
    </fieldset>
    <p v-if="none" class="quiet">Choose at least one.</p>
    <div v-else class="row">
      <a class="button" :href="`${study}/sheet/html?${query}`" target="_blank" rel="noopener">Look at it</a>
      <a class="button" :href="`${study}/sheet/html?keep=true&${query}`">One HTML file</a>
      <a class="button" :href="`${study}/sheet/pdf?keep=true&${query}`">PDF</a>
      <a class="button" :href="`${study}/labels`" target="_blank" rel="noopener">Labels with codes</a>
    </div>
  </section>
  <section class="no-print">
    <h2>Open formats</h2>
    <ul class="plain">
      <li>
        <a :href="`${model}/studies/${sheet.study.id}/document`">This study as one document</a>
        ·
        <a :href="`${model}/document`">the model with all its studies</a>
      </li>
      <li v-for="t in tables" :key="t">
        {{ t }}:
        <a :href="`${model}/tables/${t}/csv`" :aria-label="`${t} as CSV`">CSV</a>
        ·
        <a :href="`${model}/tables/${t}/xlsx`" :aria-label="`${t} as XLSX`">XLSX</a>
      </li>
      <li>
        <a :href="`${model}/plan`">The plan as DOT</a>
        ·
        <a :href="`${model}/map`">the map as SVG</a>
        ·
        <a :href="`${model}/score/chart`">the scores as SVG</a>
      </li>
    </ul>
  </section>
  <section v-if="writes" class="no-print">
    <h2>Read a file</h2>
    <TableImport :model="sheet.model.id" />
    <DocumentImport />
  </section>
</template>

<style scoped>
fieldset {
  border: 1px solid var(--line);
  padding: 8px 12px;
  margin: 0 0 12px;
  min-width: 0;
  display: flex;
  flex-wrap: wrap;
}
legend {
  color: var(--quiet);
  font-size: 14px;
}
.button {
  border: 1px solid var(--strong-line);
  padding: 6px 14px;
  text-decoration: none;
  color: var(--ink);
  font-size: 15px;
}
</style>
