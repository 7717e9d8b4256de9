<script setup lang="ts">
import { ElButton, ElDialog, ElForm, ElFormItem, ElInput, ElInputNumber, ElOption, ElSelect, ElCheckbox } from 'element-plus'
import { reactive } from 'vue'

import { api, newId, take, type Schemas } from '../../api/client'
import ProblemNote from '../../shared/ProblemNote.vue'
import { fieldError, useForm } from '../../shared/save'

const props = defineProps<{ model: string; part?: Schemas['Part'] }>()
const emit = defineEmits<{ close: [id?: string] }>()
const families = {
  PW: 'power',
  OP: 'optics',
  SC: 'screen',
  SO: 'sound',
  BD: 'board',
  RF: 'radio',
  BT: 'buttons',
  FR: 'frame',
  SE: 'sensors',
} as const
// eslint-disable-next-line @typescript-eslint/no-unused-vars
const { id: _id, version: _version, model_id: _model, ...known } = props.part ?? { id: '', version: 0, model_id: '' }
const facts = reactive<Schemas['NewPart']>({
  name: '',
  family: 'FR',
  pane: 'body',
  slot: true,
  layer: 5,
  ...known,
  id: props.part?.id ?? newId(),
})
const aliases = reactive({ text: (props.part?.aliases ?? []).join(', ') })
const { problem, busy, mine, theirs, send } = useForm(() => emit('close'))
const lengths = [
  ['x_mm', 'from the left'],
  ['y_mm', 'from the top'],
  ['w_mm', 'width'],
  ['h_mm', 'height'],
] as const
async function submit() {
  const part = props.part
  const { id, ...rest } = facts
  const body = {
    ...rest,
    aliases: aliases.text
      .split(',')
      .map((a) => a.trim())
      .filter(Boolean),
  }
  await send((v, header) =>
    part
      ? take(
          api.PUT('/api/parts/{id}', {
            params: { path: { id: part.id }, header },
            body: { version: v ?? part.version, ...body },
          }),
        )
      : take(api.POST('/api/models/{id}/parts', { params: { path: { id: props.model }, header }, body: { id, ...body } })),
  )
}
</script>

<template>
  <ElDialog
    :model-value="true"
    :title="part ? `Change ${part.name}` : 'Add a part'"
    width="560"
    append-to-body
    @close="emit('close')"
  >
    <ElForm label-position="top" @submit.prevent="submit">
      <div class="two">
        <ElFormItem label="Name" :error="fieldError(problem, 'name')">
          <ElInput v-model="facts.name" name="part" maxlength="80" />
        </ElFormItem>
        <ElFormItem label="Other names, with commas" :error="fieldError(problem, 'aliases')">
          <ElInput v-model="aliases.text" />
        </ElFormItem>
        <ElFormItem label="Family" :error="fieldError(problem, 'family')">
          <ElSelect v-model="facts.family" :teleported="false" aria-label="Family">
            <ElOption v-for="(n, f) in families" :key="f" :value="f" :label="`${f} ${n}`" />
          </ElSelect>
        </ElFormItem>
        <ElFormItem label="Lies in the" :error="fieldError(problem, 'pane')">
          <ElSelect v-model="facts.pane" :teleported="false" aria-label="Lies in the">
            <ElOption value="body" label="body" />
            <ElOption value="lid" label="lid that opens first" />
          </ElSelect>
        </ElFormItem>
      </div>
      <p class="quiet">Place and size in mm, top edge away from you:</p>
      <div class="row">
        <ElFormItem v-for="[k, l] in lengths" :key="k" :label="l" :error="fieldError(problem, k)">
          <ElInputNumber v-model="facts[k]" :controls="false" :aria-label="`${l}, mm`" style="width: 84px" />
        </ElFormItem>
        <ElFormItem label="layer, 0 deepest" :error="fieldError(problem, 'layer')">
          <ElInputNumber v-model="facts.layer" :controls="false" aria-label="layer" style="width: 84px" />
        </ElFormItem>
        <ElFormItem label="mass, g" :error="fieldError(problem, 'mass_g')">
          <ElInputNumber v-model="facts.mass_g" :controls="false" aria-label="mass, g" style="width: 84px" />
        </ElFormItem>
      </div>
      <div class="two">
        <ElFormItem label="Text on the label" :error="fieldError(problem, 'label')">
          <ElInput v-model="facts.label" maxlength="200" />
        </ElFormItem>
        <ElFormItem label="Code on the connector" :error="fieldError(problem, 'connector_code')">
          <ElInput v-model="facts.connector_code" maxlength="200" />
        </ElFormItem>
      </div>
      <ElCheckbox v-model="facts.slot" label="Takes part in swap tests" />
      <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
      <p>
        <ElButton type="primary" native-type="submit" :loading="busy" :disabled="!facts.name">
          {{ part ? 'Save' : 'Add' }}
        </ElButton>
      </p>
    </ElForm>
  </ElDialog>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  column-gap: 14px;
}
</style>
