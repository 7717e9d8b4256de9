<script setup lang="ts">
import { minutes as said } from './format'

/** Minutes as a bar on a scale that all rows share; hollow where they are an estimate. */
defineProps<{ minutes: number; most: number; estimate?: boolean; label: string }>()
</script>

<template>
  <span
    class="minutes"
    role="img"
    :aria-label="`${label}: ${minutes ? said(Math.round(minutes)) + (estimate ? ', an estimate' : '') : 'no way in recorded'}`"
  >
    <span class="fig">{{ minutes ? Math.round(minutes) : '–' }}</span>
    <svg v-if="minutes" viewBox="0 0 100 8" preserveAspectRatio="none" aria-hidden="true">
      <rect x="0" y="0" width="100" height="8" class="scale" />
      <rect x="0.7" y="0.5" :width="(99 * minutes) / most" height="7" :class="{ estimate }" />
    </svg>
  </span>
</template>

<style scoped>
.minutes {
  display: flex;
  flex-direction: column;
  align-items: flex-end;
  width: 56px;
}
.fig {
  line-height: 22px;
}
svg {
  width: 100%;
  height: 8px;
}
rect {
  fill: var(--pine);
}
.scale {
  fill: var(--wash);
}
rect.estimate {
  fill: var(--ground);
  stroke: var(--pine);
  stroke-width: 1;
  stroke-dasharray: 3 2;
  vector-effect: non-scaling-stroke;
}
@media (max-width: 600px) {
  .minutes {
    width: 110px;
  }
}
</style>
