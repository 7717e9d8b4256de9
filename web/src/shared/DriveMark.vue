<script setup lang="ts">
import { computed } from 'vue'

/** The recess of a screw as it looks, with the length in mm beside it. */
const props = defineProps<{ drive?: string; length?: number }>()
const lobes = (n: number, deep: number) =>
  Array.from({ length: n * 2 }, (_, i) => {
    const a = (Math.PI * i) / n - Math.PI / 2
    const r = i % 2 ? deep : 4.6
    return `${(8 + r * Math.cos(a)).toFixed(2)} ${(8 + r * Math.sin(a)).toFixed(2)}`
  }).join('L')
const shape = computed(
  () =>
    ({
      'five-lobe': `M${lobes(5, 2.6)}z`,
      hexalobular: `M${lobes(6, 3)}z`,
      'tri-wing': 'M8 8V3.2M8 8l4.2 2.5M8 8l-4.2 2.5',
      cross: 'M8 3.4v9.2M3.4 8h9.2',
      slot: 'M3 8h10',
      post: 'M8 5a3 3 0 1 0 .01 0z',
    })[props.drive ?? ''],
)
</script>

<template>
  <span v-if="shape" class="drive">
    <svg width="18" height="18" viewBox="0 0 16 16" role="img" :aria-label="drive">
      <title>{{ drive }}</title>
      <circle cx="8" cy="8" r="7" />
      <path :d="shape" :class="{ solid: shape.endsWith('z') && drive !== 'post' }" />
    </svg>
    <span v-if="length" class="fig">{{ length }}</span>
  </span>
</template>

<style scoped>
.drive {
  display: inline-flex;
  gap: 4px;
  align-items: center;
  white-space: nowrap;
}
circle,
path {
  fill: none;
  stroke: currentColor;
  stroke-width: 1.3;
}
path {
  stroke-width: 1.8;
}
.solid {
  fill: currentColor;
  stroke: none;
}
</style>
