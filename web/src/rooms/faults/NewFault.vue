<script setup lang="ts">
import { ElFormItem, ElInput } from 'element-plus'
import { reactive } from 'vue'
import { useRouter } from 'vue-router'

import { api, newId, take } from '../../api/client'
import FormDialog from '../../shared/FormDialog.vue'
import ModelSelect from '../../shared/ModelSelect.vue'
import { fieldError, useChange } from '../../shared/useChange'

/** A phone that came in with a fault: model and a name for it are enough; nothing about its owner but a ticket number. */
const props = defineProps<{ model?: { id: string; name: string } }>()
const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const id = newId()
const visit = newId()
const facts = reactive({ model: props.model?.id ?? '', sticker: '', ticket: '', said: '' })
const { problem, busy, mine, theirs, save } = useChange()
async function submit() {
  const made = await save((_, header) =>
    take(
      api.POST('/api/faults', {
        params: { header },
        body: {
          id,
          visit_id: visit,
          for_model_id: facts.model,
          sticker: facts.sticker.trim(),
          ticket: facts.ticket.trim(),
          said: facts.said.trim(),
          state: 'in',
        },
      }),
    ),
  )
  if (!made) return
  emit('close')
  await router.push({ name: 'fault', params: { id: made.id } })
}
</script>

<template>
  <FormDialog
    title="A phone with a fault"
    save="Look for it"
    :ready="Boolean(facts.model && facts.sticker.trim())"
    :busy="busy"
    :problem="problem"
    :mine="mine"
    @close="emit('close')"
    @theirs="theirs"
    @submit="submit"
  >
    <ElFormItem label="Model" :error="fieldError(problem, 'for_model_id')">
      <ModelSelect v-model="facts.model" label="Model" :named="model" />
    </ElFormItem>
    <div class="row">
      <ElFormItem label="Sticker on the phone" :error="fieldError(problem, 'sticker')">
        <ElInput v-model="facts.sticker" maxlength="20" placeholder="STONE" />
      </ElFormItem>
      <ElFormItem label="Ticket number, no names" :error="fieldError(problem, 'ticket')">
        <ElInput v-model="facts.ticket" maxlength="40" placeholder="217" />
      </ElFormItem>
    </div>
    <ElFormItem label="What is wrong, as the owner says it" :error="fieldError(problem, 'said')">
      <ElInput v-model="facts.said" maxlength="400" placeholder="does not charge by cable, since Friday" />
    </ElFormItem>
  </FormDialog>
</template>
