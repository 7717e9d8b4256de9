<script setup lang="ts">
import { ElFormItem, ElInput, ElOption, ElSelect } from 'element-plus'
import { reactive } from 'vue'

import { api, newId, take } from '../../api/client'
import FormDialog from '../../shared/FormDialog.vue'
import { fieldError, useChange } from '../../shared/useChange'
import type { Act } from './useRepair'

/** The office wants another person's look here: they prove it by their password, on this device. */
const props = defineProps<{ id: string; act: Act; people: string[] }>()
const emit = defineEmits<{ close: []; signed: [] }>()
const who = reactive({ name: props.people.length === 1 ? props.people[0]! : '', password: '' })
const { problem, busy, mine, theirs, save } = useChange()
const entry = newId()
async function submit() {
  const done = await save((_, header) =>
    take(
      api.POST('/api/visits/{id}/signed-entries', {
        params: { path: { id: props.id }, header },
        body: { id: entry, key: props.act.key, name: who.name, password: who.password },
      }),
    ),
  )
  who.password = ''
  if (done) emit('signed')
}
</script>

<template>
  <FormDialog
    :title="`Another person looks: ${act.text}`"
    save="I have seen it"
    :ready="Boolean(who.name && who.password)"
    :busy="busy"
    :problem="problem"
    :mine="mine"
    @close="emit('close')"
    @theirs="theirs"
    @submit="submit"
  >
    <ElFormItem label="Who looks" :error="fieldError(problem, 'name')">
      <ElSelect v-model="who.name" :teleported="false" aria-label="Who looks">
        <ElOption v-for="p in people" :key="p" :value="p" :label="p" />
      </ElSelect>
    </ElFormItem>
    <ElFormItem label="Their password">
      <ElInput v-model="who.password" type="password" autocomplete="off" />
    </ElFormItem>
  </FormDialog>
</template>
