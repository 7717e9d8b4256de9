<script setup lang="ts">
import { useEventListener, useIntervalFn } from '@vueuse/core'
import { ElButton } from 'element-plus'
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute } from 'vue-router'

import { api, newId, take, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import { useBenchView } from '../../shared/benchView'
import AskPanel from '../../shared/bench/AskPanel.vue'
import BenchLine from '../../shared/bench/BenchLine.vue'
import { useClocks } from '../../shared/bench/clocks'
import TrayPanel from '../../shared/bench/TrayPanel.vue'
import { useBench } from '../../shared/bench/useBench'
import { keyOf, typing, type BenchKey } from '../../shared/keys'
import PhoneMap from '../../shared/PhoneMap.vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import { nextSticker } from '../../shared/stickers'
import { useChange } from '../../shared/useChange'
import { useSession } from '../../shared/session'
import ClockShelf from './ClockShelf.vue'
import EntryForm from './EntryForm.vue'
import FactForm from './FactForm.vue'
import LogList from './LogList.vue'
import MatShelf from './MatShelf.vue'
import ListenPanel from './ListenPanel.vue'
import { syncMark } from './offset'
import PartForm from './PartForm.vue'
import PartsByFamily from './PartsByFamily.vue'
import PhotoShelf from './PhotoShelf.vue'
import PlanHints from './PlanHints.vue'
import StepForm from './StepForm.vue'
import TilePad from './TilePad.vue'
import TraceDialog from './TraceDialog.vue'
import UnitBand from './UnitBand.vue'
import { useEntering } from './useEntering'
import { useOlderLog } from './useOlderLog'
import { useRoom } from '../../shared/useRoom'
import { useUndo } from '../../shared/useUndo'

const id = String(useRoute().params.id)
const { room, error } = useRoom(['strip', id], () => api.GET('/api/studies/{id}/strip', { params: { path: { id } } }))
const { may } = useSession()
const writes = may('studies')
const { large } = useBenchView()
const picked = ref(String(useRoute().query.phone ?? ''))
const unit = computed(() => room.value?.units.find((u) => u.id === picked.value) ?? room.value?.units[0])
const state = computed(() => room.value?.state.find((s) => s.unit_id === unit.value?.id))
const steps = computed(() => new Map(room.value?.steps.map((s) => [s.id, s])))
const shown = computed(() => room.value?.log.filter((e) => e.unit_id === unit.value?.id) ?? [])
const { log, by, older, further, trouble } = useOlderLog(id, room, unit, shown)
const part = ref<Schemas['Part'] | 'new'>()
const adding = ref(false)
const telling = ref(false)
const tracing = ref(false)
const step = ref<Schemas['PlanStep']>()
const entry = ref<Schemas['LogEntry']>()

// The stopwatch keeps a stamp, so that a slow page cannot lose time.
const started = ref<number>()
const now = ref(Date.now())
useIntervalFn(() => (now.value = Date.now()), 250)
const ticking = computed(() => (started.value ? Math.max(0, (now.value - started.value) / 1000) : 0))
const startStop = () => (started.value = started.value ? undefined : Date.now())

const bench = useBench(id, state, unit)
const { queued, tray, next } = bench
const clocks = useClocks(id)
const { problem, mine, theirs, busy, save } = useChange()
const {
  gone: undone,
  offer,
  undo: redo,
} = useUndo((entry: Schemas['LogEntry']) =>
  save((_, header) =>
    take(
      api.POST('/api/log/{id}/restore', {
        params: { path: { id: entry.id }, query: { version: entry.version + 1 }, header },
      }),
    ),
  ),
)
const line = ref<InstanceType<typeof BenchLine>>()
// A line that the server refused stands in its field again, with the reason, to be sent once more.
const mended = new Set<number>()
watch(tray, (list) => {
  for (const e of list) {
    if (!e.line || !e.problem || mended.has(e.seq!) || e.unit !== unit.value?.id) continue
    mended.add(e.seq!)
    line.value?.again(String(e.body?.line ?? e.line), e.problem.detail ?? e.problem.title ?? 'It was refused.')
  }
})
const photos = ref<InstanceType<typeof PhotoShelf>>()

const { question, answered, write, tile, record, entered, silence, stopsOf } = useEntering({
  room,
  picked,
  unit,
  state,
  steps,
  started,
  bench,
  clocks,
})
async function undo() {
  const entry = log.value.at(-1)
  if ((await bench.undo(entry)) === 'sent') offer(entry)
}
function flip() {
  const units = room.value?.units ?? []
  picked.value = units[(units.findIndex((u) => u.id === unit.value?.id) + 1) % units.length]?.id ?? ''
  started.value = undefined
}
/** A line that begins with the name of the other phone is about that one. */
async function turn(name: string, rest: string) {
  const other = room.value?.units.find((u) => u.name === name || u.aliases?.includes(name))
  if (!other) return
  picked.value = other.id
  started.value = undefined
  await nextTick()
  line.value?.put(rest)
}
useEventListener('keydown', (e: KeyboardEvent) => {
  if (e.repeat || typing(e) || e.ctrlKey || e.metaKey || e.altKey || question.value) return
  const is = (k: BenchKey) => e.key === keyOf(k)
  if (is('flip')) flip()
  if (!writes.value) return
  const chosen = /^[1-8]$/.test(e.key) ? next.value[Number(e.key) - 1] : undefined
  if (chosen) void tile(chosen)
  else if (is('undo')) void undo()
  else if (is('silence')) silence()
  else if (is('still')) void photos.value?.still()
  else if (is('watch')) startStop()
  else if (is('sync')) void write({ kind: 'note', note: syncMark }, syncMark)
  else if (is('line') || e.key === ';') {
    e.preventDefault()
    line.value?.focus()
  } else if (is('step') && unit.value) {
    e.preventDefault()
    adding.value = true
  }
})
/** In review: the time of an entry was a break, and does not count. */
async function pauseOf(e: Schemas['LogEntry']) {
  await save((v, header) =>
    take(
      api.PUT('/api/log/{id}', {
        params: { path: { id: e.id }, header },
        body: { version: v ?? e.version, seconds: 0, note: e.note, reason: e.reason, part_id: e.part_id },
      }),
    ),
  )
}
const firstId = newId()
/** The bench can begin with a phone of which only its sticker is known. */
const first = () =>
  save((_, header) =>
    take(
      api.POST('/api/studies/{id}/units', {
        params: { path: { id }, header },
        body: { id: firstId, ...nextSticker(0) },
      }),
    ),
  )
const moving = ref(false)
const placed = computed(() => room.value?.parts.filter((p) => p.w_mm && p.h_mm) ?? [])
const unplaced = computed(() => room.value?.parts.filter((p) => !(p.w_mm && p.h_mm)) ?? [])
/** A part that is dropped on the plan lies there, in the size of a coin until somebody measures it. */
const coin = 12
async function place(p: string, x: number, y: number) {
  await put(p, { x_mm: Math.max(0, x - coin / 2), y_mm: Math.max(0, y - coin / 2), w_mm: coin, h_mm: coin })
}
/** What is dictated is proposed in the place of the line. */
const listening = ref(false)
const move = (p: string, x: number, y: number) => put(p, { x_mm: x, y_mm: y })
async function put(p: string, change: Partial<Schemas['Part']>) {
  const known = room.value?.parts.find((q) => q.id === p)
  if (!known) return
  // eslint-disable-next-line @typescript-eslint/no-unused-vars
  const { id: _id, version, model_id: _model, kind_guess: _guess, ...facts } = known
  await save((v, header) =>
    take(
      api.PUT('/api/parts/{id}', {
        params: { path: { id: p }, header },
        body: { version: v ?? version, ...facts, ...change },
      }),
    ),
  )
}
const open = (p: string) => {
  if (writes.value) part.value = room.value?.parts.find((x) => x.id === p)
}
</script>

<template>
  <div class="room bench" :class="{ flash: clocks.loudest.value && clocks.filming.value }">
    <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
    <AnswerLine v-else class="answer" :sentence="state?.answer ?? room?.answer" />
    <template v-if="room">
      <UnitBand
        v-if="unit"
        :unit="unit"
        :several="room.units.length > 1"
        :writes="writes"
        :seconds="ticking"
        :timing="Boolean(started)"
        :screws="state?.screws ?? 0"
        :parts="state?.out.length ?? 0"
        @flip="flip"
        @watch="startStop"
      />
      <div class="top">
        <section class="plan">
          <h2 id="parts">
            {{ placed.length || moving ? 'Plan' : 'Parts, by family' }}
            <template v-if="writes && !large">
              <button type="button" class="bare link no-print said" @click="part = 'new'">Add a part</button>
              <button
                v-if="room.parts.length"
                type="button"
                class="bare link no-print said"
                :aria-pressed="moving"
                @click="moving = !moving"
              >
                {{ moving ? 'Done placing' : placed.length ? 'Drag parts to their place' : 'Place them' }}
              </button>
              <button v-if="room.photos.length" type="button" class="bare link no-print said" @click="tracing = true">
                Trace a picture
              </button>
            </template>
          </h2>
          <template v-if="placed.length || moving">
            <PhoneMap
              :model="room.model"
              :parts="room.parts"
              :out="state?.out"
              :joints="room.steps"
              :movable="moving"
              :depth="!large && !moving"
              :compact="!large"
              :codes="large"
              listed
              @select="open"
              @move="move"
              @place="place"
            />
            <PartsByFamily
              v-if="unplaced.length && !large"
              label="Not on the plan yet"
              :parts="unplaced"
              :out="state?.out ?? []"
              :draggable="moving"
              :opens="writes"
              @select="open"
            />
          </template>
          <template v-else>
            <PartsByFamily
              label="Parts, by family"
              :parts="room.parts"
              :out="state?.out ?? []"
              :draggable="false"
              :opens="writes"
              @select="open"
            />
            <p class="quiet">
              {{
                room.parts.length
                  ? 'None has a place yet: place them on the plan, or trace them on a picture.'
                  : 'No part is on record yet: write down what you see, and it stands here.'
              }}
            </p>
          </template>
        </section>
        <section v-if="unit" id="log">
          <h2>
            Log of {{ unit.name }}
            <RouterLink v-if="writes" class="no-print said" :to="{ name: 'narration', params: { id } }">
              from a recording
            </RouterLink>
            <button
              v-if="writes"
              type="button"
              class="bare link no-print said"
              :aria-pressed="listening"
              @click="listening = !listening"
            >
              {{ listening ? 'type' : 'dictate' }}
            </button>
            <button
              v-if="writes"
              type="button"
              class="bare link no-print said"
              :disabled="(!log.length && !queued.length) || busy"
              @click="undo"
            >
              Undo my last on {{ unit.name }}
              <span class="keys">{{ keyOf('undo') }}</span>
            </button>
          </h2>
          <p v-if="undone" class="undo" role="status">
            {{ unit.name }}: taken back.
            <ElButton @click="redo">Bring it back</ElButton>
          </p>
          <ul v-if="queued.length" class="plain waiting">
            <li v-for="q in queued" :key="q.seq">
              {{ q.text }}
              <span class="quiet">waiting</span>
            </li>
          </ul>
          <LogList
            :log="log"
            :steps="steps"
            :parts="room.parts"
            :long="state?.long ?? []"
            :by="by"
            :older="older"
            :films="room.films.filter((e) => e.unit_id === unit?.id)"
            :writes="writes"
            :trouble="trouble"
            @further="further"
            @edit="(e) => (entry = e)"
            @pause="pauseOf"
            @step="(s) => (step = s)"
            @back="(s) => record({ step_id: s, back: true })"
          />
        </section>
      </div>
      <section v-if="unit" id="next">
        <h2 class="hidden">Next on {{ unit.name }}</h2>
        <TilePad :next="next" :steps="steps" :writes="writes" @tile="tile" />
        <div v-if="writes" class="row">
          <span v-if="!next.length" class="quiet">The plan knows nothing further: write down what you do next.</span>
          <ElButton :type="next.length ? undefined : 'primary'" @click="adding = true">
            A new step
            <span class="keys">{{ keyOf('step') }}</span>
          </ElButton>
          <ElButton @click="telling = true">Another fact</ElButton>
        </div>
      </section>
      <p v-if="!unit" class="row">
        <ElButton v-if="writes" type="primary" :loading="busy" @click="first">
          Record {{ nextSticker(0).name }}, the first phone
        </ElButton>
        <RouterLink :to="{ name: 'intake', params: { id } }">To intake: what it shows before it is opened</RouterLink>
      </p>
      <div class="below">
        <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
        <TrayPanel :tray="tray" />
        <ClockShelf
          v-if="unit && state"
          :state="state"
          :unit="unit"
          :schools="room.schools"
          :cure="room.cure_seconds"
          :clocks="clocks"
          :writes="writes"
        />
        <PhotoShelf
          v-if="unit"
          ref="photos"
          :study="id"
          :unit="unit"
          :photos="room.photos"
          :entry="log.at(-1)?.id"
          :writes="writes"
        />
        <MatShelf :state="state" :unit="unit?.name" :cautions="next[0]?.cautions ?? []" :notice="room.notice" />
        <PlanHints :hints="room.hints" :steps="steps" :writes="writes" />
      </div>
    </template>
    <StepForm
      v-if="adding && room && unit"
      :study="id"
      :room="room"
      :unit="unit"
      :done="log.at(-1)?.step_id"
      :seconds="started ? ticking : 0"
      :stops="stopsOf"
      @close="adding = false"
    />
    <StepForm
      v-if="step && room && unit"
      :study="id"
      :room="room"
      :unit="unit"
      :step="step"
      @close="step = undefined"
    />
    <PartForm
      v-if="part && room"
      :names="room.parts.map((p) => p.name)"
      :model="room.model.id"
      :others="part === 'new' ? [] : room.parts.filter((p) => p.id !== (part as Schemas['Part']).id)"
      :part="part === 'new' ? undefined : part"
      @close="part = undefined"
    />
    <FactForm
      v-if="telling && room && unit"
      :unit="unit"
      :parts="room.parts"
      @log="(body, text) => write(body, text)"
      @close="telling = false"
    />
    <TraceDialog
      v-if="tracing && room"
      :model="room.model"
      :parts="room.parts"
      :photos="room.photos"
      @close="tracing = false"
    />
    <EntryForm v-if="entry && room" :entry="entry" :parts="room.parts" @close="entry = undefined" />
    <AskPanel
      v-if="question"
      :key="question.title"
      :title="question.title"
      :text="question.text"
      :answers="question.answers"
      :danger="question.danger"
      @answer="answered"
    />
    <button v-if="clocks.loudest.value && !question && unit" class="loud no-print" @click="silence">
      <span class="keys">0</span>
      {{ clocks.loudest.value.name }}: {{ clocks.loudest.value.task }} over
    </button>
    <ListenPanel v-if="writes && unit && listening" :study="id" :unit="unit" @close="listening = false" />
    <BenchLine
      v-else-if="writes && unit && state"
      ref="line"
      :unit="unit"
      :context="state.bench"
      :pending="bench.pending.value"
      :lines="room?.lines ?? []"
      :reader="bench.read.value"
      :missing="bench.noReader.value"
      :others="room?.units.filter((u) => u.id !== unit?.id).flatMap((u) => [u.name, ...(u.aliases ?? [])])"
      @turn="turn"
      @log="(line, a, said) => entered(line, a, said)"
    />
  </div>
</template>

<style scoped>
.keys {
  margin-left: 6px;
}
.bench {
  display: block;
  padding-bottom: 110px;
}
.top {
  display: grid;
  grid-template-columns: minmax(0, 560fr) minmax(0, 446fr);
  gap: 18px;
}
.top > section {
  min-width: 0;
}
.top h2 {
  margin-top: 0;
}
.plan :deep(svg) {
  max-height: 340px;
}
#log :deep(.scroll) {
  max-height: 340px;
  overflow-y: auto;
}
.top {
  margin-bottom: 12px;
}

.below {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(300px, 1fr));
  gap: 8px 28px;
  margin-top: 20px;
}
@media (max-width: 1023px) {
  .top {
    grid-template-columns: minmax(0, 1fr);
  }
}
.flash {
  animation: flash 0.6s steps(2) infinite;
}
@keyframes flash {
  to {
    box-shadow: inset 0 0 0 16px var(--amber-fill);
  }
}
.loud {
  position: fixed;
  right: 20px;
  bottom: 72px;
  z-index: 16;
  min-height: 88px;
  padding: 0 30px;
  font: 600 20px var(--text);
  background: var(--brick);
  color: var(--ground);
  border: 0;
  cursor: pointer;
}
.waiting li {
  background: var(--amber-wash);
}
.said {
  margin-left: 10px;
  font: 400 15px var(--text);
}
.undo {
  background: var(--amber-wash);
  padding: 8px 12px;
}
</style>
