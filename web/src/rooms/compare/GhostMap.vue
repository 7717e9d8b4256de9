<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '../../api/client'

/**
 * Both models over each other, in millimetres of the newer one: its parts in full lines, where they lay before dashed, an
 * arrow for what moved. `old` turns it over: the earlier model in full lines. The numbers are those of the list.
 */
const props = defineProps<{
  room: Schemas['CompareRoom']
  old: boolean
  selected?: string
  numbers: Map<string, number>
}>()
const emit = defineEmits<{ select: [key: string] }>()
const width = computed(() => props.room.b.model.width_mm || 72)
const height = computed(() => props.room.b.model.height_mm || 148)
const front = computed(() => (props.old ? props.room.a : props.room.b).parts.filter((p) => p.place))
const ghost = computed(() => (props.old ? props.room.b : props.room.a).parts.filter((p) => p.place))
const pairOf = computed(() => {
  const list = new Map<string, Schemas['CompareMatch']>()
  for (const m of props.room.found.matched) {
    list.set(m.a, m)
    list.set(m.b, m)
  }
  return list
})
/** Only what lies elsewhere or is not there any more stands behind as a ghost. */
const ghosts = computed(() =>
  ghost.value.filter((p) => {
    const m = pairOf.value.get(p.id)
    return !m || (m.moved && m.moved.mm > 0.5) || m.changes.includes('resized')
  }),
)
const key = (id: string) => {
  const m = pairOf.value.get(id)
  return m ? `${m.a}|${m.b}` : id
}
const middle = (p: Schemas['CompareThing']) => ({ x: p.place!.x + p.place!.w / 2, y: p.place!.y + p.place!.h / 2 })
const arrows = computed(() =>
  props.room.found.matched.flatMap((m) => {
    const a = props.room.a.parts.find((p) => p.id === m.a)
    const b = props.room.b.parts.find((p) => p.id === m.b)
    if (!m.moved?.shown || !a?.place || !b?.place) return []
    return [{ from: middle(a), to: middle(b), key: `${m.a}|${m.b}` }]
  }),
)
/** Numbers that would lie on each other stand side by side. */
const marks = computed(() => {
  const list: { n: number; x: number; y: number }[] = []
  for (const p of sorted.value) {
    const n = props.numbers.get(key(p.id))
    if (n === undefined) continue
    const at = { n, ...middle(p) }
    while (list.some((m) => Math.abs(m.x - at.x) < 6 && Math.abs(m.y - at.y) < 5)) at.x += 8
    list.push(at)
  }
  return list
})
const sorted = computed(() => [...front.value].sort((p, q) => q.place!.w * q.place!.h - p.place!.w * p.place!.h))
</script>

<template>
  <figure>
    <svg
      :viewBox="`-4 -4 ${width + 8} ${height + 8}`"
      role="img"
      :aria-label="`${room.b.model.name} over ${room.a.model.name}; the list beside it says the same`"
    >
      <defs>
        <marker id="ghost-tip" viewBox="0 0 6 6" refX="5" refY="3" markerWidth="5" markerHeight="5" orient="auto">
          <path d="M0 0 6 3 0 6z" />
        </marker>
      </defs>
      <rect class="body" x="0" y="0" :width="width" :height="height" rx="8" />
      <rect
        v-for="p in ghosts"
        :key="`ghost ${p.id}`"
        class="ghost"
        :x="p.place!.x"
        :y="p.place!.y"
        :width="p.place!.w"
        :height="p.place!.h"
        rx="1"
      />
      <g
        v-for="p in sorted"
        :key="p.id"
        :class="{ part: true, changed: numbers.has(key(p.id)), chosen: selected === key(p.id) }"
        @click="emit('select', key(p.id))"
      >
        <rect :x="p.place!.x" :y="p.place!.y" :width="p.place!.w" :height="p.place!.h" rx="1" />
      </g>
      <text v-for="m in marks" :key="m.n" :x="m.x" :y="m.y + 1.6">{{ m.n }}</text>
      <path
        v-for="a in arrows"
        :key="a.key"
        class="arrow"
        :d="`M${a.from.x} ${a.from.y}L${a.to.x} ${a.to.y}`"
        marker-end="url(#ghost-tip)"
      />
    </svg>
    <figcaption class="quiet">
      Full lines: {{ (old ? room.a : room.b).model.name }}. Dashed: where it lies in the
      {{ (old ? room.b : room.a).model.name }}, drawn edge on edge.
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
svg {
  display: block;
  max-height: 520px;
  max-width: 100%;
}
.body {
  fill: none;
  stroke: var(--ink);
  stroke-width: 0.5;
}
.ghost {
  fill: none;
  stroke: var(--quiet);
  stroke-width: 0.5;
  stroke-dasharray: 2 1.5;
}
.part rect {
  fill: var(--ground);
  fill-opacity: 0.55;
  stroke: var(--strong-line);
  stroke-width: 0.3;
}
.part.changed {
  cursor: pointer;
}
.part.changed rect {
  stroke: var(--pine);
  stroke-width: 0.7;
  fill: var(--wash);
}
.part.chosen rect {
  stroke: var(--amber-fill);
  stroke-width: 1.2;
}
text {
  font-family: var(--mono);
  font-size: 5px;
  text-anchor: middle;
  pointer-events: none;
  fill: var(--ink);
}
.arrow {
  stroke: var(--amber-fill);
  stroke-width: 0.8;
  fill: none;
}
marker path {
  fill: var(--amber-fill);
}
</style>
