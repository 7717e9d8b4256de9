<script setup lang="ts">
import { ElButton, ElDialog, ElForm, ElFormItem, ElInput, ElInputNumber } from 'element-plus'
import { reactive } from 'vue'

import { api, take, type Schemas } from '../../api/client'
import ProblemNote from '../../shared/ProblemNote.vue'
import { fieldError, useForm } from '../../shared/save'

const props = defineProps<{ entry: Schemas['LogEntry'] }>()
const emit = defineEmits<{ close: [] }>()
const facts = reactive({ seconds: props.entry.seconds, note: props.entry.note })
const { problem, busy, mine, theirs, send } = useForm(() => emit('close'))
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
  <ElDialog :model-value="true" title="Time and note of an entry" width="460" append-to-body @close="emit('close')">
    <ElForm label-position="top" @submit.prevent="submit">
      <ElFormItem label="Measured seconds; 0: not timed" :error="fieldError(problem, 'seconds')">
        <ElInputNumber v-model="facts.seconds" aria-label="Measured seconds" />
      </ElFormItem>
      <ElFormItem label="Note" :error="fieldError(problem, 'note')">
        <ElInput v-model="facts.note" name="note" type="textarea" :rows="4" />
      </ElFormItem>
      <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
      <ElButton type="primary" native-type="submit" :loading="busy">Save</ElButton>
    </ElForm>
  </ElDialog>
</template>
