<script setup lang="ts">
import { ElFormItem, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, ref, watch } from 'vue'
import { useRouter } from 'vue-router'

import { api, newId, once, take } from '../../api/client'
import FormDialog from '../../shared/FormDialog.vue'
import ModelSelect from '../../shared/ModelSelect.vue'
import { fieldError, useChange } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'

const open = defineModel<boolean>({ required: true })
const router = useRouter()
const typed = ref('')
/** A short list is searched here, one that goes on is searched by the server. */
const many = ref(false)
const { room: models } = useRoom(
  () => ['models', typed.value],
  () => api.GET('/api/models', { params: { query: { q: typed.value } } }),
)
const { problem, busy, save } = useChange()
const model = ref('')
watch(models, (list) => {
  many.value ||= list?.length === 50
  if (list && !list.length && !typed.value) model.value ||= 'new' // nothing to choose from: it is a new one
})
const study = reactive({ title: '', variant: '' })
/** A question to start from: its part and check are found in the words, and the swaps are weighed for it first. */
const question = ref('')
const fresh = reactive({
  maker: '',
  name: '',
  entry: 'front' as 'front' | 'back' | 'dual',
  width_mm: 72,
  height_mm: 150,
})
/** A study is called by its model and the day until somebody calls it otherwise. */
const called = computed(() => {
  const name = models.value?.find((m) => m.id === model.value)?.name ?? fresh.name
  return name && `${name}, ${new Date().toLocaleDateString('sv')}`
})
watch(called, (now, before) => {
  if (!study.title || study.title === before) study.title = now
})
// The ids stay the same while the form is open, so that sending it twice makes one study.
let ids = { study: newId(), model: newId() }
let keys = { study: once(), model: once(), from: once() }
/** A model whose parts and plan the new one starts from. */
const from = ref('')
watch(open, (now) => {
  if (now) {
    ids = { study: newId(), model: newId() }
    keys = { study: once(), model: once(), from: once() }
  }
})
async function create() {
  const made = await save(async () => {
    let id = model.value
    if (id === 'new') {
      id = ids.model
      await take(api.POST('/api/models', { params: { header: keys.model }, body: { id, ...fresh } }))
      if (from.value)
        await take(
          api.POST('/api/models/{id}/start-from', {
            params: { path: { id }, header: keys.from },
            body: { from: from.value },
          }),
        )
      keys.model = once()
      keys.from = once()
      model.value = id
    }
    return take(
      api.POST('/api/studies', {
        params: { header: keys.study },
        body: {
          id: ids.study,
          model_id: id,
          ...study,
          ...(question.value.trim()
            ? { hypotheses: [{ text: question.value.trim(), source: 'rumour' as const, state: 'open' as const }] }
            : {}),
        },
      }),
    )
  })
  keys = { ...keys, study: once() }
  if (!made) return
  open.value = false
  await router.push({ name: 'intake', params: { id: made.id } })
}
</script>

<template>
  <FormDialog
    v-if="open"
    title="New study"
    :width="520"
    save="Open the study"
    :ready="!(!model || !study.title)"
    :busy="busy"
    :problem="problem"
    @close="open = false"
    @submit="create"
  >
    <ElFormItem label="Model">
      <ElSelect
        v-model="model"
        :teleported="false"
        aria-label="Model"
        placeholder="Which phone?"
        filterable
        :remote="many"
        :remote-method="many ? (q: string) => (typed = q) : undefined"
        default-first-option
      >
        <ElOption v-if="!typed" label="A model that is not on record yet" value="new" />
        <ElOption v-for="m in models" :key="m.id" :label="`${m.maker} ${m.name}`" :value="m.id" />
        <ElOption v-if="typed" label="A model that is not on record yet" value="new" />
      </ElSelect>
    </ElFormItem>
    <template v-if="model === 'new'">
      <ElFormItem label="Maker" :error="fieldError(problem, 'maker')">
        <ElInput v-model="fresh.maker" maxlength="80" />
      </ElFormItem>
      <ElFormItem label="Name of the model" :error="fieldError(problem, 'name')">
        <ElInput v-model="fresh.name" maxlength="80" />
      </ElFormItem>
      <ElFormItem label="Opens from the">
        <ElSelect v-model="fresh.entry" :teleported="false" aria-label="Opens from the">
          <ElOption value="front" label="front" />
          <ElOption value="back" label="back" />
          <ElOption value="dual" label="front or back" />
        </ElSelect>
      </ElFormItem>
      <ElFormItem label="Starts from its predecessor" :error="fieldError(problem, 'from')">
        <ModelSelect v-model="from" label="Starts from its predecessor" />
        <p v-if="from" class="quiet">
          Parts, places and plan are copied as inferred by look; each is confirmed or changed as it is met.
        </p>
      </ElFormItem>
      <div class="row">
        <ElFormItem label="Width, mm">
          <ElInputNumber v-model="fresh.width_mm" :min="10" :max="400" aria-label="Width, mm" />
        </ElFormItem>
        <ElFormItem label="Height, mm">
          <ElInputNumber v-model="fresh.height_mm" :min="10" :max="400" aria-label="Height, mm" />
        </ElFormItem>
      </div>
    </template>
    <ElFormItem label="Title of the study" :error="fieldError(problem, 'title')">
      <ElInput v-model="study.title" name="title" maxlength="160" />
    </ElFormItem>
    <ElFormItem label="A question to settle, if there is one" :error="fieldError(problem, 'hypotheses')">
      <ElInput v-model="question" maxlength="300" placeholder="does another screen lose face unlock?" />
    </ElFormItem>
    <ElFormItem label="Region variant" :error="fieldError(problem, 'variant')">
      <ElInput v-model="study.variant" maxlength="80" />
    </ElFormItem>
  </FormDialog>
</template>
