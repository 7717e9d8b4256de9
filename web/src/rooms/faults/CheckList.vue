<script setup lang="ts">
import type { Schemas } from '../../api/client'
import ResultCell, { type Result } from '../../shared/ResultCell.vue'

/** Quick checks of what works: p works, l is lost, s is taken away again. What works clears the causes that it needs whole. */
defineProps<{ checks: Schemas['FaultsCheck'][]; writes: boolean }>()
const emit = defineEmits<{ read: [mark: string, result: 'pass' | 'lost' | ''] }>()
function move(i: number, by: number) {
  document.querySelector<HTMLElement>(`[data-quick="${i + by}"] button`)?.focus()
}
const set = (mark: string, r: Result) => emit('read', mark, r === 'pass' || r === 'lost' ? r : '')
</script>

<template>
  <section id="works">
    <h2>
      What works
      <span class="quiet">p works, l lost, s not read</span>
    </h2>
    <ul class="plain">
      <li v-for="(c, i) in checks" :key="c.mark" class="check" :data-quick="i">
        <ResultCell
          :result="c.result || undefined"
          :label="c.name"
          :disabled="!writes"
          @set="(r) => set(c.mark, r)"
          @move="(by) => move(i, by)"
        />
        <span>
          {{ c.name }}
          <small v-if="c.result === 'pass' && c.clears.length" class="quiet">
            so hardly {{ c.clears.slice(0, 3).join(', ') }}
          </small>
          <small v-else-if="!c.result && c.clears.length" class="quiet">
            tells of {{ c.clears.slice(0, 3).join(', ') }}
          </small>
        </span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.check {
  display: grid;
  grid-template-columns: 112px minmax(0, 1fr);
  gap: 10px;
  align-items: center;
  padding: 4px 0;
  border-bottom: 1px solid var(--line);
}
small {
  display: block;
}
.check :deep(.cell) {
  min-height: 40px;
}
@media (max-width: 600px) {
  .check :deep(.cell) {
    min-height: 44px;
  }
}
</style>
