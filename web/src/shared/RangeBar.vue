<script setup lang="ts">
import { computed } from 'vue'

import { range } from './format'

/** A range on its scale: the band is what may be. */
const props = defineProps<{ low: number; high: number; scale: [number, number]; label: string }>()
const at = (x: number) => (100 * (x - props.scale[0])) / (props.scale[1] - props.scale[0] || 1)
const left = computed(() => at(props.low))
const width = computed(() => Math.max(2, at(props.high) - left.value))
</script>

<template>
  <span class="range" role="img" :aria-label="`${label}: ${range(low, high)}`">
    <span class="label">{{ label }}</span>
    <svg viewBox="0 0 100 10" preserveAspectRatio="none" aria-hidden="true">
      <path d="M0.5 3V7H99.5V3M50 5V7" />
      <rect :x="left" y="1" :width="width" height="5" />
    </svg>
    <span class="fig">{{ range(low, high) }}</span>
  </span>
</template>

<style scoped>
.range {
  display: grid;
  grid-template-columns: 92px minmax(40px, 1fr) 66px;
  gap: 8px;
  align-items: center;
  line-height: 18px;
}
.label {
  color: var(--quiet);
  font-size: 15px;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.fig {
  font-size: 14px;
  white-space: nowrap;
}
svg {
  width: 100%;
  height: 10px;
}
path {
  fill: none;
  stroke: var(--strong-line);
  vector-effect: non-scaling-stroke;
}
rect {
  fill: var(--pine-wash);
  stroke: var(--pine);
  vector-effect: non-scaling-stroke;
}
</style>
