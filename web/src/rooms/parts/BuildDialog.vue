<script setup lang="ts">
import { ElFormItem, ElOption, ElSelect } from 'element-plus'
import { ref } from 'vue'

import { api, take } from '../../api/client'
import FormDialog from '../../shared/FormDialog.vue'
import ModelSelect from '../../shared/ModelSelect.vue'
import { fieldError, useChange } from '../../shared/useChange'

/** Puts what a job or a whole build of a model takes on the list of needs. */
const emit = defineEmits<{ close: [] }>()
const jobs = ['build', 'battery', 'screen', 'back-glass', 'port', 'camera'] as const
const model = ref('')
const job = ref<(typeof jobs)[number]>('build')
const { problem, busy, mine, theirs, send } = useChange(() => emit('close'))
const submit = () =>
  send((_, header) =>
    take(
      api.POST('/api/models/{id}/needs', { params: { path: { id: model.value }, header }, body: { job: job.value } }),
    ),
  )
</script>

<template>
  <FormDialog
    title="What a build takes"
    save="Put it on the list"
    :busy="busy"
    :ready="Boolean(model)"
    :problem="problem"
    :mine="mine"
    @close="emit('close')"
    @theirs="theirs"
    @submit="submit"
  >
    <ElFormItem label="Model">
      <ModelSelect v-model="model" label="Which model is built" />
    </ElFormItem>
    <ElFormItem label="For" :error="fieldError(problem, 'job')">
      <ElSelect v-model="job" :teleported="false" aria-label="For what it is built">
        <ElOption
          v-for="j in jobs"
          :key="j"
          :value="j"
          :label="j === 'build' ? 'a whole build' : `${j.replace('-', ' ')} job`"
        />
      </ElSelect>
    </ElFormItem>
  </FormDialog>
</template>
