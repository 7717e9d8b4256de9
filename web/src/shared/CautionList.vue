<script setup lang="ts">
import type { Schemas } from '../api/client'

defineProps<{ cautions: Schemas['HazardCaution'][]; notice?: string }>()
</script>

<template>
  <div v-if="cautions.length || notice" class="cautions">
    <ul class="plain">
      <li v-for="c in cautions" :key="c.id">
        <svg width="16" height="15" viewBox="0 0 16 15" aria-hidden="true">
          <path d="M8 1 15.3 14H.7zM8 6v4M8 11.4v1" />
        </svg>
        <span>
          <b>{{ c.text }}</b>
          {{ c.do }}
        </span>
      </li>
    </ul>
    <p v-if="notice" class="quiet notice">{{ notice }}</p>
  </div>
</template>

<style scoped>
li {
  display: flex;
  gap: 9px;
}
svg {
  flex: none;
  margin-top: 3px;
}
path {
  fill: none;
  stroke: var(--amber);
  stroke-width: 1.5;
  stroke-linejoin: round;
}
.notice {
  font-size: 14px;
  margin-top: 8px;
}
</style>
