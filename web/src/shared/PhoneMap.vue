<script setup lang="ts">
import { computed, ref, useId } from 'vue'

import type { Schemas } from '../api/client'
import { driveMarks, edgePath, families, gap, hatch, numbered, placeOf, zoneOf, type Walked } from './phonePlan'
import { useMapDrag } from './useMapDrag'

/**
 * A true-scale plan of a phone in millimetres: body and opened lid with the hinge between, parts by layer, keep-out zones
 * with their depth. `walk` are the steps of a way, numbered as its list numbers them; a step without a place shows its
 * number at the edge. `here` is the step being done: the plan is drawn close to it, with the next one faint. `out` are
 * lifted off, `worn` says whose sticker a piece wears.
 */
const props = defineProps<{
  model: Schemas['Model']
  parts: Schemas['Part'][]
  selected?: string
  walk?: Walked[]
  /** Which of them is being done, from 0. */
  here?: number
  out?: string[]
  worn?: Record<string, { colour: string; label: string }>
  depth?: boolean
  label?: string
  compact?: boolean
  /** Steps whose fasteners are drawn where they sit. */
  joints?: Walked[]
  /** Small maps show the code of the family instead of names that nobody could read. */
  codes?: boolean
  /** What has no place is listed beside the plan. */
  listed?: boolean
  /** Parts may be dragged to their place. */
  movable?: boolean
}>()
const emit = defineEmits<{
  select: [id: string]
  move: [id: string, x: number, y: number]
  /** A part from elsewhere was dropped here. */
  place: [id: string, x: number, y: number]
}>()
const uid = useId()

const width = computed(() => props.model.width_mm || 74)
const height = computed(() => props.model.height_mm || 150)
const drawn = computed(() => props.parts.filter((p) => p.w_mm && p.h_mm))
const unplaced = computed(() => props.parts.filter((p) => !(p.w_mm && p.h_mm)))
const hasLid = computed(() => drawn.value.some((p) => p.pane === 'lid'))
const top = computed(() => Math.max(0, ...drawn.value.map((p) => p.layer ?? 0)))
const lifted = ref(0)
const visible = computed(() => top.value - lifted.value)
const shown = computed(() =>
  drawn.value
    .filter((p) => (p.layer ?? 0) <= visible.value)
    .sort((a, b) => (a.layer ?? 0) - (b.layer ?? 0) || b.w_mm! * b.h_mm! - a.w_mm! * a.h_mm!),
)
const left = (p: Schemas['Part']) => (p.x_mm ?? 0) + (p.pane === 'lid' ? 0 : offset.value)
const offset = computed(() => (hasLid.value ? width.value + gap : 0))
const places = computed(
  () => new Map(drawn.value.map((p) => [p.id, { x: left(p), y: p.y_mm ?? 0, w: p.w_mm!, h: p.h_mm! }])),
)
const place = (s: Walked) => placeOf(s, places.value, offset.value)
const whole = computed(() => ({
  x: -7,
  y: -8,
  w: offset.value + width.value + (edged.value ? 22 : 14),
  h: height.value + 15,
}))
/** Close to the step being done: its place with a hand's breadth around it. */
const close = computed(() => {
  const step = props.here === undefined ? undefined : props.walk?.[props.here]
  const p = step && place(step)
  if (!p) return whole.value
  const [w, h] = [Math.max(60, p.w + 18), Math.max(76, p.h + 18)]
  const all = whole.value
  const within = (low: number, size: number, from: number, room: number) =>
    Math.max(from, Math.min(low, from + room - size))
  return {
    x: within(p.x + p.w / 2 - w / 2, w, all.x, all.w),
    y: within(p.y + p.h / 2 - h / 2, h, all.y, all.h),
    w,
    h,
  }
})
const view = computed(() => `${close.value.x} ${close.value.y} ${close.value.w} ${close.value.h}`)
const marks = computed(() => numbered(props.walk ?? [], place, offset.value + width.value, height.value))
const edged = computed(() => props.walk?.some((s) => !place(s)))
const walked = computed(() => new Set(props.walk?.flatMap((s) => [s.part ?? '', ...(s.frees ?? [])])))
const dim = (id: string) => Boolean(props.walk?.length) && !walked.value.has(id)
/** Numbers of the steps that are about a part, or take it out. */
const numbers = (id: string) =>
  (props.walk ?? []).flatMap((s, i) => (s.part === id || s.frees?.includes(id) ? [i + 1] : []))
