<script setup lang="ts">
/** A verdict by word and shape: never by colour alone. */
defineProps<{ mark: string; short?: boolean }>()
</script>

<template>
  <span class="verdict" :class="mark.replaceAll(' ', '-')">
    <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden="true">
      <circle v-if="mark === 'works'" cx="7" cy="7" r="5.5" fill="currentColor" />
      <template v-else-if="mark === 'loses functions'">
        <circle cx="7" cy="7" r="5.5" fill="none" stroke="currentColor" stroke-width="1.6" />
        <path d="M7 1.5a5.5 5.5 0 0 1 0 11z" fill="currentColor" />
      </template>
      <template v-else-if="mark === 'not settled'">
        <circle cx="7" cy="7" r="5.2" fill="none" stroke="currentColor" stroke-width="1.4" stroke-dasharray="2.4 2" />
      </template>
      <circle v-else cx="7" cy="7" r="2" fill="currentColor" />
    </svg>
    <span :class="{ hidden: short }">{{ mark }}</span>
  </span>
</template>

<style scoped>
.verdict {
  display: inline-flex;
  gap: 5px;
  align-items: center;
  position: relative;
}
.loses-functions {
  color: var(--amber);
}
.untested {
  color: var(--quiet);
}
</style>
