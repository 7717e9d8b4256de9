<script setup lang="ts">
import type { Schemas } from '../../api/client'
import { act, toolOf } from '../../words'

/** Eight large tiles with the likeliest next facts; the number keys log them. */
defineProps<{ next: Schemas['StripNextStep'][]; steps: Map<string, Schemas['PlanStep']>; writes: boolean }>()
defineEmits<{ tile: [next: Schemas['StripNextStep']] }>()
</script>

<template>
  <div class="pad">
    <button v-for="(n, i) in next" :key="n.step_id ?? i" class="tile" :disabled="!writes" @click="$emit('tile', n)">
      <span class="keys">{{ i + 1 }}</span>
      <b>{{ act((n.facts ?? steps.get(n.step_id!))?.verb ?? '', (n.facts ?? steps.get(n.step_id!))?.what) }}</b>
      {{ (n.facts ?? steps.get(n.step_id!))?.what }}
      <small>{{ toolOf(n.facts ?? steps.get(n.step_id!)) }}</small>
      <small v-if="n.from">as on {{ n.from }}</small>
      <small v-if="n.cautions.length" class="look">{{ n.cautions[0]!.text }}</small>
    </button>
  </div>
</template>

<style scoped>
.pad {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(230px, 100%), 1fr));
  gap: 8px;
  margin-bottom: 12px;
}
.tile {
  font: inherit;
  text-align: left;
  min-height: 88px;
  padding: 8px 10px;
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--strong-line);
  border-radius: 2px;
  cursor: pointer;
  overflow-wrap: anywhere;
}
.tile b {
  display: inline-block;
}
.tile b::first-letter {
  text-transform: uppercase;
}
.tile:first-child {
  border: 2px solid var(--pine);
}
.tile:disabled {
  cursor: default;
  color: var(--quiet);
}
.tile small {
  display: block;
  color: var(--quiet);
}
.tile small.look {
  color: var(--amber);
}
.keys {
  margin-right: 6px;
}
</style>
