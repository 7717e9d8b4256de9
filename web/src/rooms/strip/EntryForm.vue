<script setup lang="ts">
import { ElFormItem, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { reactive } from 'vue'

import { api, take, type Schemas } from '../../api/client'
import FormDialog from '../../shared/FormDialog.vue'
import { fieldError, useChange } from '../../shared/useChange'

const props = defineProps<{ entry: Schemas['LogEntry']; parts: Schemas['Part'][] }>()
const emit = defineEmits<{ close: [] }>()
const d = props.entry.detail
const facts = reactive<Omit<Schemas['LogChange'], 'version'>>({
  seconds: props.entry.seconds,
  note: props.entry.note,
  reason: props.entry.reason,
  part_id: props.entry.part_id,
  cause: d.incident?.cause,
  evidence: d.incident?.evidence,
  mark: d.heat?.mark,
  result: d.heat?.result,
})
const { problem, busy, mine, theirs, send } = useChange(() => emit('close'))
async function submit() {
  await send((v, header) =>
    take(
      api.PUT('/api/log/{id}', {
        params: { path: { id: props.entry.id }, header },
        body: { version: v ?? props.entry.version, ...facts },
      }),
    ),
  )
}
</script>

<template>
  <FormDialog
    title="What is known of an entry"
    :width="460"
    :busy="busy"
    :problem="problem"
    :mine="mine"
    @close="emit('close')"
    @theirs="theirs"
    @submit="submit"
  >
    <ElFormItem label="Measured seconds; 0: not timed" :error="fieldError(problem, 'seconds')">
      <ElInputNumber v-model="facts.seconds" aria-label="Measured seconds" />
    </ElFormItem>
    <ElFormItem label="Note" :error="fieldError(problem, 'note')">
      <ElInput v-model="facts.note" name="note" type="textarea" :rows="4" />
    </ElFormItem>
    <ElFormItem
      v-if="entry.outcome && entry.outcome !== 'done'"
      :label="`Why ${entry.outcome}`"
      :error="fieldError(problem, 'reason')"
    >
      <ElInput v-model="facts.reason" maxlength="300" />
    </ElFormItem>
    <template v-if="d.incident">
      <ElFormItem label="Part that was damaged" :error="fieldError(problem, 'part_id')">
        <ElSelect v-model="facts.part_id" :teleported="false" clearable filterable aria-label="Part that was damaged">
          <ElOption v-for="p in parts" :key="p.id" :value="p.id" :label="p.name" />
        </ElSelect>
      </ElFormItem>
      <ElFormItem label="Likely cause" :error="fieldError(problem, 'cause')">
        <ElInput v-model="facts.cause" maxlength="200" />
      </ElFormItem>
      <ElFormItem label="Evidence" :error="fieldError(problem, 'evidence')">
        <ElInput v-model="facts.evidence" maxlength="200" />
      </ElFormItem>
    </template>
    <template v-if="d.heat">
      <ElFormItem label="Result of the round" :error="fieldError(problem, 'result')">
        <ElSelect v-model="facts.result" :teleported="false" aria-label="Result of the round">
          <ElOption v-for="r in ['no gap', 'gap', 'mark']" :key="r" :value="r" :label="r" />
        </ElSelect>
      </ElFormItem>
      <ElFormItem
        v-if="facts.result === 'mark'"
        label="Kind of mark: ripple, blotch …"
        :error="fieldError(problem, 'mark')"
      >
        <ElInput v-model="facts.mark" maxlength="40" />
      </ElFormItem>
    </template>
  </FormDialog>
</template>
