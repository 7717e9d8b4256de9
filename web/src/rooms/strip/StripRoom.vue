<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useEventListener, useIntervalFn } from '@vueuse/core'
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'

import { api, newId, once, take, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import CautionList from '../../shared/CautionList.vue'
import { clock } from '../../shared/format'
import { typing } from '../../shared/keys'
import PhoneMap from '../../shared/PhoneMap.vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useSave } from '../../shared/save'
import { useSession } from '../../shared/session'
import StickerTag from '../../shared/StickerTag.vue'
import EntryForm from './EntryForm.vue'
import LogList from './LogList.vue'
import PartForm from './PartForm.vue'
import StepForm from './StepForm.vue'

const id = String(useRoute().params.id)
const { data: room, error } = useQuery({
  queryKey: ['strip', id],
  queryFn: () => take(api.GET('/api/studies/{id}/strip', { params: { path: { id } } })),
})
const { may } = useSession()
const writes = may('studies')
const picked = ref('')
const unit = computed(() => room.value?.units.find((u) => u.id === picked.value) ?? room.value?.units[0])
const state = computed(() => room.value?.state.find((s) => s.unit_id === unit.value?.id))
const steps = computed(() => new Map(room.value?.steps.map((s) => [s.id, s])))
const log = computed(() => room.value?.log.filter((e) => e.unit_id === unit.value?.id) ?? [])
const part = ref<Schemas['Part'] | 'new'>()
const adding = ref(false)
const step = ref<Schemas['PlanStep']>()
const entry = ref<Schemas['LogEntry']>()

// The stopwatch keeps a stamp, so that a slow page cannot lose time.
const started = ref<number>()
const now = ref(Date.now())
useIntervalFn(() => (now.value = Date.now()), 250)
const ticking = computed(() => (started.value ? Math.max(0, (now.value - started.value) / 1000) : 0))
const startStop = () => (started.value = started.value ? undefined : Date.now())

const { problem, mine, theirs, busy, save } = useSave()
const undone = ref<Schemas['LogEntry']>()
async function record(facts: { step_id: string; back?: boolean }) {
  if (!unit.value || busy.value) return
  const seconds = started.value ? Math.max(1, Math.round((Date.now() - started.value) / 1000)) : 0
  const body = { id: newId(), unit_id: unit.value.id, seconds, ...facts }
  const header = once()
  if (await save(() => take(api.POST('/api/studies/{id}/log', { params: { path: { id }, header }, body })))) {
    if (started.value) started.value = Date.now()
  }
}
async function undo() {
  const last = log.value.at(-1)
  if (!last) return
  undone.value = await save((v) =>
    take(
      api.DELETE('/api/log/{id}', { params: { path: { id: last.id }, query: { version: v ?? last.version }, header: once() } }),
    ),
  )
  setTimeout(() => (undone.value = undefined), 10_000)
}
async function redo() {
  const last = undone.value!
  undone.value = undefined
  await save(() =>
    take(
      api.POST('/api/log/{id}/restore', { params: { path: { id: last.id }, query: { version: last.version }, header: once() } }),
    ),
  )
}
function flip() {
  const units = room.value?.units ?? []
  picked.value = units[(units.findIndex((u) => u.id === unit.value?.id) + 1) % units.length]?.id ?? ''
  started.value = undefined
}
// Keys that come while an entry is on its way wait for it, and then speak of the tiles as they are after it.
const keys: string[] = []
let draining = false
async function drain() {
  if (draining) return
  draining = true
  for (let k = keys.shift(); k; k = keys.shift()) {
    const tile = state.value?.next[Number(k) - 1]
    if (k === 'u') await undo()
    else if (tile) await record({ step_id: tile.step_id })
    if (problem.value) keys.length = 0
  }
  draining = false
}
useEventListener('keydown', (e: KeyboardEvent) => {
  if (typing(e) || e.ctrlKey || e.metaKey || e.altKey) return
  if (e.key === 'f') flip()
  if (!writes.value) return
  if (/^[1-8u]$/.test(e.key)) {
    keys.push(e.key)
    void drain()
  }
  if (e.key === 't') startStop()
  else if (e.key === 'n' && unit.value) {
    e.preventDefault()
    adding.value = true
  }
})
const open = (p: string) => {
  if (writes.value) part.value = room.value?.parts.find((x) => x.id === p)
}
</script>

<template>
  <div class="room">
    <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
    <AnswerLine v-else class="answer" :sentence="state?.answer ?? room?.answer" />
    <template v-if="room">
      <div class="stage">
        <div v-if="unit" class="unit" :class="unit.colour">
          <StickerTag :unit="unit" />
          <span>is in work</span>
          <ElButton v-if="room.units.length > 1" @click="flip">
            The other phone
            <span class="keys">f</span>
          </ElButton>
          <span v-if="writes" class="watch">
            <span class="fig">{{ clock(ticking) }}</span>
            <ElButton :aria-pressed="Boolean(started)" @click="startStop">
              {{ started ? 'Stop timing' : 'Time the steps' }}
              <span class="keys">t</span>
            </ElButton>
          </span>
        </div>
        <section>
          <PhoneMap :model="room.model" :parts="room.parts" :out="state?.out" depth compact @select="open" />
          <div id="parts" class="row">
            <ElButton v-if="writes" @click="part = 'new'">Add a part</ElButton>
            <span class="quiet">
              {{ room.parts.length }} parts, {{ state?.out.length ?? 0 }} out{{
                writes ? '; choose one on the plan to change it' : ''
              }}
            </span>
          </div>
        </section>
        <section id="log">
          <h2>Log of {{ unit?.name ?? 'no phone yet' }}</h2>
          <LogList
            :log="log"
            :steps="steps"
            :parts="room.parts"
            :writes="writes"
            @edit="(e) => (entry = e)"
            @step="(s) => (step = s)"
            @back="(s) => record({ step_id: s, back: true })"
          />
        </section>
      </div>
      <div class="shelf">
        <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
        <p v-if="undone" class="undo" role="status">
          {{ unit?.name }}: taken back.
          <ElButton @click="redo">Bring it back</ElButton>
        </p>
        <p v-if="!unit">
          <RouterLink :to="{ name: 'intake', params: { id } }">To intake: record the first phone</RouterLink>
        </p>
        <section v-if="unit" id="next">
          <h2>Next on {{ unit.name }}</h2>
          <div class="pad">
            <button
              v-for="(n, i) in state?.next"
              :key="n.step_id"
              class="tile"
              :disabled="!writes || busy"
              @click="record({ step_id: n.step_id })"
            >
              <span class="keys">{{ i + 1 }}</span>
              <b>{{ steps.get(n.step_id)?.verb }}</b>
              {{ steps.get(n.step_id)?.what }}
              <small>{{ steps.get(n.step_id)?.tool || 'by hand' }}</small>
              <small v-if="n.cautions.length" class="look">{{ n.cautions[0]!.text }}</small>
            </button>
          </div>
          <p v-if="!state?.next.length" class="quiet">
            The plan knows nothing further. Describe what you do next, and the plan learns it.
          </p>
          <div v-if="writes" class="row">
            <ElButton type="primary" @click="adding = true">
              A new step
              <span class="keys">n</span>
            </ElButton>
            <ElButton :disabled="!log.length || busy" @click="undo">
              Undo my last on {{ unit.name }}
              <span class="keys">u</span>
            </ElButton>
          </div>
        </section>
        <section>
          <h2 id="mat">On the mat</h2>
          <p>
            <b class="fig">{{ state?.screws ?? 0 }}</b>
            screws,
            <b class="fig">{{ state?.out.length ?? 0 }}</b>
            parts of {{ unit?.name ?? 'no phone' }}
          </p>
          <CautionList :cautions="state?.next[0]?.cautions ?? []" :notice="room.notice" />
        </section>
      </div>
    </template>
    <StepForm
      v-if="adding && room && unit"
      :study="id"
      :room="room"
      :unit="unit"
      :done="log.at(-1)?.step_id"
      :seconds="started ? ticking : 0"
      @close="adding = false"
    />
    <StepForm v-if="step && room && unit" :study="id" :room="room" :unit="unit" :step="step" @close="step = undefined" />
    <PartForm v-if="part && room" :model="room.model.id" :part="part === 'new' ? undefined : part" @close="part = undefined" />
    <EntryForm v-if="entry" :entry="entry" @close="entry = undefined" />
  </div>
</template>

<style scoped>
.unit {
  display: flex;
  gap: 12px;
  align-items: center;
  border-left: 14px solid var(--sticker);
  background: var(--wash);
  padding: 8px 12px;
  margin-bottom: 10px;
  flex-wrap: wrap;
}
.watch {
  margin-left: auto;
  display: flex;
  gap: 10px;
  align-items: center;
  font-size: 18px;
}
.pad {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
  margin-bottom: 12px;
}
.tile {
  font: inherit;
  text-align: left;
  min-height: 88px;
  padding: 8px 10px;
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--strong-line);
  border-radius: 2px;
  cursor: pointer;
  overflow-wrap: anywhere;
}
.tile:first-child {
  border: 2px solid var(--pine);
}
.tile:disabled {
  cursor: default;
  color: var(--quiet);
}
.tile small {
  display: block;
  color: var(--quiet);
}
.tile small.look {
  color: var(--amber);
}
.keys {
  margin-left: 6px;
}
.tile .keys {
  margin: 0 6px 0 0;
}
.undo {
  background: var(--amber-wash);
  padding: 8px 12px;
}
</style>
