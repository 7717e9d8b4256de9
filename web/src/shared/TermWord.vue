<script setup lang="ts">
import { ElPopover } from 'element-plus'
import { computed } from 'vue'

import { useTrade } from './useTrade'

/** A word of the trade that explains itself on tap. A word that the vocabulary does not know is plain text. */
const props = defineProps<{ word: string; of?: string }>()
const { trade } = useTrade()
const term = computed(() => trade.value.terms.find((t) => t.word === (props.of ?? props.word.split('@')[0])))
</script>

<template>
  <ElPopover v-if="term" trigger="click" :width="280" :content="term.means" :teleported="false">
    <template #reference>
      <button type="button" class="term" :aria-label="`${word}: what is that?`">{{ word }}</button>
    </template>
  </ElPopover>
  <template v-else>{{ word }}</template>
</template>

<style scoped>
.term {
  font: inherit;
  color: inherit;
  background: none;
  border: 0;
  border-bottom: 1px dotted var(--strong-line);
  padding: 0;
  cursor: help;
}
</style>
