<script setup lang="ts">
import { ElPopover } from 'element-plus'
import { computed } from 'vue'

import { say } from '../words'
import { useTrade } from './useTrade'

/** A word of the trade that explains itself on tap. A word that the vocabulary does not know is plain text. */
const props = defineProps<{ word: string; of?: string }>()
const words = computed(() => say('state', say('term', props.word)))
const { trade } = useTrade()
const term = computed(() => trade.value.terms.find((t) => t.word === (props.of ?? props.word.split('@')[0])))
</script>

<template>
  <ElPopover v-if="term" trigger="click" :width="280" :content="term.means" :teleported="false">
    <template #reference>
      <button type="button" class="term" :aria-label="`${words}: what is that?`">{{ words }}</button>
    </template>
  </ElPopover>
  <template v-else>{{ words }}</template>
</template>

<style scoped>
.term {
  font: inherit;
  color: inherit;
  background: none;
  border: 0;
  border-bottom: 1px dotted var(--strong-line);
  padding: 0;
  min-height: 24px;
  cursor: help;
}
</style>
