<script setup lang="ts">
import { ElButton, ElCheckbox, ElFormItem, ElInput } from 'element-plus'
import { computed, reactive, watch } from 'vue'
import { useRouter } from 'vue-router'

import { api, newId, take, type Schemas } from '../../api/client'
import FormDialog from '../../shared/FormDialog.vue'
import ModelSelect from '../../shared/ModelSelect.vue'
import { fieldError, useChange } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'
import QuickChecks from './QuickChecks.vue'

/** A phone that comes in: nothing about its owner but a ticket number and what they said; how it works now; what they agreed to. */
const props = defineProps<{
  model?: { id: string; name: string }
  part?: { id: string; name: string }
  /** It is taken against the advice: why is asked. */
  against?: boolean
}>()
const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const id = newId()
const names = ['TEAL', 'STONE', 'OCHRE', 'PLUM', 'MOSS', 'SAND', 'CORAL', 'FROST', 'THRIFT', 'KELP']
const { room: here } = useRoom(['visits'], () => api.GET('/api/visits'))
const facts = reactive({
  model: props.model?.id ?? '',
  sticker: '',
  ticket: '',
  said: '',
  why: '',
  arrival: {} as Record<string, 'pass' | 'lost'>,
  consents: { data: false, water: false, seal: false },
})
watch(
  here,
  (list) => {
    if (list && !facts.sticker) facts.sticker = names.find((n) => !list.some((l) => l.sticker === n)) ?? ''
  },
  { immediate: true },
)
const { problem, busy, mine, theirs, save } = useChange()
const ready = computed(() => Boolean(facts.model && facts.sticker.trim() && (!props.against || facts.why.trim())))
async function submit() {
  const made = await save((_, header) =>
    take(
      api.POST('/api/visits', {
        params: { header },
        body: {
          id,
          for_model_id: facts.model,
          part_id: props.part?.id,
          sticker: facts.sticker.trim(),
          ticket: facts.ticket.trim() || undefined,
          said: facts.said.trim() || undefined,
          arrival: facts.arrival,
          consents: facts.consents,
          why: facts.why.trim() || undefined,
          state: 'in',
        },
      }),
    ),
  )
  if (!made) return
  await router.push({ name: 'visit', params: { id: (made as Schemas['Visit']).id } })
  emit('close')
}
const agreed = [
  ['data', 'Data may be lost: backed up, or not needed'],
  ['water', 'The phone no longer keeps water out as before'],
  ['seal', 'The edge is not sealed as new'],
] as const
</script>

<template>
  <FormDialog
    :title="part ? `A phone comes in: ${model?.name ?? ''}, ${part.name}` : 'A phone comes in'"
    save="Take it in"
    :width="640"
    :ready="ready"
    :busy="busy"
    :problem="problem"
    :mine="mine"
    @close="emit('close')"
    @theirs="theirs"
    @submit="submit"
  >
    <ElFormItem v-if="!model" label="Model" :error="fieldError(problem, 'for_model_id')">
      <ModelSelect v-model="facts.model" label="Model" />
    </ElFormItem>
    <div class="row">
      <ElFormItem label="Sticker on the phone" :error="fieldError(problem, 'sticker')">
        <ElInput v-model="facts.sticker" maxlength="20" />
      </ElFormItem>
      <ElFormItem label="Ticket number, no names" :error="fieldError(problem, 'ticket')">
        <ElInput v-model="facts.ticket" maxlength="40" placeholder="217" />
      </ElFormItem>
    </div>
    <ElFormItem label="What the customer says" :error="fieldError(problem, 'said')">
      <ElInput v-model="facts.said" maxlength="400" placeholder="empty by noon, since the summer" />
    </ElFormItem>
    <ElFormItem v-if="against" label="Why it is taken all the same" :error="fieldError(problem, 'why')">
      <ElInput v-model="facts.why" maxlength="300" />
    </ElFormItem>
    <QuickChecks v-model="facts.arrival" />
    <fieldset>
      <legend>The customer agrees</legend>
      <ElCheckbox v-for="[key, text] in agreed" :key="key" v-model="facts.consents[key]">{{ text }}</ElCheckbox>
    </fieldset>
    <template #buttons>
      <ElButton @click="emit('close')">Not now</ElButton>
    </template>
  </FormDialog>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 0 0 14px;
}
legend {
  font-weight: 600;
  padding: 0;
}
.el-checkbox {
  display: flex;
  height: auto;
  min-height: 30px;
  white-space: normal;
  margin-right: 0;
}
</style>
