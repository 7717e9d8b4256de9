<script setup lang="ts">
import { ElFormItem, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed, reactive } from 'vue'

import type { Schemas } from '../../api/client'
import type { LogBody } from '../../shared/bench/useBench'
import FormDialog from '../../shared/FormDialog.vue'
import { useTrade } from '../../shared/useTrade'

/** The facts of the bench line by mouse: a note, an incident, something lost or found, a measure, a tool. */
const props = defineProps<{ unit: Schemas['Unit']; parts: Schemas['Part'][] }>()
const emit = defineEmits<{ log: [body: LogBody, text: string]; close: [] }>()
const kinds = {
  note: 'a note',
  incident: 'an incident',
  'screw-lost': 'a lost screw',
  'screw-found': 'a screw found again',
  measure: 'a measure',
  tool: 'a tool, tray or its error code',
}
const { trade } = useTrade()
const incidents = computed(() => [...trade.value.incidents.filter((i) => !i.startsWith('screw-')), 'other'])
const facts = reactive({
  kind: 'incident' as keyof typeof kinds,
  incident: 'tab-broke',
  part: '',
  note: '',
  cause: '',
  evidence: '',
  count: 1,
  diameter: 1.2,
  length: 2,
  value: 0,
  unit: 'g',
})
const part = computed(() => props.parts.find((p) => p.id === facts.part))
const ready = computed(() => {
  if (facts.kind === 'note' || facts.kind === 'tool') return facts.note.trim()
  return facts.kind === 'measure' ? part.value && facts.value > 0 : true
})
function submit() {
  const { kind, note } = facts
  const about = { note, part_id: facts.part || undefined }
  if (kind === 'note') emit('log', { kind, ...about }, `note “${note}”`)
  else if (kind === 'tool') emit('log', { kind, detail: { tool: note } }, `take the ${note}`)
  else if (kind === 'measure') {
    const line = `m ${part.value!.name} ${facts.value}${facts.unit}`
    emit('log', { line }, line)
  } else {
    const what = kind === 'incident' ? facts.incident : kind
    const size = kind === 'incident' ? {} : { count: facts.count, diameter_mm: facts.diameter, length_mm: facts.length }
    emit(
      'log',
      {
        kind: 'incident',
        ...about,
        detail: { incident: { kind: what, cause: facts.cause, evidence: facts.evidence }, ...size },
      },
      `incident, ${what.replace('-', ' ')} ${part.value?.name ?? ''}`,
    )
  }
  emit('close')
}
</script>

<template>
  <FormDialog
    :title="`${unit.name}: another fact`"
    :width="520"
    save="Log it"
    :ready="Boolean(ready)"
    @close="emit('close')"
    @submit="submit"
  >
    <ElFormItem label="It is">
      <ElSelect v-model="facts.kind" :teleported="false" aria-label="It is">
        <ElOption v-for="(l, k) in kinds" :key="k" :value="k" :label="l" />
      </ElSelect>
    </ElFormItem>
    <ElFormItem v-if="facts.kind === 'incident'" label="What happened">
      <ElSelect v-model="facts.incident" :teleported="false" aria-label="What happened">
        <ElOption v-for="i in incidents" :key="i" :value="i" :label="i.replace('-', ' ')" />
      </ElSelect>
    </ElFormItem>
    <ElFormItem v-if="facts.kind !== 'tool'" label="Part">
      <ElSelect v-model="facts.part" :teleported="false" clearable filterable aria-label="Part of the fact">
        <ElOption v-for="p in parts" :key="p.id" :value="p.id" :label="p.name" />
      </ElSelect>
    </ElFormItem>
    <div v-if="facts.kind.startsWith('screw')" class="row">
      <ElInputNumber v-model="facts.count" :min="1" :max="50" aria-label="How many screws" />
      <ElInputNumber
        v-model="facts.diameter"
        :controls="false"
        :min="0"
        :max="20"
        aria-label="Diameter of the screw, mm"
        style="width: 80px"
      />
      ×
      <ElInputNumber
        v-model="facts.length"
        :controls="false"
        :min="0"
        :max="50"
        aria-label="Length of the screw, mm"
        style="width: 80px"
      />
      mm
    </div>
    <div v-if="facts.kind === 'measure'" class="row">
      <ElInputNumber v-model="facts.value" :controls="false" :min="0" aria-label="Value" style="width: 120px" />
      <ElSelect v-model="facts.unit" :teleported="false" aria-label="Unit" style="width: 90px">
        <ElOption v-for="u in ['g', 'mm', 'mAh', 'Wh', 'V', 'MP']" :key="u" :value="u" :label="u" />
      </ElSelect>
    </div>
    <template v-if="facts.kind === 'incident'">
      <ElFormItem label="Likely cause"><ElInput v-model="facts.cause" maxlength="200" /></ElFormItem>
      <ElFormItem label="Evidence"><ElInput v-model="facts.evidence" maxlength="200" /></ElFormItem>
    </template>
    <ElFormItem
      v-if="facts.kind !== 'measure'"
      :label="facts.kind === 'tool' ? 'Tool, tray, cycle, error code' : 'In words'"
    >
      <ElInput v-model="facts.note" maxlength="400" />
    </ElFormItem>
  </FormDialog>
</template>
