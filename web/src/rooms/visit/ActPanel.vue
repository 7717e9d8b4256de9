<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '../../api/client'
import CautionList from '../../shared/CautionList.vue'
import DriveMark from '../../shared/DriveMark.vue'
import { clock } from '../../shared/format'
import PhoneMap from '../../shared/PhoneMap.vue'
import TermWord from '../../shared/TermWord.vue'
import { useTrade } from '../../shared/useTrade'
import { toolOf } from '../../words'
import type { Act } from './useRepair'

/** One act: the order, its screws, with what, how long it takes, why, where it lies, and which row of the tray it fills. */
const props = defineProps<{
  room: Schemas['VisitRoom']
  act: Act
  step?: Schemas['ModelWayStep']
  here: number
  ticked: number
  done: boolean
  keys: Set<string>
  counted: Act[]
  /** A wait has its own figures. */
  quiet?: boolean
}>()
const emit = defineEmits<{ tick: [] }>()
const picture = computed(() => props.step?.photos[0])
const out = computed(() => (props.done ? (props.act.screws ?? 0) : props.ticked))
/** The rows of the parts tray: screws by the step that takes them out, in their order. */
const rows = computed(() =>
  props.counted
    .filter((a) => a.kind === 'step' && a.screws)
    .map((a, i) => ({
      letter: String.fromCharCode(65 + (i % 26)),
      step: a.step_id,
      text: a.text.replace(/^Unscrew /, ''),
      n: a.screws!,
      lies:
        props.act.step_id === a.step_id && !props.done
          ? props.act.kind === 'step'
            ? props.ticked
            : a.screws! - props.ticked
          : props.keys.has(`in ${a.step_id}`) && !props.keys.has(`back ${a.step_id}`)
            ? a.screws!
            : 0,
    })),
)
const row = computed(() => (props.act.screws ? rows.value.find((x) => x.step === props.act.step_id) : undefined))
const shown = computed(() => {
  const k = row.value ? rows.value.indexOf(row.value) : -1
  return k < 0 ? [] : rows.value.slice(Math.max(0, k - 1), k + 1)
})
const then = computed(() => props.counted[props.counted.findIndex((a) => a.key === props.act.key) + 1])
const pace = computed(() => (props.room.pace.n ? props.room.pace.ratio : 0))
const { trade } = useTrade()
/** Words of the step that a newcomer may not know, explained on tap. */
const words = computed(() =>
  [props.step?.joint, props.step?.drive].filter((w): w is string =>
    Boolean(w && trade.value.terms.some((t) => t.word === w)),
  ),
)
</script>

