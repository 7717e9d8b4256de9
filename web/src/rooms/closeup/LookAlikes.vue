<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '../../api/client'

/** Screws that must not be mixed up, the dangerous ones first. */
const props = defineProps<{ mixes: Schemas['CloseupMix'][] }>()
const order = { pierces: 0, 'may pierce': 1, 'will not hold': 2 }
const sorted = computed(() => [...props.mixes].sort((a, b) => order[a.effect] - order[b.effect]))
</script>

<template>
  <section id="alike">
    <h2>Look-alike screws</h2>
    <p v-if="!mixes.length" class="quiet">None of the screws on record can be mixed up dangerously.</p>
    <ul class="plain">
      <li v-for="m in sorted.slice(0, 5)" :key="m.from + m.into">
        <b :class="{ danger: m.effect === 'pierces' }">{{ m.effect }}:</b>
        {{ m.text }}
      </li>
    </ul>
    <details v-if="sorted.length > 5">
      <summary>{{ sorted.length - 5 }} more pairs</summary>
      <ul>
        <li v-for="m in sorted.slice(5)" :key="m.from + m.into">
          <b>{{ m.effect }}:</b>
          {{ m.text }}
        </li>
      </ul>
    </details>
  </section>
</template>

<style scoped></style>
