<script setup lang="ts">
import { ElButton } from 'element-plus'

import type { Schemas } from '../../api/client'
import { moment } from '../../shared/locale'

/** Open sign-ins, and the end of each. */
defineProps<{ list: readonly Schemas['AccountSignedIn'][] }>()
const emit = defineEmits<{ end: [id: string] }>()
/** What a browser says of itself, shortened to what people tell devices apart by. */
function device(agent: string) {
  if (!agent) return 'a program'
  return /Mobi|Tablet/.test(agent) ? 'a browser on a phone or tablet' : 'a browser on a computer'
}
</script>

<template>
  <ul class="plain">
    <li v-for="s in list" :key="s.id" class="row">
      <span>
        {{ device(s.agent) }}
        <span class="quiet">{{ `since ${moment(s.started)}, seen ${moment(s.seen)}` }}</span>
      </span>
      <b v-if="s.here">this one</b>
      <ElButton v-else :aria-label="`End the sign-in of ${moment(s.started)}`" @click="emit('end', s.id)">
        End it
      </ElButton>
    </li>
    <li v-if="!list.length" class="quiet">No open sign-in.</li>
  </ul>
</template>

<style scoped>
li {
  justify-content: space-between;
}
</style>
