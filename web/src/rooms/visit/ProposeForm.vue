<script setup lang="ts">
import { ElFormItem, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed, reactive } from 'vue'

import { api, newId, take, type Schemas } from '../../api/client'
import FormDialog from '../../shared/FormDialog.vue'
import { fieldError, useChange } from '../../shared/useChange'
import type { Act } from './useRepair'

/** Something the record of the model lacks: an analyst takes it in with one key. */
const props = defineProps<{ room: Schemas['VisitRoom']; act?: Act }>()
const emit = defineEmits<{ close: [] }>()
const id = newId()
const facts = reactive({
  kind: 'hidden screw' as Schemas['NewProposal']['kind'],
  step: props.act?.step_id ?? '',
  part: props.act?.part_id ?? '',
  words: '',
  what: 'thickness',
  value: undefined as number | undefined,
})
const steps = computed(() => props.room.bench.steps)
const { problem, busy, mine, theirs, save } = useChange()
const ready = computed(
  () =>
    ({
      'hidden screw': Boolean(facts.step && facts.words.trim()),
      hazard: Boolean(facts.step && facts.part),
      measure: Boolean(facts.part && facts.what.trim() && facts.value),
    })[facts.kind],
)
async function submit() {
  const measure = facts.kind === 'measure'
  const made = await save((_, header) =>
    take(
      api.POST('/api/models/{id}/proposals', {
        params: { path: { id: props.room.model.id }, header },
        body: {
          id,
          kind: facts.kind,
          step_id: measure ? undefined : facts.step,
          part_id: facts.kind === 'hidden screw' ? undefined : facts.part,
          visit_id: props.room.visit.id,
          words: facts.words.trim() || undefined,
          ...(measure
            ? { measure: { kind: facts.what.trim(), unit: 'mm' as const, readings: [facts.value!], resolution: 0.1 } }
            : {}),
        },
      }),
    ),
  )
  if (made) emit('close')
}
</script>

<template>
  <FormDialog
    title="What the record lacks"
    save="Propose it"
    :ready="ready"
    :busy="busy"
    :problem="problem"
    :mine="mine"
    @close="emit('close')"
    @theirs="theirs"
    @submit="submit"
  >
    <ElFormItem label="What">
      <ElSelect v-model="facts.kind" :teleported="false" aria-label="What">
        <ElOption value="hidden screw" label="a screw hides" />
        <ElOption value="hazard" label="a part gets damaged here" />
        <ElOption value="measure" label="a measure" />
      </ElSelect>
    </ElFormItem>
    <ElFormItem v-if="facts.kind !== 'measure'" label="At the step" :error="fieldError(problem, 'step_id')">
      <ElSelect v-model="facts.step" filterable :teleported="false" aria-label="At the step">
        <ElOption v-for="s in steps" :key="s.id" :value="s.id!" :label="s.what" />
      </ElSelect>
    </ElFormItem>
    <ElFormItem v-if="facts.kind !== 'hidden screw'" label="Part" :error="fieldError(problem, 'part_id')">
      <ElSelect v-model="facts.part" filterable :teleported="false" aria-label="Part">
        <ElOption v-for="p in room.parts" :key="p.id" :value="p.id" :label="p.name" />
      </ElSelect>
    </ElFormItem>
    <div v-if="facts.kind === 'measure'" class="row">
      <ElFormItem label="Of what">
        <ElInput v-model="facts.what" maxlength="40" />
      </ElFormItem>
      <ElFormItem label="mm">
        <ElInputNumber v-model="facts.value" :min="0" :max="400" :step="0.1" :controls="false" aria-label="mm" />
      </ElFormItem>
    </div>
    <ElFormItem
      v-else
      :label="facts.kind === 'hazard' ? 'A remark, if you like' : 'Under what'"
      :error="fieldError(problem, 'words')"
    >
      <ElInput v-model="facts.words" maxlength="120" placeholder="the label" />
    </ElFormItem>
  </FormDialog>
</template>
