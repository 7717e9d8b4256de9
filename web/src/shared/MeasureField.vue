<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { computed, ref, useId } from 'vue'

import type { Schemas } from '../api/client'
import { reader } from './bench/reader'
import { measured } from './format'
import { takeKey, takeNow, useAsked } from './instruments'
import { quantity } from './measure'

/**
 * Readings of one measure: typed or sent by an instrument that types, taken from an instrument by one key or by its own
 * button. Repeats add up; a reading of the wrong kind is refused in words.
 */
const props = defineProps<{ label: string; unit: string }>()
const readings = defineModel<number[]>({ required: true })
const emit = defineEmits<{ resolution: [digit: number]; instrument: [name: string] }>()
const typed = ref('')
const told = ref('')
const from = ref('')
const digit = ref(0)
const id = useId()
const { asked, ask, instruments } = useAsked()
const mine = { unit: props.unit, take: put, refuse: (why: string) => (told.value = why) }
const here = computed(() => asked.value === mine)
const fits = computed(() => instruments.value.filter((s) => s.connected && s.reading.unit === props.unit))

function put(r: Schemas['InstrumentReading'], name: string) {
  const why = refused(r)
  if (why) {
    told.value = name ? `${name}: ${why}` : why
    return
  }
  told.value = ''
  from.value = name
  digit.value = Math.max(digit.value, r.resolution)
  readings.value = [...readings.value, r.value]
  emit('resolution', digit.value)
  if (name) emit('instrument', name)
}
const kinds: Record<string, string> = {
  mm: 'a length',
  g: 'a mass',
  C: 'a temperature',
  lx: 'light',
  V: 'a voltage',
  A: 'a current',
  W: 'a power',
}
function refused(r: Schemas['InstrumentReading']): string {
  if (r.over) return 'it is over its range: nothing was taken.'
  if (r.unit && r.unit !== props.unit)
    return `this reading is ${kinds[r.unit] ?? 'something else'} (${r.unit}); the measure is ${kinds[props.unit] ?? ''} (${props.unit}).`
  return r.stable ? '' : 'the display does not stand still yet.'
}
async function enter() {
  const line = typed.value.trim()
  if (!line) return
  const a = (await reader()).reading(line, props.unit)
  if (!a.reading || a.refused) {
    told.value = a.refused ?? 'No value in this; type a number, such as 3.42 mm.'
    return
  }
  typed.value = ''
  put(a.reading, '')
}
const shown = computed(() => quantity(readings.value, digit.value || 0.01, props.unit))
const decimals = computed(() => Math.max(0, Math.min(4, Math.ceil(-Math.log10(digit.value || 0.01)))))
function drop(i: number) {
  readings.value = readings.value.filter((_, k) => k !== i)
}
</script>

<template>
  <div class="measure" :class="{ here }">
    <label :for="id">{{ label }}, {{ unit }}</label>
    <div class="row">
      <ElInput
        :id="id"
        v-model="typed"
        class="fig"
        maxlength="60"
        :placeholder="`type, or ${takeKey}`"
        @focus="ask(mine)"
        @keydown.enter.stop.prevent="enter"
        @blur="enter"
      />
      <ElButton v-for="s in fits" :key="s.name" @click="(ask(mine), takeNow(s.name))">
        {{ s.reading.value.toFixed(Math.max(0, Math.ceil(-Math.log10(s.reading.resolution)))) }} {{ s.reading.unit }}
        <span class="keys">{{ takeKey }}</span>
      </ElButton>
    </div>
    <p v-if="told" class="look" role="alert">{{ told }}</p>
    <p v-if="readings.length" class="fig">
      {{ measured(shown) }}
      <span class="quiet">n {{ readings.length }}{{ from ? `, ${from}` : '' }}</span>
    </p>
    <p v-if="readings.length" class="chips">
      <button
        v-for="(r, i) in readings"
        :key="i"
        type="button"
        class="bare fig"
        :aria-label="`Take ${r} back`"
        @click="drop(i)"
      >
        {{ r.toFixed(decimals) }} ×
      </button>
    </p>
  </div>
</template>

<style scoped>
.measure {
  margin-bottom: 12px;
  border-left: 3px solid transparent;
  padding-left: 8px;
}
.measure.here {
  border-left-color: var(--pine);
}
.measure :deep(.el-input) {
  flex: 1 0 100%;
}
label {
  display: block;
  line-height: 1.3;
  padding-bottom: 3px;
}
p {
  margin: 4px 0 0;
}
.chips {
  display: flex;
  gap: 10px;
  flex-wrap: wrap;
  font-size: 14px;
}
</style>
