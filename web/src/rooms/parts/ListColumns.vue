<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'

import type { Schemas } from '../../api/client'

/** Which column says what, and how its figures and days were read. */
const props = defineProps<{ look: Schemas['OffersLook'] }>()
const emit = defineEmits<{ map: [field: string, column: number] }>()
const names: Record<string, string> = {
  covers: 'part it fills',
  title: 'what it is',
  date: 'day of the price',
  stock: 'packs to be had',
  lead: 'days until it comes',
  model: 'for the model',
}
const name = (f: string) => names[f] ?? f
const fields = computed(() => props.look.fields)
const at = (f: string) => props.look.columns.findIndex((c) => c.field === f)
</script>

<template>
  <p v-if="look.missing.length" class="look" role="status">
    Still needed: {{ look.missing.map(name).join(', ') }}. Say which column it is, or choose one for all rows above.
  </p>
  <details :open="look.missing.length > 0">
    <summary>
      Columns:
      {{
        look.columns
          .filter((c) => c.field)
          .map((c) => `“${c.head || c.letter}”: ${name(c.field!)}${c.reads ? ` (${c.reads})` : ''}`)
          .join(', ')
      }}
    </summary>
    <div class="columns">
      <div v-for="f in fields" :key="f" class="column">
        {{ name(f) }}
        <ElSelect
          :model-value="at(f) < 0 ? undefined : at(f)"
          :teleported="false"
          placeholder="no column"
          :aria-label="`Column: ${name(f)}`"
          @update:model-value="(k: number) => emit('map', f, k)"
        >
          <ElOption v-for="(c, k) in look.columns" :key="c.letter" :value="k" :label="c.head || `column ${c.letter}`" />
        </ElSelect>
      </div>
    </div>
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
  font-size: 15px;
}
.columns {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 8px 14px;
  padding: 10px 0;
}
.column {
  font-size: 14px;
}
</style>
