<script setup lang="ts">
import { ElButton, ElDialog, ElForm, ElFormItem, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { reactive } from 'vue'

import { api, newId, take, type Schemas } from '../../api/client'
import ProblemNote from '../../shared/ProblemNote.vue'
import { fieldError, useForm } from '../../shared/save'
import StickerTag from '../../shared/StickerTag.vue'

const props = defineProps<{ study: string; unit?: Schemas['Unit']; count: number }>()
const emit = defineEmits<{ close: [] }>()
const colours = ['green', 'amber', 'blue', 'red', 'violet', 'grey'] as const
const shapes = ['triangle', 'circle', 'square', 'diamond'] as const
const names = ['PINE', 'AMBER', 'SLATE', 'BRICK', 'HEATHER', 'STONE']
const facts = reactive({
  name: props.unit?.name ?? names[props.count] ?? '',
  colour: props.unit?.colour ?? colours[props.count % 6]!,
  shape: props.unit?.shape ?? shapes[props.count % 4]!,
  build: props.unit?.build ?? '',
  storage_gb: props.unit?.storage_gb ?? 128,
  state: props.unit?.state ?? '',
})
const id = newId()
const { problem, busy, mine, theirs, send } = useForm(() => emit('close'))
async function submit() {
  const unit = props.unit
  await send((v, header) =>
    unit
      ? take(
          api.PUT('/api/units/{id}', {
            params: { path: { id: unit.id }, header },
            body: { version: v ?? unit.version, ...facts },
          }),
        )
      : take(api.POST('/api/studies/{id}/units', { params: { path: { id: props.study }, header }, body: { id, ...facts } })),
  )
}
</script>

<template>
  <ElDialog
    :model-value="true"
    :title="unit ? `Change ${unit.name}` : 'Record a phone'"
    width="460"
    append-to-body
    @close="emit('close')"
  >
    <ElForm label-position="top" @submit.prevent="submit">
      <ElFormItem label="Name on the sticker" :error="fieldError(problem, 'name')">
        <ElInput v-model="facts.name" name="sticker" maxlength="20" />
      </ElFormItem>
      <div class="row">
        <ElFormItem label="Colour">
          <ElSelect v-model="facts.colour" :teleported="false" aria-label="Colour" style="width: 130px">
            <ElOption v-for="c in colours" :key="c" :value="c" :label="c" />
          </ElSelect>
        </ElFormItem>
        <ElFormItem label="Shape">
          <ElSelect v-model="facts.shape" :teleported="false" aria-label="Shape" style="width: 130px">
            <ElOption v-for="s in shapes" :key="s" :value="s" :label="s" />
          </ElSelect>
        </ElFormItem>
        <StickerTag :unit="facts" />
      </div>
      <ElFormItem label="Software build, as the phone shows it" :error="fieldError(problem, 'build')">
        <ElInput v-model="facts.build" name="build" maxlength="40" />
      </ElFormItem>
      <ElFormItem label="Storage, GB" :error="fieldError(problem, 'storage_gb')">
        <ElInputNumber v-model="facts.storage_gb" :min="0" :max="65536" aria-label="Storage, GB" />
      </ElFormItem>
      <ElFormItem label="Condition in words" :error="fieldError(problem, 'state')">
        <ElInput v-model="facts.state" maxlength="200" />
      </ElFormItem>
      <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
      <ElButton type="primary" native-type="submit" :loading="busy">{{ unit ? 'Save' : 'Record' }}</ElButton>
    </ElForm>
  </ElDialog>
</template>
