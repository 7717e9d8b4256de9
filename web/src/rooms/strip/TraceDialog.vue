<script setup lang="ts">
import { ElButton, ElDialog, ElOption, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'

import { api, take, type Schemas } from '../../api/client'
import { reader, type Place } from '../../shared/bench/reader'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'

/** Places by tracing: the four corners of the phone are clicked on a picture, then each part is drawn as a rectangle. */
const props = defineProps<{ model: Schemas['Model']; parts: Schemas['Part'][]; photos: Schemas['Photo'][] }>()
const emit = defineEmits<{ close: [] }>()
const photo = ref(props.photos.at(-1)?.id ?? '')
const corners = ref<Place[]>([])
const part = ref('')
const from = ref<Place>()
const to = ref<Place>()
const wrong = ref('')
const names = ['upper left', 'upper right', 'lower right', 'lower left']
const asks = computed(() =>
  corners.value.length < 4
    ? `Click the phone's ${names[corners.value.length]} corner, or move the cross with the arrows and press Enter.`
    : part.value
      ? 'Draw the part: press at one corner, let go at the other.'
      : 'Choose a part, then draw it.',
)
function at(e: PointerEvent): Place {
  const box = (e.currentTarget as HTMLElement).getBoundingClientRect()
  return { x: (e.clientX - box.left) / box.width, y: (e.clientY - box.top) / box.height }
}
function down(e: PointerEvent) {
  if (corners.value.length < 4) corners.value.push(at(e))
  else if (part.value) from.value = to.value = at(e)
}
/** By keyboard: the arrows move a cross, Enter sets what a click would, Backspace takes the last one back. */
const cross = ref<Place>({ x: 0.5, y: 0.5 })
const crossing = ref(false)
async function key(e: KeyboardEvent) {
  const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key]
  const near = (v: number) => Math.min(1, Math.max(0, v))
  if (by) {
    const step = e.repeat ? 0.012 : 0.004
    cross.value = { x: near(cross.value.x + by[0]! * step), y: near(cross.value.y + by[1]! * step) }
    if (from.value) to.value = cross.value
  } else if (e.key === 'Enter') {
    if (corners.value.length < 4) corners.value.push(cross.value)
    else if (from.value) await put(cross.value)
    else if (part.value) from.value = to.value = cross.value
  } else if (e.key === 'Backspace') {
    if (from.value) from.value = undefined
    else corners.value.pop()
  } else return
  crossing.value = true
  e.preventDefault()
}
const { problem, mine, theirs, save } = useChange()
const up = (e: PointerEvent) => put(at(e))
async function put(b: Place) {
  const a = from.value
  from.value = undefined
  const known = props.parts.find((p) => p.id === part.value)
  if (!a || !known || Math.abs(a.x - b.x) * Math.abs(a.y - b.y) < 1e-5) return
  const box = (await reader()).trace(corners.value, props.model.width_mm || 72, props.model.height_mm || 150, a, b)
  wrong.value = box.error ?? ''
  if (box.error) return
  // eslint-disable-next-line @typescript-eslint/no-unused-vars
  const { id, version, model_id: _model, kind_guess: _guess, ...facts } = known
  await save((v, header) =>
    take(
      api.PUT('/api/parts/{id}', {
        params: { path: { id }, header },
        body: { version: v ?? version, ...facts, x_mm: box.x, y_mm: box.y, w_mm: box.w, h_mm: box.h },
      }),
    ),
  )
}
const drawn = computed(() =>
  from.value && to.value
    ? {
        left: `${Math.min(from.value.x, to.value.x) * 100}%`,
        top: `${Math.min(from.value.y, to.value.y) * 100}%`,
        width: `${Math.abs(from.value.x - to.value.x) * 100}%`,
        height: `${Math.abs(from.value.y - to.value.y) * 100}%`,
      }
    : undefined,
)
</script>

<template>
  <ElDialog :model-value="true" title="Places from a picture" width="860" append-to-body @close="emit('close')">
    <div class="row">
      <ElSelect
        v-model="photo"
        :teleported="false"
        aria-label="Picture to trace"
        style="width: 220px"
        @change="corners = []"
      >
        <ElOption v-for="(p, i) in photos" :key="p.id" :value="p.id" :label="p.caption || `picture ${i + 1}`" />
      </ElSelect>
      <ElSelect
        v-model="part"
        :teleported="false"
        filterable
        placeholder="Part"
        aria-label="Part to trace"
        style="width: 220px"
      >
        <ElOption v-for="p in parts" :key="p.id" :value="p.id" :label="p.name" />
      </ElSelect>
      <ElButton :disabled="!corners.length" @click="corners = []">Corners anew</ElButton>
    </div>
    <p role="status">
      {{ asks }}
      <span v-if="wrong" class="danger">{{ wrong }}</span>
      <span v-if="!model.width_mm" class="look">The model has no size yet: 72 × 150 mm are taken.</span>
    </p>
    <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
    <div
      v-if="photo"
      class="frame"
      tabindex="0"
      role="application"
      aria-label="Picture: arrows move the cross, Enter sets a corner, Backspace takes it back"
      @pointerdown.prevent="down"
      @pointermove="from && (to = at($event))"
      @pointerup="up"
      @keydown="key"
    >
      <img :src="`/api/photos/${photo}/full`" alt="picture to trace" draggable="false" />
      <span
        v-for="(c, i) in corners"
        :key="i"
        class="corner"
        :style="{ left: `${c.x * 100}%`, top: `${c.y * 100}%` }"
      />
      <span
        v-if="crossing"
        class="cross"
        aria-hidden="true"
        :style="{ left: `${cross.x * 100}%`, top: `${cross.y * 100}%` }"
      />
      <span v-if="drawn" class="box" :style="drawn" />
    </div>
  </ElDialog>
</template>

<style scoped>
.cross {
  position: absolute;
  width: 25px;
  height: 25px;
  margin: -12px;
  pointer-events: none;
  background:
    linear-gradient(var(--amber-fill), var(--amber-fill)) center / 1px 100% no-repeat,
    linear-gradient(var(--amber-fill), var(--amber-fill)) center / 100% 1px no-repeat;
}
.frame {
  position: relative;
  display: inline-block;
  cursor: crosshair;
  touch-action: none;
}
.frame img {
  max-width: 100%;
  max-height: 62vh;
  display: block;
}
.corner {
  position: absolute;
  width: 14px;
  height: 14px;
  border: 3px solid var(--amber-fill);
  border-radius: 50%;
  transform: translate(-50%, -50%);
}
.box {
  position: absolute;
  border: 2px solid var(--pine);
  background: #1d5c5533;
}
</style>
