<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'

import type { Problem } from '../api/client'

/** What was refused and why; on a conflict both sides, and the choice. */
const props = defineProps<{ problem?: Problem; mine?: () => Promise<unknown> }>()
defineEmits<{ theirs: [] }>()
const hiddenKeys = ['id', 'version', 'study_id', 'model_id', 'unit_id']
const current = computed(() =>
  Object.entries((props.problem?.current as Record<string, unknown>) ?? {}).filter(
    ([k, v]) => !hiddenKeys.includes(k) && typeof v !== 'object',
  ),
)
</script>

<template>
  <div v-if="problem" class="problem" role="alert">
    <b>{{ problem.title }}.</b>
    {{ problem.detail }}
    <ul v-if="problem.errors && problem.errors.length > 1" class="plain">
      <li v-for="e in problem.errors" :key="e.location">
        <span class="fig">{{ e.location.replace(/^body\./, '') }}</span>
        {{ e.message }}
      </li>
    </ul>
    <template v-if="current.length">
      <p class="theirs">
        Theirs:
        <span v-for="[k, v] in current" :key="k">
          {{ k.replaceAll('_', ' ') }}
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