const fits = (p: Schemas['Part']) => p.w_mm! > p.name.length * 1.65 && p.h_mm! > 4.5
const tall = (p: Schemas['Part']) => !fits(p) && p.h_mm! > p.name.length * 1.65 && p.w_mm! > 4.5
/** Now, next, or another time. */
const stage = (s: Walked) => {
  const i = props.here === undefined ? -1 : (props.walk ?? []).findIndex((w) => w.id === s.id)
  return i < 0 ? '' : i === props.here ? 'now' : i === props.here! + 1 ? 'soon' : 'far'
}
const ahead = computed(() => props.walk?.[(props.here ?? 0) + 1])
/** What is worked on now, and what comes next, where a part says so. */
const glow = (id: string) => {
  if (props.here === undefined) return ''
  const now = props.walk?.[props.here]
  if (now?.part === id || now?.frees?.includes(id)) return 'now'
  return ahead.value?.part === id ? 'soon' : ''
}
const holes = computed(() =>
  (props.joints ?? props.walk ?? []).flatMap((s) =>
    (s.fastener?.at ?? []).map((at, i) => ({
      when: stage(s),
      key: `${s.id} ${i}`,
      x: at.x + offset.value,
      y: at.y,
      drive: s.drive ?? '',
      text: `${s.what}: ${s.drive ?? 'screw'} ${s.diameter_mm ?? ''} × ${s.length_mm ?? ''} mm`,
    })),
  ),
)
const edge = (side?: string) => edgePath(side, offset.value, width.value, height.value)
const svg = ref<SVGSVGElement>()
/** Where something is let go, in millimetres of the body. */
function land(e: DragEvent) {
  const id = e.dataTransfer?.getData('text/plain')
  if (!id || !props.parts.some((p) => p.id === id)) return
  const at = new DOMPoint(e.clientX, e.clientY).matrixTransform(svg.value!.getScreenCTM()!.inverse())
  emit('place', id, Math.round(at.x - offset.value), Math.round(at.y))
}
const { grab, pull, drop, shift } = useMapDrag(
  svg,
  () => props.movable,
  (d) => (d.moved ? emit('move', d.id, d.x, d.y) : emit('select', d.id)),
)
const words = (p: Schemas['Part']) =>
  [
    p.name,
    props.out?.includes(p.id) ? 'out' : '',
    numbers(p.id).length ? `step ${numbers(p.id).join(', ')} of the way` : '',
    props.worn?.[p.id]?.label ?? '',
    `${p.w_mm} by ${p.h_mm} mm, layer ${p.layer ?? 0}, ${p.family}`,
  ]
    .filter(Boolean)
    .join(', ')
const zone = (k: Schemas['KeepOut']) => zoneOf(k, hasLid.value ? offset.value : 0, width.value, height.value)
</script>

