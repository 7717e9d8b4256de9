<script setup lang="ts">
import VerdictMark from '../../shared/VerdictMark.vue'
import { say } from '../../words'

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
</script>

<template>
  <span class="mark">
    <VerdictMark :mark="shapes[level] ?? 'untested'" drawn />
    <span :class="{ hidden: short }">{{ say('level', level) }}</span>
  </span>
</template>

<style scoped>
.mark {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
</style>
