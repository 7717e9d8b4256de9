<script setup lang="ts">
import { computed } from 'vue'

import { canSerial, connectSerial, takeNow, useAsked, useReadouts, useTakeKey, type State } from './instruments'

/** What the instruments show, in the brow; a click takes it into the measure that is asked for. */
const props = defineProps<{ signedIn: boolean }>()
const { instruments } = useReadouts(() => props.signedIn)
const { asked } = useAsked()
useTakeKey()
/** Those that speak, and those that fell silent: at most three, the one asked for first. */
const shown = computed(() =>
  instruments.value
    .filter((s) => asked.value || (s.connected && s.age_seconds < 60))
    .sort((a, b) => Number(b.reading.unit === asked.value?.unit) - Number(a.reading.unit === asked.value?.unit))
    .slice(0, asked.value?.unit ? 2 : asked.value ? 3 : 1),
)
const text = (s: State) =>
  !s.connected
    ? (s.problem ?? 'silent')
    : s.reading.over
      ? 'over range'
      : `${s.reading.value.toFixed(Math.max(0, Math.ceil(-Math.log10(s.reading.resolution || 1))))} ${s.reading.unit}`
</script>

<template>
  <span v-if="shown.length" class="readouts">
    <button
      v-for="s in shown"
      :key="s.name"
      class="bare"
      :class="{ look: !s.connected, moving: s.connected && !s.reading.stable }"
      :title="instruments.map((x) => `${x.name}: ${text(x)}`).join('\n')"
      @mousedown.prevent
      @click="takeNow(s.name)"
    >
      <span class="quiet">{{ s.name }}</span>
      {{ ' ' }}
      <span class="fig">{{ text(s) }}</span>
    </button>
    <button v-if="asked && canSerial()" class="bare link" @click="connectSerial()">serial port</button>
  </span>
</template>

<style scoped>
.readouts {
  display: inline-flex;
  gap: 14px;
  font-size: 14px;
}
.readouts .fig {
  margin-left: 5px;
}
.moving .fig {
  color: var(--quiet);
}
@media (max-width: 1023px) {
  .readouts {
    display: none;
  }
}
</style>
