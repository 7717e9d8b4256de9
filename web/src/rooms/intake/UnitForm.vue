<script setup lang="ts">
import { ElFormItem, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { reactive, ref } from 'vue'

import { api, newId, take, type Schemas } from '../../api/client'
import FormDialog from '../../shared/FormDialog.vue'
import { fieldError, useChange } from '../../shared/useChange'
import { colours, nextSticker, shapes } from '../../shared/stickers'
import StickerTag from '../../shared/StickerTag.vue'
import { say } from '../../words'

const props = defineProps<{ study: string; unit?: Schemas['Unit']; count: number }>()
const emit = defineEmits<{ close: [] }>()
// eslint-disable-next-line @typescript-eslint/no-unused-vars
const { id: _id, version: _version, study_id: _study, ...known } = props.unit ?? ({} as Partial<Schemas['Unit']>)
const facts = reactive({
  ...nextSticker(props.count),
  ...known,
  mass_g: props.unit?.mass_g,
  state: props.unit?.state ?? '',
})
const aliases = ref((props.unit?.aliases ?? []).join(', '))
const box = ref((props.unit?.box ?? []).join(', '))
const split = (text: string) =>
  text
    .split(',')
    .map((t) => t.trim())
    .filter(Boolean)
const id = newId()
const { problem, busy, mine, theirs, send } = useChange(() => emit('close'))
async function submit() {
  const unit = props.unit
  const body = { ...facts, aliases: split(aliases.value), box: split(box.value) }
  await send((v, header) =>
    unit
      ? take(
          api.PUT('/api/units/{id}', {
            params: { path: { id: unit.id }, header },
            body: { version: v ?? unit.version, ...body },
          }),
        )
      : take(
          api.POST('/api/studies/{id}/units', { params: { path: { id: props.study }, header }, body: { id, ...body } }),
        ),
  )
}
</script>

<template>
  <FormDialog
    :title="unit ? `Change ${unit.name}` : 'Record a phone'"
    :width="460"
    :save="unit ? 'Save' : 'Record'"
    :busy="busy"
    :problem="problem"
    :mine="mine"
    @close="emit('close')"
    @theirs="theirs"
    @submit="submit"
  >
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
    <div class="row">
      <ElFormItem label="Storage, GB" :error="fieldError(problem, 'storage_gb')">
        <ElInputNumber
          v-model="facts.storage_gb"
          :controls="false"
          :min="0"
          :max="65536"
          aria-label="Storage, GB"
          style="width: 90px"
        />
      </ElFormItem>
      <ElFormItem label="Mass, g" :error="fieldError(problem, 'mass_g')">
        <ElInputNumber v-model="facts.mass_g" :controls="false" :min="0" aria-label="Mass, g" style="width: 90px" />
      </ElFormItem>
      <ElFormItem label="It is the" :error="fieldError(problem, 'role')">
        <ElSelect v-model="facts.role" :teleported="false" aria-label="It is the" style="width: 130px">
          <ElOption v-for="r in ['specimen', 'donor', 'control']" :key="r" :value="r" :label="say('role', r)" />
        </ElSelect>
      </ElFormItem>
    </div>
    <ElFormItem label="Also called, with commas" :error="fieldError(problem, 'aliases')">
      <ElInput v-model="aliases" />
    </ElFormItem>
    <ElFormItem label="In the box, with commas" :error="fieldError(problem, 'box')">
      <ElInput v-model="box" />
    </ElFormItem>
    <ElFormItem label="Condition in words" :error="fieldError(problem, 'state')">
      <ElInput v-model="facts.state" maxlength="200" />
    </ElFormItem>
  </FormDialog>
</template>
