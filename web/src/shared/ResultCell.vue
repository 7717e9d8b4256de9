<script setup lang="ts">
import { say } from '../words'
import { jumping } from './keys'

/** One cell of a check: the result by word and shape; p, w, l, s, d set it. Assumed is hollow and no pass. */
const props = defineProps<{ result?: string; assumed?: boolean; label: string; disabled?: boolean }>()
const emit = defineEmits<{ set: [result: Result]; move: [by: number] }>()
export type Result = 'pass' | 'weak' | 'lost' | 'skipped' | 'dark'
const keys: Record<string, Result> = { p: 'pass', w: 'weak', l: 'lost', s: 'skipped', d: 'dark' }
const cycle: Result[] = ['pass', 'lost', 'weak', 'skipped', 'dark']
function key(e: KeyboardEvent) {
  if (e.ctrlKey || e.metaKey || e.altKey || jumping()) return
  const r = keys[e.key]
  if (r && !props.disabled) {
    e.preventDefault()
    e.stopPropagation()
    emit('set', r)
    emit('move', 1)
  } else if (e.key === 'ArrowDown' || e.key === 'ArrowUp') {
    e.preventDefault()
    emit('move', e.key === 'ArrowDown' ? 1 : -1)
  }
}
const next = () => !props.disabled && emit('set', cycle[(cycle.indexOf(props.result as Result) + 1) % cycle.length]!)
</script>

<template>
  <button
    class="cell"
    :class="[result, { assumed }]"
    :disabled="disabled"
    :aria-label="`${label}: ${assumed ? 'assumed' : say('result', result) || 'untested'}`"
    @keydown="key"
    @click="next"
  >
    <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden="true">
      <circle v-if="result === 'pass'" cx="7" cy="7" r="5" :class="{ solid: !assumed }" />
      <path v-else-if="result === 'weak'" d="M2 7q2.5-4 5 0t5 0" />
      <path v-else-if="result === 'lost'" d="M2.5 2.5l9 9M11.5 2.5l-9 9" class="thick" />
      <path v-else-if="result === 'skipped'" d="M3 7h8" />
      <rect v-else-if="result === 'dark'" x="2.5" y="2.5" width="9" height="9" class="solid" />
      <circle v-else cx="7" cy="7" r="1.4" class="solid" />
    </svg>
    {{ assumed ? 'assumed' : say('result', result) || 'untested' }}
  </button>
</template>

<style scoped>
.cell {
  font: inherit;
  font-size: 14px;
  display: inline-flex;
  gap: 7px;
  align-items: center;
  min-width: 104px;
  min-height: 32px;
  padding: 2px 8px;
  color: var(--quiet);
  background: none;
  border: 1px solid var(--line);
  border-radius: 2px;
  cursor: pointer;
}
.cell:disabled {
  cursor: default;
  border-color: transparent;
}
.pass:not(.assumed),
.skipped,
.dark {
  color: var(--ink);
}
.weak {
  color: var(--amber);
}
.lost {
  color: var(--brick);
  font-weight: 600;
}
circle,
path,
rect {
  fill: none;
  stroke: currentColor;
  stroke-width: 1.6;
}
.thick {
  stroke-width: 2.2;
}
.solid {
  fill: currentColor;
}
</style>
