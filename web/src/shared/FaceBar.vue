<script setup lang="ts">
/** The faces of a room: each a page of its own, the first one shown when none is named. */
defineProps<{ faces: readonly (readonly [string, string])[]; face: string }>()
const emit = defineEmits<{ show: [face: string] }>()
</script>

<template>
  <nav class="faces no-print" aria-label="Faces of this room">
    <button
      v-for="[f, words] in faces"
      :key="f"
      :aria-current="face === f ? 'page' : undefined"
      @click="emit('show', f)"
    >
      {{ words }}
    </button>
  </nav>
</template>

<style scoped>
.faces {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  border-bottom: 1px solid var(--ink);
  margin-bottom: 14px;
}
.faces button {
  font-size: 15px;
  padding: 7px 14px;
  background: none;
  color: var(--quiet);
  border: 0;
  border-bottom: 3px solid transparent;
  cursor: pointer;
}
.faces button[aria-current] {
  color: var(--ink);
  font-weight: 600;
  border-bottom-color: var(--pine);
}
</style>