<template>
  <figure class="map" :class="{ compact }">
    <svg
      ref="svg"
      :viewBox="view"
      role="group"
      :aria-label="label ?? `Plan of ${model.name}, ${width} by ${height} mm`"
      @pointermove="pull"
      @pointerup="drop"
      @dragover="movable && $event.preventDefault()"
      @drop.prevent="land"
    >
      <defs>
        <pattern
          v-for="f in families"
          :id="`${uid}${f}`"
          :key="f"
          width="8"
          height="8"
          patternUnits="userSpaceOnUse"
          patternTransform="scale(0.4)"
        >
          <rect width="8" height="8" :class="['tint', f]" />
          <path :d="hatch[f]" class="hatch" />
        </pattern>
        <pattern
          :id="`${uid}keep`"
          width="4"
          height="4"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45) scale(0.6)"
        >
          <path d="M0 0v4" class="keep" />
        </pattern>
      </defs>
      <g v-if="hasLid">
        <text class="pane" x="0" y="-3">lid, opened</text>
        <rect class="shell" x="0" y="0" :width="width" :height="height" rx="7" />
        <path class="hinge" :d="`M${width + gap / 2} 6V${height - 6}`" />
      </g>
      <text class="pane" :x="offset" y="-3">body</text>
      <rect class="shell" :x="offset" y="0" :width="width" :height="height" rx="7" />
      <g
        v-for="p in shown"
        :key="p.id"
        class="part"
        :class="[
          glow(p.id),
          { chosen: p.id === selected, out: out?.includes(p.id), dim: dim(p.id), worn: worn?.[p.id] },
        ]"
        role="button"
        tabindex="0"
        :data-part="p.id"
        :aria-label="words(p)"
        :aria-pressed="p.id === selected"
        :transform="shift(p)"
        @pointerdown="grab($event, p)"
        @click="movable || emit('select', p.id)"
        @keydown.enter.prevent="emit('select', p.id)"
        @keydown.space.prevent="emit('select', p.id)"
      >
        <title>{{ words(p) }}</title>
        <rect
          :x="left(p)"
          :y="p.y_mm ?? 0"
          :width="p.w_mm"
          :height="p.h_mm"
          rx="1.2"
          :fill="`url(#${uid}${p.family})`"
        />
        <rect
          v-if="worn?.[p.id]"
          :x="left(p)"
          :y="p.y_mm ?? 0"
          :width="Math.min(3, p.w_mm! / 2)"
          :height="p.h_mm"
          :class="['flag', worn[p.id]!.colour]"
        />
        <text
          v-if="codes && p.w_mm! > 9 && p.h_mm! > 5"
          class="code"
          :x="left(p) + p.w_mm! / 2"
          :y="(p.y_mm ?? 0) + p.h_mm! / 2 + 2"
        >
          {{ p.family }}
        </text>
        <text
          v-else-if="!codes && fits(p)"
          :x="left(p) + p.w_mm! / 2"
          :y="(p.y_mm ?? 0) + Math.min(p.h_mm! / 2 + 1.2, p.h_mm! > 120 ? p.h_mm! - 4 : 999)"
        >
          {{ p.name }}
        </text>
        <text
          v-else-if="!codes && tall(p)"
          :transform="`translate(${left(p) + p.w_mm! / 2 + 1.1} ${(p.y_mm ?? 0) + p.h_mm! / 2}) rotate(-90)`"
        >
          {{ p.name }}
        </text>
        <text
          v-else-if="!codes && p.w_mm! > 5 && p.h_mm! > 3.6"
          :x="left(p) + p.w_mm! / 2"
          :y="(p.y_mm ?? 0) + p.h_mm! / 2 + 1.2"
        >
          {{ p.family }}
        </text>
      </g>
      <g v-for="h in holes" :key="h.key" class="hole" :class="h.when" :transform="`translate(${h.x} ${h.y})`">
        <title>{{ h.text }}</title>
        <circle r="1.3" />
        <path v-if="driveMarks[h.drive]" :d="driveMarks[h.drive]" />
        <circle v-else-if="h.drive === 'post'" r="0.6" />
      </g>
      <template v-if="here === undefined">
        <g v-for="m in marks" :key="m.text" class="mark" :transform="`translate(${m.x} ${m.y})`">
          <title>{{ `step ${m.text}${m.edge ? ', no place recorded' : ''}` }}</title>
          <rect
            class="badge"
            :x="-(m.text.length * 2.5 + 3) / 2"
            y="-3.3"
            :width="m.text.length * 2.5 + 3"
            height="6.6"
            rx="3.3"
          />
          <text class="count" y="1.5">{{ m.text }}</text>
        </g>
      </template>
      <path v-if="edge(model.opening?.hinge_edge)" class="edge hooks" :d="edge(model.opening?.hinge_edge)">
        <title>Hinge edge: push toward the opposite one</title>
      </path>
      <path v-if="edge(model.opening?.cable_edge)" class="edge cables" :d="edge(model.opening?.cable_edge)">
        <title>Cable edge: open like a book toward it</title>
      </path>
      <g v-for="(k, i) in model.keep_outs ?? []" :key="i" class="zone">
        <title>{{ `Keep out: pick no deeper than ${k.depth_mm} mm${k.why ? `, ${k.why}` : ''}` }}</title>
        <rect v-bind="{ x: zone(k).x, y: zone(k).y, width: zone(k).w, height: zone(k).h }" :fill="`url(#${uid}keep)`" />
        <text
          class="depth"
          :x="k.edge === 'left' ? zone(k).x - 1 : zone(k).x + zone(k).w / 2"
          :y="k.edge === 'top' ? -1 : zone(k).y + zone(k).h / 2"
        >
          {{ k.depth_mm }}
        </text>
      </g>
    </svg>
    <figcaption class="no-print">
      <label v-if="depth" class="slider">
        <span>Lift layers off</span>
        <input v-model.number="lifted" type="range" min="0" :max="top" step="1" />
        <span class="fig">{{ lifted }} of {{ top }}</span>
      </label>
      <span v-if="unplaced.length && !listed" class="quiet">
        Not placed yet: {{ unplaced.map((p) => p.name).join(', ') }}
      </span>
    </figcaption>
  </figure>
</template>

<style scoped src="./phoneMap.css"></style>