<template>
  <div class="act">
    <div class="where">
      <img v-if="picture" :src="`/api/photos/${picture}/full`" :alt="`picture of ${act.text}`" />
      <PhoneMap
        v-else-if="room.way"
        class="plan"
        :model="room.model"
        :parts="room.parts"
        :selected="act.part_id || room.visit.part_id"
        :walk="room.way.steps"
        :here="here >= 0 ? here : undefined"
        :label="`Where it is: ${act.text}`"
        listed
      />
    </div>
    <section>
      <h1 class="do">
        {{ act.text }}
        <DriveMark v-if="step?.drive" :drive="step.drive" :length="step.length_mm" />
        <small v-if="done" class="quiet">done</small>
      </h1>
      <div
        v-if="act.screws"
        class="screws"
        role="group"
        :aria-label="`${out} of ${act.screws} screws ${act.kind === 'step' ? 'out' : 'in'}`"
      >
        <button
          v-for="n in act.screws"
          :key="n"
          :class="{ on: n <= out, now: n === out + 1 }"
          :aria-label="`Screw ${n}`"
          @click="emit('tick')"
        >
          {{ n }}
        </button>
      </div>
      <slot />
      <dl v-if="!quiet">
        <div v-if="step && act.kind !== 'gate'">
          <dt>With</dt>
          <dd>{{ toolOf(step) }}</dd>
        </div>
        <div v-if="act.seconds">
          <dt>Takes</dt>
          <dd>
            {{ clock(act.seconds) }}
            <template v-if="pace">
              , at your pace {{ clock(act.seconds * pace) }} (×{{ pace.toFixed(1) }}, n = {{ room.pace.n }})
            </template>
            <small class="quiet">
              &nbsp;{{ act.runs ? `${act.runs} ${act.runs === 1 ? 'run' : 'runs'}` : 'predicted' }}
            </small>
          </dd>
        </div>
        <div v-if="act.why">
          <dt>Why</dt>
          <dd>{{ act.why }}</dd>
        </div>
        <div v-if="act.consumable">
          <dt>New</dt>
          <dd>{{ act.consumable }}</dd>
        </div>
        <div v-if="step?.frees.length && act.kind === 'step'">
          <dt>Comes out</dt>
          <dd>{{ step.frees.map((f) => room.parts.find((p) => p.id === f)?.name).join(', ') }}</dd>
        </div>
        <div v-if="words.length">
          <dt>Words</dt>
          <dd>
            <template v-for="(w, i) in words" :key="w">
              {{ i ? ', ' : '' }}
              <TermWord :word="w" />
            </template>
          </dd>
        </div>
      </dl>
      <p v-if="step?.fastener.hidden_under && act.screws" class="look">
        Some hide under {{ step.fastener.hidden_under }}.
      </p>
      <p v-if="step?.fastener.magnetic === 'no' && act.screws" class="look">
        Not magnetic, on purpose: keep them apart.
      </p>
      <ul v-if="act.kind === 'line' && act.screws" class="plain">
        <li v-for="a in room.alike[act.step_id ?? ''] ?? []" :key="a" class="look">Look twice: {{ a }}.</li>
      </ul>
      <template v-if="row">
        <p class="tray">{{ act.kind === 'step' ? 'Into' : 'From' }} the parts tray, row {{ row.letter }}</p>
        <div v-for="x in shown" :key="x.letter" class="trayrow" :class="{ now: x === row }">
          <b>{{ x.letter }}</b>
          <span>{{ x.text }}</span>
          <span class="fig">{{ x.lies }} of {{ x.n }}</span>
        </div>
      </template>
      <CautionList v-if="step && act.kind !== 'gate' && !quiet" :cautions="step.cautions" :notice="room.notice" />
      <p v-if="then && !quiet" class="then quiet">Then: {{ then.text }}</p>
    </section>
  </div>
</template>

<style scoped>
.act {
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(0, 7fr);
  gap: 36px;
  align-items: start;
}
.plan :deep(svg) {
  max-height: none;
  height: calc(100dvh - 280px);
  min-height: 320px;
}
img {
  max-width: 100%;
  max-height: calc(100dvh - 280px);
}
.do {
  font-size: 34px;
  line-height: 42px;
  font-weight: 600;
  overflow-wrap: anywhere;
}
.do :deep(svg) {
  width: 0.9em;
  height: 0.9em;
}
.do small {
  font-size: 20px;
  font-weight: 400;
}
.screws {
  display: flex;
  gap: 10px;
  flex-wrap: wrap;
  margin: 12px 0 16px;
}
.screws button {
  width: 72px;
  height: 72px;
  border-radius: 50%;
  border: 2px solid var(--ink);
  background: var(--sheet);
  color: var(--ink);
  font: 600 26px var(--text);
  cursor: pointer;
}
.screws button.now {
  border-color: var(--amber-fill);
  border-width: 4px;
}
.screws button.on {
  background: var(--pine);
  color: var(--on-pine);
  border-color: var(--pine);
}
dl > div {
  display: grid;
  grid-template-columns: 110px 1fr;
  gap: 10px;
  font-size: 20px;
  line-height: 27px;
  margin-bottom: 6px;
}
dt {
  color: var(--quiet);
}
dd {
  margin: 0;
}
.tray {
  font-size: 18px;
  margin: 14px 0 6px;
}
.trayrow {
  display: flex;
  gap: 14px;
  padding: 8px 14px;
  border: 1px solid var(--line);
  font-size: 18px;
}
.trayrow .fig {
  margin-left: auto;
  white-space: nowrap;
}
.trayrow.now {
  background: var(--amber-wash);
  border-color: var(--amber-fill);
}
.then {
  margin-top: 18px;
  border-top: 1px solid var(--line);
  padding-top: 10px;
  font-size: 19px;
}
@media (max-width: 900px) {
  .act {
    grid-template-columns: 1fr;
    gap: 12px;
  }
  section {
    order: -1;
  }
  .do {
    font-size: 26px;
    line-height: 32px;
  }
  .screws button {
    width: 60px;
    height: 60px;
  }
  dl > div {
    grid-template-columns: 90px 1fr;
    font-size: 18px;
  }
  .plan :deep(svg) {
    height: 300px;
  }
}
</style>
