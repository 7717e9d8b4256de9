<script setup lang="ts">
import { ElFormItem, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { reactive } from 'vue'

import { api, newId, take, type Schemas } from '../../api/client'
import FormDialog from '../../shared/FormDialog.vue'
import MeasureField from '../../shared/MeasureField.vue'
import { fieldError, useChange } from '../../shared/useChange'

/** A lot of copies for a model: a tested original says nothing about it, so it is a line of its own. */
const props = defineProps<{ room: Schemas['FitRoom'] }>()
const emit = defineEmits<{ close: [] }>()
const { problem, busy, mine, theirs, send } = useChange(() => emit('close'))
const id = newId()
const facts = reactive({
  model: '',
  name: '',
  price: undefined as number | undefined,
  currency: props.room.currency ?? 'EUR',
})
const measures = reactive({ thickness: [] as number[], 'connector width': [] as number[] })
const digit = reactive({ thickness: 0.01, 'connector width': 0.01 })
async function submit() {
  await send((_, header) =>
    take(
      api.POST('/api/models/{id}/lots', {
        params: { path: { id: facts.model }, header },
        body: {
          id,
          kind: props.room.kind,
          name: facts.name.trim(),
          ...(facts.price ? { price_minor: Math.round(facts.price * 100), currency: facts.currency } : {}),
          measures: (['thickness', 'connector width'] as const).flatMap((kind) =>
            measures[kind].length
              ? [{ kind, unit: 'mm' as const, readings: [...measures[kind]], resolution: digit[kind] }]
              : [],
          ),
        },
      }),
    ),
  )
}
</script>

<template>
  <FormDialog
    title="A lot of copies"
    save="Record"
    :ready="Boolean(facts.model && facts.name.trim())"
    :busy="busy"
    :problem="problem"
    :mine="mine"
    @close="emit('close')"
    @theirs="theirs"
    @submit="submit"
  >
    <ElFormItem :label="`${room.name} made for the`" :error="fieldError(problem, 'model_id')">
      <ElSelect
        v-model="facts.model"
        :teleported="false"
        filterable
        default-first-option
        :aria-label="`${room.name} made for the`"
      >
        <ElOption v-for="l in room.lines.filter((x) => !x.copy)" :key="l.id" :value="l.id" :label="l.name" />
      </ElSelect>
    </ElFormItem>
    <ElFormItem label="Name of the lot, as on the delivery" :error="fieldError(problem, 'name')">
      <ElInput v-model="facts.name" maxlength="40" placeholder="harbour-7" />
    </ElFormItem>
    <div class="row">
      <ElFormItem label="Price of one" :error="fieldError(problem, 'price_minor')">
        <ElInputNumber
          v-model="facts.price"
          :controls="false"
          :min="0"
          aria-label="Price of one"
          style="width: 110px"
        />
      </ElFormItem>
      <ElFormItem label="Currency" :error="fieldError(problem, 'currency')">
        <ElInput v-model="facts.currency" maxlength="3" style="width: 80px" />
      </ElFormItem>
    </div>
    <MeasureField v-model="measures.thickness" label="Thickness" unit="mm" @resolution="digit.thickness = $event" />
    <MeasureField
      v-model="measures['connector width']"
      label="Width of the connector"
      unit="mm"
      @resolution="digit['connector width'] = $event"
    />
  </FormDialog>
</template>
