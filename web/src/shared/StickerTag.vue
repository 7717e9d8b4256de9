<script setup lang="ts">
/** A unit's sticker: colour, shape and name. */
defineProps<{ unit: { name: string; colour: string; shape: string } }>()
</script>

<template>
  <span class="sticker">
    <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden="true" :class="unit.colour">
      <circle v-if="unit.shape === 'circle'" cx="8" cy="8" r="6.5" />
      <rect v-else-if="unit.shape === 'square'" x="2" y="2" width="12" height="12" />
      <path v-else-if="unit.shape === 'triangle'" d="M8 1.5 15 14H1z" />
      <path v-else d="M8 1 15 8 8 15 1 8z" />
    </svg>
    <b>{{ unit.name }}</b>
  </span>
</template>

<style>
.sticker {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  letter-spacing: 0.02em;
}
.sticker svg,
.band {
  fill: var(--sticker);
  stroke: var(--ink);
  stroke-width: 1;
  flex: none;
}
.green {
  --sticker: #3f8a5b;
}
.amber {
  --sticker: #d98d1f;
}
.blue {
  --sticker: #4674b0;
}
.red {
  --sticker: #c0503d;
}
.violet {
  --sticker: #8561a8;
}
.grey {
  --sticker: #8c9296;
}
</style>
