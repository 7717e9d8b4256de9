<script setup lang="ts">
import { verdictWords } from './words'

/** A verdict by word and shape: never by colour alone. `drawn`: what stands around it says the word already. */
defineProps<{ mark: string; short?: boolean; drawn?: boolean }>()
</script>

<template>
  <span class="verdict" :class="mark.replaceAll(' ', '-')">
    <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden="true">
      <circle v-if="mark === 'works'" cx="7" cy="7" r="5.5" fill="currentColor" />
      <template v-else-if="mark === 'loses'">
        <circle cx="7" cy="7" r="5.5" fill="none" stroke="currentColor" stroke-width="1.6" />
        <path d="M7 1.5a5.5 5.5 0 0 1 0 11z" fill="currentColor" />
      </template>
      <circle
        v-else-if="mark === 'works with notice'"
        cx="7"
        cy="7"
        r="4.8"
        fill="none"
        stroke="currentColor"
        stroke-width="2.2"
      />
      <template v-else-if="mark === 'works once calibrated'">
        <circle cx="7" cy="7" r="5.6" fill="none" stroke="currentColor" stroke-width="1.4" />
        <path d="M4 7l2.2 2.4L10 5" fill="none" stroke="currentColor" stroke-width="1.6" />
      </template>
      <path v-else-if="mark === 'dead'" d="M2 2l10 10M12 2 2 12" stroke="currentColor" stroke-width="2" />
      <rect v-else-if="mark === 'does not seat'" x="2" y="2" width="10" height="10" fill="currentColor" />
      <template v-else-if="mark === 'not settled'">
        <circle cx="7" cy="7" r="5.2" fill="none" stroke="currentColor" stroke-width="1.4" stroke-dasharray="2.4 2" />
      </template>
      <circle v-else cx="7" cy="7" r="2" fill="currentColor" />
    </svg>
    <span v-if="!drawn" :class="{ hidden: short }">{{ verdictWords(mark) }}</span>
  </span>
</template>

<style scoped>
.verdict {
  display: inline-flex;
  gap: 5px;
  align-items: center;
  position: relative;
}
.loses {
  color: var(--amber);
}
.dead {
  color: var(--brick);
}
.untested {
  color: var(--quiet);
}
</style>
