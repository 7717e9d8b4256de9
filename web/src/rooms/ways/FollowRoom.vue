<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { computed, onMounted, reactive, ref, shallowRef } from 'vue'
import { useRoute } from 'vue-router'

import { api } from '../../api/client'
import AskPanel from '../../shared/bench/AskPanel.vue'
import { reader, type Reader } from '../../shared/bench/reader'
import { useStops } from '../../shared/bench/useStops'
import CautionList from '../../shared/CautionList.vue'
import DriveMark from '../../shared/DriveMark.vue'
import { clock } from '../../shared/format'
import { typing } from '../../shared/keys'
import PhoneMap from '../../shared/PhoneMap.vue'
import { useRoom } from '../../shared/useRoom'
import { useTrade } from '../../shared/useTrade'
import { act, order, toolOf } from '../../words'
import HowItWent from './HowItWent.vue'

/** One step a screen, screws ticked off, the why beside it; any key of the list is the next step. */
const route = useRoute()
const id = String(route.params.id)
const part = String(route.params.part)
const { room: asked, error } = useRoom(['ways', id, 'attended_seconds', ''], () =>
  api.GET('/api/models/{id}/ways', { params: { path: { id }, query: { minimise: 'attended_seconds' } } }),
)
// Nothing is shown, and no key counts, before the stops can be asked: the reader is there, or will not come.
const bench = shallowRef<Reader>()
const settled = ref(false)
onMounted(async () => {
  bench.value = await reader().catch(() => undefined)
  settled.value = true
})
const room = computed(() => (settled.value ? asked.value : undefined))
const way = computed(() => room.value?.ways.find((w) => w.part_id === part))
const at = ref(0)
const step = computed(() => way.value?.steps[at.value])
const ended = computed(() => way.value && at.value >= way.value.steps.length)
const ticked = reactive<Record<string, number>>({})
const screws = computed(() => (threaded(step.value?.joint) ? Math.max(1, step.value?.count ?? 1) : 0))
const begun = ref(Date.now())
const pace = computed(() => room.value?.pace)
const words: Record<string, string> = {
  unfasten: 'turn the screws out',
  bracket: 'take the metal plate off; it may have to slide first',
  disconnect: 'lift the plug straight up, never by its cable',
  peel: 'pull the tape off flat and slowly',
  cut: 'run a plastic pick through the glue',
  heat: 'warm the glue until it gives',
  solvent: 'let alcohol creep into the glue',
  slide: 'push the latch',
  pry: 'lever with a plastic tool',
  lift: 'take the part out',
}
function tick() {
  const s = step.value
  if (s) ticked[s.id] = Math.min(screws.value, (ticked[s.id] ?? 0) + 1)
}
const go = (by: number) => (at.value = Math.max(0, Math.min(way.value?.steps.length ?? 0, at.value + by)))

// What is done so far, for the stops; and how they were answered, which is told with how the job went.
const done = ref<string[]>([])
const told = ref<string[]>([])
const { stop, ask, answered } = useStops()
/** A step is done: what is dangerous about it stops first. */
function onward() {
  const s = step.value
  if (!s) return
  const before = done.value.filter((d) => d !== s.id).map((d) => `=${d}`)
  const planned = room.value!.bench.steps.find((p) => p.id === s.id)
  ask(planned && bench.value ? bench.value.stops(room.value!.bench, before, planned) : [], (said, stopped) => {
    for (const t of said) told.value.push(`stop “${t.rule}” at step ${at.value + 1}: ${t.answer}`)
    if (stopped) return
    if (!done.value.includes(s.id)) done.value.push(s.id)
    go(1)
  })
}
useEventListener('keydown', (e: KeyboardEvent) => {
  if (typing(e) || e.ctrlKey || e.metaKey || e.altKey || !way.value || stop.value) return
  if (e.key === 'ArrowRight' || e.key === 'Enter') onward()
  else if (e.key === 'ArrowLeft') go(-1)
  else if (e.key === ' ') {
    e.preventDefault()
    tick()
  }
})

const { threaded } = useTrade()
</script>

