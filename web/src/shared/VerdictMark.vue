<script setup lang="ts">
import { say } from '../words'

/**
 * A verdict by word and shape: never by colour alone. `drawn`: what stands around it says the word already. With an `eye`
 * the mark is its pupil: two lids when it is proven, one when half, none when nothing was seen.
 */
defineProps<{ mark: string; short?: boolean; drawn?: boolean; eye?: 'shut' | 'half' | 'open' }>()
</script>

<template>
  <span class="verdict" :class="mark.replaceAll(' ', '-')">
    <svg :width="eye ? 26 : 14" :height="eye ? 18 : 14" :viewBox="eye ? '-6 -2 26 18' : '0 0 14 14'" aria-hidden="true">
      <path v-if="eye && eye !== 'shut'" class="lid" d="M-5 7q12 -14 24 0" />
      <path v-if="eye === 'open'" class="lid" d="M-5 7q12 14 24 0" />
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
      <path
        v-else-if="mark === 'intermittent'"
        d="M1 10V4h4v6h4V4h4v6"
        fill="none"
        stroke="currentColor"
        stroke-width="1.6"
      />
      <template v-else-if="mark === 'interaction'">
        <circle cx="4.8" cy="7" r="3.6" fill="none" stroke="currentColor" stroke-width="1.5" />
        <circle cx="9.2" cy="7" r="3.6" fill="none" stroke="currentColor" stroke-width="1.5" />
      </template>
      <template v-else-if="mark === 'not settled'">
        <circle cx="7" cy="7" r="5.2" fill="none" stroke="currentColor" stroke-width="1.4" stroke-dasharray="2.4 2" />
      </template>
      <circle v-else cx="7" cy="7" r="2" fill="currentColor" />
    </svg>
    <span v-if="!drawn" :class="{ hidden: short }">{{ say('verdict', mark) }}</span>
  </span>
</template>

<style scoped>
.lid {
  fill: none;
  stroke: currentColor;
  stroke-width: 1.2;
}
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
