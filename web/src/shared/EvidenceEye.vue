<script setup lang="ts">
import { say } from '../words'

/**
 * How sure are we? Shut: nothing seen; half: inferred or seen once; open: all conditions hold. `drawn`: what stands
 * around it says it in words already.
 */
const props = defineProps<{ state: 'shut' | 'half' | 'open'; size?: number; label?: string; drawn?: boolean }>()
const title = () => props.label ?? say('eye', props.state)
</script>

<template>
  <svg
    class="eye"
    :width="size ?? 22"
    :height="(size ?? 22) * 0.7"
    viewBox="0 0 30 21"
    :role="drawn ? undefined : 'img'"
    :aria-label="drawn ? undefined : title()"
    :aria-hidden="drawn || undefined"
  >
    <title v-if="!drawn">{{ title() }}</title>
    <path v-if="state === 'shut'" class="line" d="M3 9q12 9 24 0M7 12l-2 4M15 14v5M23 12l2 4" />
    <template v-else>
      <path class="line" :d="state === 'open' ? 'M2 11q13-14 26 0-13 13-26 0z' : 'M2 11h26q-13 12-26 0z'" />
      <path v-if="state === 'half'" class="line" d="M4 8q11-4 22 0" />
      <circle v-if="state === 'open'" class="pupil" cx="15" cy="10.6" r="4.6" />
      <path v-else class="pupil" d="M10.4 11a4.6 4.6 0 0 0 9.2 0z" />
    </template>
  </svg>
</template>

<style scoped>
.eye {
  flex: none;
  vertical-align: -2px;
}
.line {
  fill: none;
  stroke: currentColor;
  stroke-width: 2;
  stroke-linecap: round;
  stroke-linejoin: round;
}
.pupil {
  fill: currentColor;
}
</style>
