<script setup lang="ts">
import { ElButton, ElFormItem, ElOption, ElSelect } from 'element-plus'
import { ref } from 'vue'

import { api, newId, take } from '../api/client'
import { lastMerge } from './merges'
import ProblemNote from './ProblemNote.vue'
import { useChange } from './useChange'

/** Two records of one thing: this one goes into the chosen one, its name stays as another name. */
const props = defineProps<{ kind: 'part' | 'model'; id: string; choices: { id: string; name: string }[] }>()
const emit = defineEmits<{ merged: [] }>()
const into = ref('')
const { problem, busy, mine, theirs, save } = useChange()
const merging = newId()
async function merge() {
  const done = await save((_, header) => {
    const change = { params: { path: { id: props.id }, header }, body: { id: merging, into: into.value } }
    return take(
      props.kind === 'part' ? api.POST('/api/parts/{id}/merge', change) : api.POST('/api/models/{id}/merge', change),
    )
  })
  if (!done) return
  lastMerge.value = done
  emit('merged')
}
</script>

<template>
  <ElFormItem :label="`The same ${kind} as, recorded twice`">
    <div class="row">
      <ElSelect
        v-model="into"
        :teleported="false"
        filterable
        default-first-option
        clearable
        :aria-label="`The same ${kind} as`"
        style="width: 210px"
      >
        <ElOption v-for="c in choices" :key="c.id" :value="c.id" :label="c.name" />
      </ElSelect>
      <ElButton v-if="into" :loading="busy" @click="merge">Merge into it</ElButton>
    </div>
    <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
  </ElFormItem>
</template>
