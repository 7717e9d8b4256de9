<script setup lang="ts">
import { ElFormItem, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, watch } from 'vue'

import { api, newId, take, type Schemas } from '../../api/client'
import FormDialog from '../../shared/FormDialog.vue'
import ModelSelect from '../../shared/ModelSelect.vue'
import { fieldError, useChange } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'
import { secondsOf } from './times'

/** A job for the day: by the way of its model, or with operations as they are typed. */
const props = defineProps<{ room: Schemas['BenchdayRoom'] }>()
const emit = defineEmits<{ close: [] }>()
const { problem, busy, mine, theirs, send } = useChange(() => emit('close'))
const id = newId()
const f = reactive({ title: '', model: '', part: '', unit: '', text: '', release: '', due: '', weight: 1 })
const { room: know } = useRoom(
  () => ['model', f.model],
  () => api.GET('/api/models/{id}', { params: { path: { id: f.model } } }),
  { enabled: () => Boolean(f.model) },
)
const { room: studies } = useRoom(['studies', ''], () => api.GET('/api/studies'))
const units = computed(() =>
  (studies.value ?? [])
    .filter((s) => s.model.id === f.model)
    .flatMap((s) => s.units.map((u) => ({ id: u.id, name: `${u.name}, ${s.study.title}` }))),
)
watch(
  () => f.model,
  () => ((f.part = ''), (f.unit = '')),
)
const wrong = reactive({ release: '', due: '' })
function time(field: 'release' | 'due') {
  wrong[field] = ''
  if (!f[field].trim()) return 0
  const s = secondsOf(props.room.open, f[field])
  if (s === undefined) wrong[field] = 'a time after opening, such as 14:30'
  return s ?? 0
}
function submit() {
  const release = time('release')
  const due = time('due')
  if (wrong.release || wrong.due) return
  void send((_, header) =>
    take(
      api.POST('/api/day-jobs', {
        params: { header },
        body: {
          id,
          day: `${props.room.date}T00:00:00Z`,
          title: f.title.trim(),
          for_model_id: f.model,
          part_id: f.part,
          unit_id: f.unit,
          text: f.text.trim(),
          release,
          due,
          weight: f.weight,
        },
      }),
    ),
  )
}
</script>

<template>
  <FormDialog
    title="A job for this day"
    :width="600"
    :busy="busy"
    :problem="problem"
    :mine="mine"
    @close="emit('close')"
    @theirs="theirs"
    @submit="submit"
  >
    <ElFormItem label="What stands on its tray (no names of people)" :error="fieldError(problem, 'title')">
      <ElInput v-model="f.title" maxlength="60" placeholder="AMBER" />
    </ElFormItem>
    <div class="two">
      <ElFormItem label="Model" :error="fieldError(problem, 'for_model_id')">
        <ModelSelect v-model="f.model" label="Model of the job" />
      </ElFormItem>
      <ElFormItem label="The way leads to" :error="fieldError(problem, 'part_id')">
        <ElSelect v-model="f.part" :teleported="false" filterable default-first-option aria-label="The way leads to">
          <ElOption v-for="p in know?.parts ?? []" :key="p.id" :value="p.id" :label="p.name" />
        </ElSelect>
      </ElFormItem>
      <ElFormItem label="Phone whose strip log counts" :error="fieldError(problem, 'unit_id')">
        <ElSelect v-model="f.unit" :teleported="false" clearable aria-label="Phone whose strip log counts">
          <ElOption v-for="u in units" :key="u.id" :value="u.id" :label="u.name" />
        </ElSelect>
      </ElFormItem>
      <ElFormItem label="Weight of a minute late" :error="fieldError(problem, 'weight')">
        <ElInputNumber
          v-model="f.weight"
          :min="0"
          :max="100"
          :controls="false"
          aria-label="Weight"
          style="width: 100%"
        />
      </ElFormItem>
      <ElFormItem label="There from" :error="wrong.release || fieldError(problem, 'release')">
        <ElInput v-model="f.release" maxlength="5" placeholder="as the day opens" />
      </ElFormItem>
      <ElFormItem label="Due at" :error="wrong.due || fieldError(problem, 'due')">
        <ElInput v-model="f.due" maxlength="5" placeholder="by closing time" />
      </ElFormItem>
    </div>
    <ElFormItem
      label="Or its operations: name, minutes, then hands or a machine, its tray; one a line"
      :error="fieldError(problem, 'ops')"
    >
      <ElInput
        v-model="f.text"
        type="textarea"
        :rows="4"
        maxlength="2000"
        :placeholder="'heat 5-8 plate\nopen 10 hands within 60\ncure 15-20 clamp\ncheck 4 hands'"
      />
    </ElFormItem>
  </FormDialog>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  column-gap: 14px;
}
@media (max-width: 600px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
