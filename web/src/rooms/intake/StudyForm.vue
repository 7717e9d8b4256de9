<script setup lang="ts">
import { ElCheckbox, ElFormItem, ElInput, ElOption, ElSelect } from 'element-plus'
import { reactive } from 'vue'

import { api, take, type Schemas } from '../../api/client'
import FormDialog from '../../shared/FormDialog.vue'
import { fieldError, useChange } from '../../shared/useChange'

const props = defineProps<{ study: Schemas['Study'] }>()
const emit = defineEmits<{ close: [] }>()
const { title, variant = '', orientation = '', note = '' } = props.study
const { missing = {}, hypotheses = [], pairs = [], interests = {} } = props.study
const facts = reactive({
  title,
  variant,
  orientation,
  note,
  missing: { ...missing },
  interests: { ...interests },
  hypotheses,
  pairs,
})
const declared = [
  ['sells_parts', 'We sell parts or repairs'],
  ['given_phone', 'A phone was given or lent by who sells it'],
] as const
const lacks = [
  ['guide', 'guide'],
  ['chart', 'screw chart'],
  ['adhesive', 'spare adhesive'],
  ['spares', 'common spares'],
] as const
const { problem, busy, mine, theirs, send } = useChange(() => emit('close'))
async function submit() {
  await send((v, header) =>
    take(
      api.PUT('/api/studies/{id}', {
        params: { path: { id: props.study.id }, header },
        body: { version: v ?? props.study.version, ...facts },
      }),
    ),
  )
}
</script>

<template>
  <FormDialog
    title="The study"
    :width="520"
    :busy="busy"
    :problem="problem"
    :mine="mine"
    @close="emit('close')"
    @theirs="theirs"
    @submit="submit"
  >
    <ElFormItem label="Title" :error="fieldError(problem, 'title')">
      <ElInput v-model="facts.title" maxlength="160" />
    </ElFormItem>
    <ElFormItem label="Region variant" :error="fieldError(problem, 'variant')">
      <ElInput v-model="facts.variant" maxlength="80" />
    </ElFormItem>
    <ElFormItem
      label="Orientation: which face is up, which edge is away from you"
      :error="fieldError(problem, 'orientation')"
    >
      <ElInput v-model="facts.orientation" maxlength="160" />
    </ElFormItem>
    <fieldset>
      <legend>Missing for this study</legend>
      <ElCheckbox v-for="[k, l] in lacks" :key="k" v-model="facts.missing[k]" :label="l" />
      <ElInput
        v-model="facts.missing.other"
        maxlength="200"
        placeholder="something else"
        aria-label="Missing: something else"
      />
    </fieldset>
    <fieldset>
      <legend>Interests, for the hand-over</legend>
      <div v-for="[k, l] in declared" :key="k" class="declared">
        {{ l }}
        <ElSelect v-model="facts.interests[k]" :teleported="false" clearable placeholder="not said" :aria-label="l">
          <ElOption value="yes" label="yes" />
          <ElOption value="no" label="no" />
        </ElSelect>
      </div>
      <ElInput v-model="facts.interests.note" maxlength="300" placeholder="more" aria-label="Interests: more" />
    </fieldset>
    <ElFormItem label="Note" :error="fieldError(problem, 'note')">
      <ElInput v-model="facts.note" name="note" type="textarea" :rows="4" />
    </ElFormItem>
  </FormDialog>
</template>

<style scoped>
.declared {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 120px;
  align-items: center;
  gap: 4px 12px;
  margin-bottom: 6px;
}
fieldset {
  border: 1px solid var(--line);
  margin: 0 0 14px;
}
</style>
