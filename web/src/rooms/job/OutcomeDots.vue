<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '../../api/client'
import { minutes } from '../../shared/format'

/** Earlier repairs as dots on their minutes; a cross is one in which something was damaged, a ring one that does not count. */
const props = defineProps<{ outcomes: Schemas['JobOutcomeView'][]; usual?: number }>()
const ends = computed(() => {
  const all = [...props.outcomes.map((o) => o.minutes), props.usual || props.outcomes[0]!.minutes]
  const [low, high] = [Math.min(...all), Math.max(...all)]
  const pad = Math.max(3, (high - low) * 0.1)
  return [Math.max(0, Math.floor(low - pad)), Math.ceil(high + pad)] as const
})
const x = (m: number) => (100 * (m - ends.value[0])) / (ends.value[1] - ends.value[0])
const counted = computed(() =>
  props.outcomes
    .filter((o) => !o.doubt && o.went === 'fine')
    .map((o) => o.minutes)
    .sort((a, b) => a - b),
)
const middle = computed(() => counted.value[Math.floor((counted.value.length - 1) / 2)])
const few = computed(() => counted.value.length < 5)
const bad = computed(() => props.outcomes.filter((o) => o.went !== 'fine'))
</script>

<template>
  <div>
    <svg
      viewBox="-3 0 106 22"
      role="img"
      :aria-label="outcomes.map((o) => `${minutes(o.minutes)} ${o.went}`).join(', ')"
    >
      <path d="M0 16H100" class="axis" />
      <path v-if="usual" :d="`M${x(usual)} 3V16`" class="usual" />
      <g v-for="(o, i) in outcomes" :key="o.id" :transform="`translate(${x(o.minutes)} ${11 - (i % 2) * 3})`">
        <path v-if="o.went === 'incident' || o.went === 'tab broke'" d="M-2-2 2 2M-2 2 2-2" class="cross" />
        <circle v-else r="1.8" :class="{ ring: o.doubt || o.went === 'gave up' }" />
      </g>
      <text x="0" y="21.5">{{ ends[0] }}</text>
      <text x="100" y="21.5" text-anchor="end">{{ ends[1] }}</text>
    </svg>
    <p>
      <template v-if="few">
        {{ counted.length === 1 ? '1 repair' : `${counted.length} repairs` }}: too few to say what is usual.
      </template>
      <template v-else>Middle {{ minutes(middle ?? 0) }}.</template>
      <template v-if="bad.length">
        {{ ' ' }}{{ bad.length }} did not go well{{ bad[0]!.note ? `: ${bad[0]!.note}` : '' }}.
      </template>
    </p>
    <details>
      <summary>notes</summary>
      <ul class="plain">
        <li v-for="o in outcomes" :key="o.id">
          <b class="fig">{{ minutes(o.minutes) }}</b>
          , {{ o.went }}{{ o.doubt ? ', does not count' : '' }}
          <span class="quiet">{{ o.who }}</span>
          <br v-if="o.note" />
          {{ o.note }}
        </li>
      </ul>
    </details>
  </div>
</template>

<style scoped>
svg {
  width: 100%;
}
.axis,
.usual {
  stroke: var(--ink);
  stroke-width: 0.4;
}
.usual {
  stroke-width: 0.8;
}
circle {
  fill: var(--pine);
}
.ring {
  fill: none;
  stroke: var(--pine);
  stroke-width: 0.6;
}
.cross {
  stroke: var(--brick);
  stroke-width: 0.8;
}
text {
  font-size: 4.6px;
  fill: var(--quiet);
}
</style>