<template>
  <div class="follow">
    <p v-if="error" role="alert" class="danger">{{ error.message }}</p>
    <p v-else-if="room && !way" class="danger">No way to this part is on record.</p>
    <template v-if="room && way">
      <header>
        <h1 class="answer">
          {{ room.model.name }}, {{ way.part }}:
          <template v-if="step">step {{ at + 1 }} of {{ way.steps.length }}</template>
          <template v-else>out. How did it go?</template>
        </h1>
        <p class="quiet">
          {{ Math.round(way.elapsed_minutes) }} min in
          <template v-if="pace?.n">; at your pace ×{{ pace.ratio.toFixed(1) }} (n = {{ pace.n }})</template>
        </p>
      </header>
      <div v-if="step" class="step">
        <PhoneMap
          class="plan"
          :model="room.model"
          :parts="room.parts"
          :selected="way.part_id"
          :walk="way.steps"
          :here="at"
          :label="`Where step ${at + 1} is, of ${room.model.name}`"
        />
        <section>
          <p class="do">
            <b :title="words[step.verb]">{{ act(step.verb, step.what) }}</b>
            {{ step.what }}
            <DriveMark :drive="step.drive" :length="step.length_mm" />
          </p>
          <p v-if="words[step.verb]" class="quiet">That is: {{ words[step.verb] }}.</p>
          <dl>
            <div>
              <dt>Tool</dt>
              <dd>{{ toolOf(step) }}</dd>
            </div>
            <div>
              <dt>Side up</dt>
              <dd>{{ step.side === 'any' ? 'either' : step.side }}</dd>
            </div>
            <div>
              <dt>Time</dt>
              <dd class="fig">
                {{ clock(step.seconds) }}{{ step.wait_seconds ? ` + wait ${clock(step.wait_seconds)}` : '' }}
                <small class="quiet">{{ step.runs ? `n = ${step.runs}` : 'predicted' }}</small>
              </dd>
            </div>
          </dl>
          <div
            v-if="screws"
            class="screws"
            role="group"
            :aria-label="`${ticked[step.id] ?? 0} of ${screws} screws out`"
          >
            <button
              v-for="n in screws"
              :key="n"
              :class="{ on: n <= (ticked[step.id] ?? 0) }"
              :aria-label="`Screw ${n}`"
              @click="tick"
            >
              {{ n }}
            </button>
            <span class="quiet">
              {{ ticked[step.id] ?? 0 }} of {{ screws }}
              <span class="keys">space</span>
            </span>
          </div>
          <p v-if="step.fastener.hidden_under" class="look">Some hide under {{ step.fastener.hidden_under }}.</p>
          <p v-if="step.fastener.magnetic === 'no'" class="look">Not magnetic, on purpose: keep them apart.</p>
          <p v-if="step.frees.length">
            Comes out: {{ step.frees.map((f) => room!.parts.find((p) => p.id === f)?.name).join(', ') }}
          </p>
          <CautionList :cautions="step.cautions" :notice="room.notice" />
          <img
            v-for="p in step.photos.slice(0, 2)"
            :key="p"
            :src="`/api/photos/${p}/full`"
            :alt="`picture of ${step.what}`"
          />
          <p v-if="way.steps[at + 1]" class="then quiet">
            Then: {{ order(way.steps[at + 1]!.verb, way.steps[at + 1]!.what) }}
          </p>
        </section>
      </div>
      <HowItWent
        v-else-if="ended"
        :model="id"
        :way="way"
        :parts="room.parts"
        :done="done"
        :told="told"
        :begun="begun"
      />
      <AskPanel v-if="stop" :key="stop.title" v-bind="stop" :title="`Stop: ${stop.title}`" danger @answer="answered" />
      <nav class="moves" aria-label="Steps">
        <ElButton size="large" :disabled="!at" @click="go(-1)">
          Back
          <span class="keys">←</span>
        </ElButton>
        <ElSelect v-model="at" :teleported="false" aria-label="Anywhere is next" style="flex: 1; min-width: 90px">
          <ElOption v-for="(s, i) in way.steps" :key="s.id" :value="i" :label="`${i + 1} ${order(s.verb, s.what)}`" />
          <ElOption :value="way.steps.length" label="done: how did it go?" />
        </ElSelect>
        <ElButton v-if="!ended" type="primary" size="large" @click="onward">
          Done, next
          <span class="keys">→</span>
        </ElButton>
      </nav>
    </template>
  </div>
</template>

<style scoped>
.follow {
  padding: 16px 24px 100px;
}
h1 {
  font-size: 26px;
}
.step {
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(0, 6fr);
  gap: 32px;
  align-items: start;
  margin-top: 10px;
}
.plan :deep(svg) {
  max-height: none;
  height: calc(100dvh - 260px);
  min-height: 340px;
}
.do {
  font-size: 44px;
  line-height: 1.15;
  overflow-wrap: anywhere;
}
.do :deep(svg) {
  width: 0.9em;
  height: 0.9em;
}
.step section {
  font-size: 20px;
}
.then {
  margin-top: 18px;
  border-top: 1px solid var(--line);
  padding-top: 10px;
}
dl {
  display: flex;
  gap: 28px;
  flex-wrap: wrap;
  margin: 16px 0;
}
dt {
  color: var(--quiet);
  font-size: 16px;
}
dd {
  margin: 0;
  font-size: 28px;
}
@media (max-width: 900px) {
  .moves {
    padding: 10px 12px;
  }
  .moves .keys {
    display: none;
  }
  .follow {
    padding: 12px 14px 130px;
  }
  .step {
    grid-template-columns: 1fr;
    gap: 12px;
  }
  .step section {
    order: -1;
  }
  .do {
    font-size: 32px;
  }
  dd {
    font-size: 22px;
  }
  .plan :deep(svg) {
    height: 340px;
  }
}
.screws {
  display: flex;
  gap: 8px;
  flex-wrap: wrap;
  align-items: center;
  margin: 12px 0;
}
.screws button {
  width: 72px;
  height: 72px;
  border-radius: 50%;
  border: 2px solid var(--ink);
  background: var(--sheet);
  color: var(--ink);
  font: 600 26px var(--mono);
  cursor: pointer;
}
.screws button.on {
  background: var(--pine);
  color: var(--on-pine);
  border-color: var(--pine);
}
img {
  max-width: 100%;
  max-height: 300px;
}
.moves {
  position: fixed;
  left: 0;
  right: 0;
  bottom: 0;
  display: flex;
  gap: 10px;
  padding: 10px 20px;
  background: var(--ground);
  border-top: 1px solid var(--ink);
  z-index: 10;
  align-items: center;
}
</style>
