<script setup lang="ts">
import VerdictMark from '../../shared/VerdictMark.vue'

/** How far a piece gets, by the shapes of the verdicts, with its own word. */
defineProps<{ level: string; short?: boolean }>()
const shapes: Record<string, string> = {
  'no-seat': 'does not seat',
  'no-mate': 'does not seat',
  dark: 'dead',
  lost: 'loses',
  notice: 'works with notice',
  calibrated: 'works once calibrated',
  'looks-wrong': 'works with notice',
  full: 'works',
}
const words: Record<string, string> = {
  'no-seat': 'does not seat',
  'no-mate': 'does not mate',
  dark: 'stays dark',
  lost: 'loses functions',
  notice: 'works, notice',
  calibrated: 'works once calibrated',
  'looks-wrong': 'looks wrong',
  full: 'works in full',
}
</script>

<template>
  <span class="mark">
    <VerdictMark :mark="shapes[level] ?? 'untested'" drawn />
    <span :class="{ hidden: short }">{{ words[level] ?? level }}</span>
  </span>
</template>

<style scoped>
.mark {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
</style>
