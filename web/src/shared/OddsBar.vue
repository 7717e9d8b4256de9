<script setup lang="ts">
import { percent } from './format'

/** A chance as a bar, with its figure beside it. */
defineProps<{ p: number }>()
</script>

<template>
  <span class="bar" aria-hidden="true"><i :style="{ width: `${100 * p}%` }"></i></span>
  <span class="fig">{{ percent(p) }}</span>
</template>

<style scoped>
.bar {
  height: 8px;
  background: var(--wash);
  border: 1px solid var(--strong-line);
}
.bar i {
  display: block;
  height: 100%;
  background: var(--amber-fill);
}
</style>
