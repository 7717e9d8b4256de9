<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '../../api/client'
import { useTrade } from '../../shared/useTrade'

/**
 * Parts by family, with what is out: the plan of a model of which no part has a place, and, beside a map, the list of those
 * that are not on it. A part is opened by a click, and dragged onto the map to place it.
 */
const props = defineProps<{
  parts: Schemas['Part'][]
  out: string[]
  label: string
  draggable: boolean
  opens: boolean
}>()
defineEmits<{ select: [id: string] }>()
const { trade } = useTrade()
const name = (id: string) => trade.value.families.find((f) => f.id === id)?.name ?? id
const rows = computed(() => {
  const by = new Map<string, Schemas['Part'][]>()
  for (const p of props.parts) by.set(p.family, [...(by.get(p.family) ?? []), p])
  return [...by].map(([family, parts]) => ({ family, name: name(family), parts }))
})
function take(e: DragEvent, id: string) {
  e.dataTransfer?.setData('text/plain', id)
}
</script>

<template>
  <dl :aria-label="label">
    <div v-for="r in rows" :key="r.family">
      <dt class="quiet">{{ r.name }}</dt>
      <dd>
        <button
          v-for="p in r.parts"
          :key="p.id"
          type="button"
          :class="['chip', p.family, { out: out.includes(p.id) }]"
          :disabled="!opens"
          :draggable="draggable"
          @dragstart="take($event, p.id)"
          @click="$emit('select', p.id)"
        >
          {{ p.name }}{{ out.includes(p.id) ? ', out' : '' }}
        </button>
      </dd>
    </div>
  </dl>
</template>

<style scoped>
dl {
  margin: 0;
}
dl > div {
  display: grid;
  grid-template-columns: 74px minmax(0, 1fr);
  gap: 10px;
  align-items: baseline;
  padding: 3px 0;
}
dt {
  text-align: right;
  font-size: 15px;
}
dd {
  margin: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
  padding: 3px;
  border: 1px solid var(--ink);
}
.chip {
  font: inherit;
  font-size: 15px;
  padding: 5px 10px;
  flex: 1 1 auto;
  text-align: left;
  color: var(--ink);
  background: var(--sheet);
  border: 1px solid var(--strong-line);
  border-radius: 2px;
  cursor: pointer;
  overflow-wrap: anywhere;
}
.chip.PW {
  background: #cfe0d2;
}
.chip.OP {
  background: #d4d9ea;
}
.chip.SO {
  background: #ecdcc6;
}
.chip.BD {
  background: #c8dcdc;
}
.chip.RF {
  background: #e6d5dd;
}
.chip.SE {
  background: #dcd3e6;
}
:root[data-theme='night'] .chip:not(.out) {
  background: var(--wash);
}
.chip.out {
  border-style: dashed;
  background: transparent;
  color: var(--quiet);
}
.chip:disabled {
  cursor: default;
}
</style>
