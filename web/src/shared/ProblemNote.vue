<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'

import type { Problem } from '../api/client'
import { fieldName, plainly } from '../words'

/** What was refused and why; on a conflict both sides, and the choice. */
const props = defineProps<{ problem?: Problem; mine?: () => Promise<unknown> }>()
defineEmits<{ theirs: [] }>()
const hiddenKeys = ['id', 'version', 'study_id', 'model_id', 'unit_id']
/** What was refused by the name of its field on the form, and what is allowed there. */
const named = computed(() =>
  (props.problem?.errors ?? []).flatMap((e) => {
    const name = fieldName(e.location)
    if (!name) return []
    const found = typeof e.value === 'string' || typeof e.value === 'number' ? `${e.value}`.trim() : ''
    return `${name}${found ? ` “${found}”` : ''}: ${plainly(e.message)}.`
  }),
)
const current = computed(() =>
  Object.entries((props.problem?.current as Record<string, unknown>) ?? {}).filter(
    ([k, v]) => !hiddenKeys.includes(k) && typeof v !== 'object',
  ),
)
</script>

<template>
  <div v-if="problem" class="problem" role="alert">
    <b>{{ problem.title === 'Unprocessable Entity' ? 'Not accepted' : problem.title }}.</b>
    <template v-if="!named.length">{{ problem.detail }}</template>
    <template v-else-if="named.length === 1">{{ named[0] }}</template>
    <ul v-else class="plain">
      <li v-for="e in named" :key="e">{{ e }}</li>
    </ul>
    <template v-if="current.length">
      <p class="theirs">
        Theirs:
        <span v-for="[k, v] in current" :key="k">
          {{ fieldName(k) }}
          <b>{{ v === '' ? '—' : v }}</b>
          ;
        </span>
      </p>
      <div class="row">
        <ElButton type="primary" @click="mine?.()">Use mine</ElButton>
        <ElButton @click="$emit('theirs')">Keep theirs</ElButton>
      </div>
    </template>
  </div>
</template>

<style scoped>
.problem {
  border-left: 4px solid var(--brick);
  background: var(--brick-wash);
  padding: 10px 12px;
  margin: 8px 0;
}
.theirs {
  margin-top: 6px;
}
</style>
