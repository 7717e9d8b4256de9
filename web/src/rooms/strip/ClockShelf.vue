<script setup lang="ts">
import { ElButton, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, ref } from 'vue'

import type { Schemas } from '../../api/client'
import { filming, type useClocks } from '../../shared/bench/clocks'
import { minutes, clock as time } from '../../shared/format'

/** Heat of both faces, what comes next there, and the running waits. */
const props = defineProps<{
  state: Schemas['StripUnitState']
  unit: Schemas['Unit']
  schools: Schemas['DoseSchool'][]
  /** Seconds that clamps stay on a new seal. */
  cure: number
  clocks: ReturnType<typeof useClocks>
  writes: boolean
}>()
const open = ref(false)
const school = ref('plate')
const plan = reactive({ face: 'front', seconds: 120, set: 80 })
const chosen = computed(() => props.schools.find((s) => s.id === school.value)!)
const heats = computed(() => chosen.value.hot)
function choose() {
  const advice = props.state.heat.find((h) => h.face === plan.face)
  plan.seconds = heats.value && advice?.next_seconds ? advice.next_seconds : chosen.value.seconds
  plan.set = chosen.value.set_c ?? 0
}
function start() {
  const s = chosen.value
  const line = heats.value
    ? `h ${s.method} ${plan.set ? `${plan.set}C ` : ''}${plan.face}`
    : s.method === 'solvent'
      ? `w alcohol ${plan.face}`
      : s.method === 'tabs+solvent'
        ? 'w alcohol battery'
        : `c battery ${s.method === 'voltage' ? 'voltage' : s.name.toLowerCase()}`
  props.clocks.start({
    unit: props.unit.id,
    name: props.unit.name,
    task: heats.value ? 'soak' : s.method === 'voltage' ? 'release' : 'dwell',
    face: s.for === 'opening' ? plan.face : 'battery',
    line,
    seconds: plan.seconds,
  })
  open.value = false
}
function clamp() {
  props.clocks.start({
    unit: props.unit.id,
    name: props.unit.name,
    task: 'cure',
    face: 'edge',
    line: '? clamps off, glue cured',
    seconds: props.cure,
  })
}
</script>

<template>
  <section id="heat">
    <h2>Heat and waits</h2>
    <p v-for="h in state.heat" :key="h.face" :class="{ danger: h.halt }">
      <b>{{ unit.name }}, {{ h.face }}:&nbsp;</b>
      <span class="fig">{{ h.minutes.toFixed(1) }}</span>
      min in {{ h.rounds }} {{ h.rounds === 1 ? 'round' : 'rounds' }}. {{ h.text }}
      <small class="quiet">
        At most {{ h.limit.c }} °C{{ h.limit.seconds ? ` for ${h.limit.seconds} s` : '' }}: {{ h.limit.why }}.
      </small>
      <small v-for="w in h.warn" :key="w" class="look">{{ w }}</small>
    </p>
    <p v-if="!state.heat.length" class="quiet">No heat on {{ unit.name }} yet.</p>
    <ul v-if="clocks.running.value.length" class="plain clocks">
      <li
        v-for="c in clocks.running.value"
        :key="c.id"
        :class="{ over: c.left <= 0, soon: c.left > 0 && c.left <= 10 }"
      >
        <b>{{ c.name }}</b>
        {{ c.task }}, {{ c.face }}
        <span class="fig">{{ c.left > 0 ? time(c.left) : `over by ${time(-c.left)}` }}</span>
      </li>
    </ul>
    <div v-if="writes" class="row">
      <ElButton :aria-expanded="open" @click="((open = !open), choose())">Start a wait</ElButton>
      <ElButton @click="clamp">Clamps on: cure {{ minutes(cure / 60) }}</ElButton>
      <label class="film">
        <input v-model="filming" type="checkbox" />
        filming: flash, no sound
      </label>
    </div>
    <div v-if="open" class="start">
      <div class="row">
        <ElSelect
          v-model="school"
          :teleported="false"
          aria-label="How it is softened or released"
          style="width: 250px"
          @change="choose"
        >
          <ElOption v-for="s in schools" :key="s.id" :value="s.id" :label="`${s.for}: ${s.name}`" />
        </ElSelect>
        <ElSelect
          v-if="chosen.for === 'opening'"
          v-model="plan.face"
          :teleported="false"
          aria-label="Face"
          style="width: 100px"
          @change="choose"
        >
          <ElOption value="front" label="front" />
          <ElOption value="back" label="back" />
        </ElSelect>
        <ElInputNumber v-model="plan.seconds" :min="1" :max="7200" :step="15" aria-label="Seconds" />
        s
        <template v-if="heats">
          <ElInputNumber v-model="plan.set" :min="0" :max="300" :step="5" aria-label="Set °C" />
          °C
        </template>
      </div>
      <p class="quiet">
        For: {{ chosen.pros }}. Against: {{ chosen.cons }}.
        <span class="look">{{ chosen.caution }}</span>
        ({{ chosen.certainty }})
      </p>
      <ElButton type="primary" @click="start">Start for {{ unit.name }}</ElButton>
    </div>
  </section>
</template>

<style scoped>
small {
  display: block;
}
.clocks li {
  display: flex;
  gap: 10px;
  align-items: baseline;
}
.clocks .fig {
  margin-left: auto;
  font-size: 20px;
}
.over {
  background: var(--brick-wash);
}
.soon {
  background: var(--amber-wash);
}
.film {
  font-size: 14px;
}
.start {
  margin-top: 8px;
}
</style>
