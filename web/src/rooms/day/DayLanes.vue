<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '../../api/client'
import { clockOf } from './times'

/** Who and what is taken when: a lane for each pair of hands and each machine. The table beside it says the same. */
const props = defineProps<{ room: Schemas['BenchdayRoom']; now: number; picked: string }>()
const emit = defineEmits<{ pick: [job: string] }>()
const left = 92
const width = 900
const height = 34

const lanes = computed(() => {
  const names: { key: string; name: string; breaks: [number, number][] }[] = []
  const people = props.room.document.people ?? []
  for (const p of people)
    names.push({ key: `p:${p.id}`, name: p.id, breaks: (p.breaks ?? []).map((b) => [b.from, b.to]) })
  for (const m of props.room.document.machines ?? [])
    for (let u = 1; u <= (m.units ?? 1); u++)
      names.push({ key: `m:${m.id}:${u}`, name: (m.units ?? 1) > 1 ? `${m.id} ${u}` : m.id, breaks: [] })
  if (props.room.acts.some((a) => !a.person && !a.machine)) names.push({ key: 'w', name: 'waits', breaks: [] })
  return names
})
/** What is planned fills the picture; closing time stands in it when it is near. */
const end = computed(() => {
  const last = 1.08 * Math.max(900, props.now, ...props.room.acts.map((a) => a.end))
  return last > 0.7 * props.room.close ? Math.max(last, 1.02 * props.room.close) : last
})
const x = (seconds: number) => left + (seconds / Math.max(1, end.value)) * (width - left - 8)
const hours = computed(() => {
  const list: number[] = []
  const step = end.value > 6 * 3600 ? 3600 : end.value > 2 * 3600 ? 1800 : 600
  for (let s = Math.ceil(props.room.open / step) * step - props.room.open; s <= end.value; s += step) list.push(s)
  return list
})
interface Bar {
  key: string
  job: string
  lane: number
  x: number
  w: number
  text: string
  says: string
  state: string
}
const bars = computed(() => {
  const list: Bar[] = []
  for (const a of props.room.acts) {
    const on = [
      ...(a.person ? [`p:${a.person}`] : []),
      ...(a.machine ? [`m:${a.machine}:${a.unit ?? 1}`] : []),
      ...(!a.person && !a.machine ? ['w'] : []),
    ]
    for (const key of on) {
      const lane = lanes.value.findIndex((l) => l.key === key)
      if (lane < 0) continue
      const w = Math.max(2, x(a.end) - x(a.start))
      list.push({
        key: `${a.job_id}/${a.op}/${key}`,
        job: a.job_id,
        lane,
        x: x(a.start),
        w,
        text: w > 34 ? `${a.title} ${a.op}`.slice(0, Math.floor(w / 7.2)) : '',
        says: `${a.title}, ${a.op}, ${clockOf(props.room.open, a.start)} to ${clockOf(props.room.open, a.end)}, ${a.state}`,
        state: a.state,
      })
    }
  }
  return list
})
const tall = computed(() => lanes.value.length * height + 30)
</script>

<template>
  <div class="scroll">
    <svg
      :viewBox="`0 0 ${width} ${tall}`"
      role="img"
      aria-label="Hands and machines by time; the table below says the same"
    >
      <g v-for="(l, i) in lanes" :key="l.key">
        <rect class="lane" :x="left" :y="i * height + 20" :width="width - left - 8" :height="height - 6" />
        <rect
          v-for="(b, k) in l.breaks"
          :key="k"
          class="break"
          :x="x(b[0])"
          :y="i * height + 20"
          :width="Math.max(0, Math.min(x(b[1]), width - 8) - Math.min(x(b[0]), width - 8))"
          :height="height - 6"
        >
          <title>break</title>
        </rect>
        <text class="who" x="0" :y="i * height + 20 + height / 2 + 2">{{ l.name.slice(0, 13) }}</text>
      </g>
      <g v-for="h in hours" :key="h">
        <line class="hour" :x1="x(h)" :x2="x(h)" y1="16" :y2="tall - 8" />
        <text class="time" :x="x(h)" y="12">{{ clockOf(room.open, h) }}</text>
      </g>
      <g
        v-for="b in bars"
        :key="b.key"
        :class="['bar', b.state, { faded: picked && picked !== b.job }]"
        @click="emit('pick', picked === b.job ? '' : b.job)"
      >
        <rect :x="b.x" :y="b.lane * height + 21" :width="b.w" :height="height - 8">
          <title>{{ b.says }}</title>
        </rect>
        <text :x="b.x + 5" :y="b.lane * height + 20 + height / 2 + 2">{{ b.text }}</text>
      </g>
      <line v-if="room.close <= end" class="close" :x1="x(room.close)" :x2="x(room.close)" y1="14" :y2="tall - 6" />
      <line v-if="now >= 0" class="now" :x1="x(now)" :x2="x(now)" y1="14" :y2="tall - 6" />
    </svg>
  </div>
</template>

<style scoped>
svg {
  width: 100%;
  min-width: 640px;
  display: block;
}
.lane {
  fill: var(--wash);
}
.break {
  fill: var(--line);
}
.hour {
  stroke: var(--line);
}
.time,
.who {
  font-size: 12px;
  fill: var(--ink);
}
.time {
  text-anchor: middle;
}
.who {
  font-size: 13px;
}
.bar {
  cursor: pointer;
}
.bar rect {
  fill: var(--sheet);
  stroke: var(--pine);
  stroke-width: 1.6;
}
.bar text {
  font-size: 12px;
  fill: var(--ink);
  pointer-events: none;
}
.bar.running rect {
  fill: var(--amber-wash);
  stroke: var(--amber-fill);
  stroke-width: 2.4;
}
.bar.done rect {
  fill: var(--line);
  stroke: var(--strong-line);
}
.faded {
  opacity: 0.3;
}
.close {
  stroke: var(--ink);
  stroke-width: 2;
  stroke-dasharray: 4 3;
}
.now {
  stroke: var(--amber-fill);
  stroke-width: 2;
}
</style>
