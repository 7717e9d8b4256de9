<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { ElButton, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed, onMounted, onScopeDispose, ref, shallowRef } from 'vue'
import { useRoute } from 'vue-router'

import { api, newId, take, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import AskPanel from '../../shared/bench/AskPanel.vue'
import { useClocks } from '../../shared/bench/clocks'
import { useOutbox } from '../../shared/bench/outbox'
import { reader, type Reader } from '../../shared/bench/reader'
import { useStops, type Told } from '../../shared/bench/useStops'
import CautionList from '../../shared/CautionList.vue'
import { first as yes, typing } from '../../shared/keys'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'
import { useSession } from '../../shared/session'
import StickerTag from '../../shared/StickerTag.vue'
import CheckTable from './CheckTable.vue'
import LookAlikes from './LookAlikes.vue'
import StrayRow from './StrayRow.vue'
import { useRoom } from '../../shared/useRoom'

const id = String(useRoute().params.id)
const plan = ref(false)
const { room, error } = useRoom(
  () => ['closeup', id, plan.value],
  () => api.GET('/api/studies/{id}/closeup', { params: { path: { id }, query: { plan: plan.value } } }),
)
const { may } = useSession()
const writes = may('studies')
const picked = ref('')
const unit = computed(() => room.value?.units.find((u) => u.id === picked.value) ?? room.value?.units[0])
const closing = computed(() => room.value?.closings.find((c) => c.unit_id === unit.value?.id))
const { problem, mine, theirs, queue } = useChange()
type Facts = Omit<Schemas['ClosingChange'], 'version' | 'from_plan'>

// One change after the other: each names the version that the one before it made.
interface Made {
  unit: string
  version: number
  facts: Facts
}
const made: { last?: Made } = {}
function put(change: (f: Facts) => Facts) {
  const u = unit.value!.id
  return queue(async (v, header) => {
    const c = room.value!.closings.find((x) => x.unit_id === u)!.closing
    // eslint-disable-next-line @typescript-eslint/no-unused-vars
    const { id: _id, version, unit_id: _unit, ...seen } = c
    const known: Pick<Made, 'version' | 'facts'> =
      made.last?.unit === u && made.last.version > version ? made.last : { version, facts: seen as Facts }
    const facts = change(known.facts)
    const row = await take(
      api.PUT('/api/units/{id}/closing', {
        params: { path: { id: u }, header },
        body: { version: v ?? known.version, from_plan: plan.value, ...facts },
      }),
    )
    made.last = { unit: u, version: row.version, facts }
    return row
  })
}
const tick = (key: string) =>
  put((f) => ({ ...f, ticks: f.ticks?.includes(key) ? f.ticks.filter((t) => t !== key) : [...(f.ticks ?? []), key] }))
const ticked = (key: string) => closing.value?.ticked.includes(key) ?? false
const setBack = (i: Schemas['CloseupItem'], n: number) => put((f) => ({ ...f, back: { ...f.back, [i.key]: n } }))
const declare = (i: Schemas['CloseupItem'], what: 'lost' | 'replaced' | 'left_off', n: number) =>
  put((f) => ({ ...f, declared: { ...f.declared, [i.key]: { ...f.declared?.[i.key], [what]: n } } }))
const result = (mark: string, r: string) => put((f) => ({ ...f, results: { ...f.results, [mark]: r } }))

/** Putting back is logged like taking apart, through the same queue; ticks everything that the line puts in. */
const outbox = useOutbox()
const { stop, ask, answered } = useStops()
const bench = shallowRef<Reader>()
onMounted(async () => (bench.value = await reader().catch(() => undefined)))
/** The same stops as at the bench: the battery goes on last. */
async function done(l: Schemas['CloseupCloseLine']) {
  if (!bench.value) bench.value = await reader().catch(() => undefined)
  const c = closing.value!
  const step = c.bench.steps.find((s) => s.id === l.step_id)
  const stops = !plan.value && step && bench.value ? bench.value.stops(c.bench, [], step, true) : []
  return ask(stops, (told, stopped) => (stopped ? write(l, { kind: 'stop', note: l.text }, told) : back(l, told)))
}
async function write(l: Schemas['CloseupCloseLine'], facts: Record<string, unknown>, told: Told[]) {
  const u = unit.value!
  const row = newId()
  await outbox.add({
    study: id,
    unit: u.id,
    row,
    method: 'POST',
    path: `/api/studies/${id}/log`,
    body: { id: row, unit_id: u.id, ...facts, ...(told.length ? { detail: { stops: told } } : {}) },
    text: `${u.name}: ${l.text}`,
  })
}
async function back(l: Schemas['CloseupCloseLine'], told: Told[]) {
  const items = closing.value!.items.filter(
    (i) => i.key === `screws ${l.step_id}` || l.frees.some((f) => i.name === f && i.key.startsWith('part ')),
  )
  if (!plan.value) await write(l, { step_id: l.step_id, back: true }, told)
  await put((f) => ({
    ...f,
    back: {
      ...f.back,
      ...Object.fromEntries(items.map((i) => [i.key, Math.max(0, i.out - i.lost - i.replaced - i.left_off)])),
    },
  }))
}
onScopeDispose(outbox.onSent(() => void theirs()))
const isBack = (l: Schemas['CloseupCloseLine']) =>
  l.done || (plan.value && closing.value!.items.some((i) => i.key.endsWith(l.step_id) && i.in > 0))
const current = computed(() => closing.value?.lines.find((l) => !isBack(l)))
/** A long way back is drawn around the line that is next; the rest opens. */
const whole = ref(false)
const around = { before: 12, after: 48 }
const first = computed(() => {
  const all = closing.value?.lines ?? []
  return whole.value || all.length <= around.before + around.after || !current.value
    ? 0
    : Math.max(0, all.indexOf(current.value) - around.before)
})
const lines = computed(() =>
  (closing.value?.lines ?? []).slice(first.value, whole.value ? undefined : first.value + around.before + around.after),
)
const hidden = computed(() => ({
  before: first.value,
  after: (closing.value?.lines.length ?? 0) - first.value - lines.value.length,
}))
function flip() {
  const units = room.value?.units ?? []
  picked.value = units[(units.findIndex((u) => u.id === unit.value?.id) + 1) % units.length]?.id ?? ''
}
useEventListener('keydown', (e: KeyboardEvent) => {
  if (e.repeat || typing(e) || e.ctrlKey || e.metaKey || e.altKey || stop.value) return
  if (e.key === 'f') flip()
  if (!writes.value || !current.value) return
  const gate = current.value.gates[Number(e.key) - 1]
  if (gate) void tick(gate.key)
  else if (yes(e) && current.value.ready) void done(current.value)
})
/** Every check that was not run gets its pass at once, from somebody who ran them. */
const rest = () =>
  put((f) => ({
    ...f,
    results: {
      ...Object.fromEntries(closing.value!.checks.filter((c) => !c.result).map((c) => [c.mark, 'pass'])),
      ...f.results,
    },
  }))
const clocks = useClocks(id)
/** It is closed: new adhesive wants its clamps, and their time runs from now on. */
async function seal() {
  const fresh = closing.value?.closing.seal === 'new adhesive'
  if (!(await put((f) => ({ ...f, closed: true }))) || !fresh || !unit.value) return
  clocks.start({
    unit: unit.value.id,
    name: unit.value.name,
    task: 'cure',
    face: 'edge',
    line: '? clamps off, glue cured',
    seconds: room.value!.cure_seconds,
  })
}
const seals = ['new adhesive', 'glue over old', 'reused', 'none'] as const
</script>

<template>
  <div class="room">
    <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
    <AnswerLine v-else class="answer" :sentence="closing?.answer ?? room?.answer" />
    <AskPanel
      v-if="stop"
      :key="stop.title"
      v-bind="stop"
      :title="`Stop, ${unit?.name}: ${stop.title}`"
      danger
      @answer="answered"
    />
    <template v-if="room">
      <div class="stage">
        <div v-if="unit" class="unit" :class="unit.colour">
          <StickerTag :unit="unit" />
          <span>is being closed</span>
          <ElButton v-if="room.units.length > 1" @click="flip">
            The other phone
            <span class="keys">f</span>
          </ElButton>
          <ElButton :aria-pressed="plan" @click="plan = !plan">
            {{ plan ? 'From the steps logged' : 'Built of loose parts: from the plan' }}
          </ElButton>
          <RouterLink :to="{ name: 'mat', params: { id } }">Print the screw sheet</RouterLink>
        </div>
        <p v-else class="quiet">Record a phone at intake first.</p>
        <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
        <section v-if="closing" id="gate">
          <h2>Back in, in this order</h2>
          <p v-if="closing.conflict" class="look">
            The {{ closing.conflict }} lies above the battery's connector and can only go on after it: battery off at
            its other end, or take care.
          </p>
          <p v-if="!closing.lines.length" class="quiet">
            Nothing was taken out of this phone. Log the teardown, or take the list from the plan.
          </p>
          <ol class="plain lines">
            <li v-if="hidden.before" class="quiet">
              {{ hidden.before }} lines are behind.
              <button class="bare link" @click="whole = true">show all</button>
            </li>
            <li v-for="l in lines" :key="l.step_id" :class="{ back: isBack(l), current: l === current }">
              <div v-for="(g, gi) in l.gates" :key="g.key" class="gate">
                <label>
                  <input type="checkbox" :checked="ticked(g.key)" :disabled="!writes" @change="tick(g.key)" />
                  <b>{{ g.text }}</b>
                  <span v-if="g.n > 1" class="fig">×{{ g.n }}</span>
                  <span v-if="l === current" class="keys">{{ gi + 1 }}</span>
                </label>
              </div>
              <div class="what">
                <span>{{ l.text }}</span>
                <span v-if="l.screws" class="fig quiet">{{ l.screws }} screws</span>
                <span v-if="l.consumable" class="look">new: {{ l.consumable }}</span>
                <ElButton v-if="writes && !isBack(l)" size="small" :disabled="!l.ready" @click="done(l)">
                  is back
                  <span v-if="l === current" class="keys">b</span>
                </ElButton>
                <span v-if="isBack(l)" class="quiet">back</span>
              </div>
            </li>
            <li v-if="hidden.after" class="quiet">
              {{ hidden.after }} more lines follow.
              <button class="bare link" @click="whole = true">show all</button>
            </li>
          </ol>
          <template v-if="closing.loose.length">
            <h2>Leads that no bracket holds</h2>
            <ul class="plain">
              <li v-for="g in closing.loose" :key="g.key" class="gate">
                <label>
                  <input type="checkbox" :checked="ticked(g.key)" :disabled="!writes" @change="tick(g.key)" />
                  <b>{{ g.text }}</b>
                  <span v-if="g.n > 1" class="fig">×{{ g.n }}</span>
                </label>
              </li>
            </ul>
          </template>
          <p v-for="l in closing.off" :key="l" class="look">
            Left off on purpose: {{ l }}. What it serves is expected to be lost.
          </p>
        </section>
        <section v-if="closing" id="sealing">
          <h2>Sealing</h2>
          <div class="row">
            <ElSelect
              :model-value="closing.closing.seal || ''"
              :teleported="false"
              :disabled="!writes"
              placeholder="How it was sealed"
              aria-label="How it was sealed"
              style="width: 180px"
              @update:model-value="(seal: (typeof seals)[number]) => put((f) => ({ ...f, seal }))"
            >
              <ElOption v-for="s in seals" :key="s" :value="s" :label="s" />
            </ElSelect>
          </div>
          <p>Water resistance: {{ closing.water }}.</p>
          <ElInput
            :model-value="closing.closing.end_state"
            :disabled="!writes"
            maxlength="300"
            placeholder="The phone's state at the end"
            aria-label="The phone's state at the end"
            @change="(end_state: string) => put((f) => ({ ...f, end_state }))"
          />
          <p class="seal">
            <ElButton v-if="writes" type="primary" :disabled="!closing.may || closing.closing.closed" @click="seal">
              {{ closing.closing.closed ? 'Closed' : 'It is closed' }}
            </ElButton>
          </p>
        </section>
        <CheckTable
          v-if="closing"
          :checks="closing.checks"
          :unit="unit?.name ?? ''"
          :writes="writes"
          @result="result"
          @rest="rest"
        />
      </div>
      <div v-if="closing" class="shelf">
        <section id="items">
          <h2>What came out</h2>
          <p v-if="closing.open.length" class="danger">
            {{ closing.open.length }} unaccounted for. Nothing closes with a mystery bracket unless it is declared.
          </p>
          <p v-for="t in closing.lost" :key="t" class="look">Logged as lost: {{ t }}</p>
          <ul class="plain">
            <li v-for="i in closing.open" :key="i.key" class="open">
              <b>{{ i.out - i.in - i.lost - i.replaced - i.left_off }} × {{ i.name }}</b>
              <span v-if="i.place !== i.name" class="quiet">&nbsp;of {{ i.place }}</span>
              <StrayRow
                v-if="i.kind === 'stray'"
                :item="i"
                :why="closing.closing.declared?.[i.key]?.why"
                :writes="writes"
                @placed="(n) => setBack(i, n)"
                @aside="
                  (why) => put((f) => ({ ...f, declared: { ...f.declared, [i.key]: { left_off: i.out - i.in, why } } }))
                "
              />
              <div v-else-if="writes" class="row">
                <label>
                  back
                  <ElInputNumber
                    :model-value="i.in"
                    :min="0"
                    :max="i.out"
                    :controls="false"
                    size="small"
                    :aria-label="`${i.name} of ${i.place}: back`"
                    style="width: 52px"
                    @change="(n?: number) => setBack(i, n ?? 0)"
                  />
                </label>
                <label
                  v-for="[w, t, n] in [
                    ['lost', 'lost', i.lost],
                    ['replaced', 'replaced', i.replaced],
                    ['left_off', 'left off', i.left_off],
                  ] as const"
                  :key="w"
                >
                  {{ t }}
                  <ElInputNumber
                    :model-value="n"
                    :min="0"
                    :max="i.out"
                    :controls="false"
                    size="small"
                    :aria-label="`${i.name} of ${i.place}: ${t}`"
                    style="width: 52px"
                    @change="(v?: number) => declare(i, w, v ?? 0)"
                  />
                </label>
              </div>
            </li>
          </ul>
          <p v-if="!closing.open.length && closing.items.length" class="quiet">
            All {{ closing.items.length }} kinds of items are accounted for.
          </p>
          <div v-for="i in closing.empty" :key="`empty ${i.key}`">
            <p class="look">A hole of {{ i.place }} is empty. Safe in its place:</p>
            <ul>
              <li v-for="s in room.holes.find((h) => `screws ${h.id}` === i.key)?.subs ?? []" :key="s.from">
                {{ s.text }}
              </li>
            </ul>
            <p class="quiet">Better no screw than a longer one.</p>
          </div>
          <p v-if="closing.consumables.length">
            <b>Have ready:</b>
            {{ closing.consumables.join(', ') }}
          </p>
        </section>
        <LookAlikes :mixes="room.mixes" />
        <section>
          <h2>It does not start?</h2>
          <ol>
            <li v-for="s in room.startup" :key="s">{{ s }}</li>
          </ol>
          <CautionList :cautions="current?.cautions ?? []" :notice="room.notice" />
        </section>
      </div>
    </template>
  </div>
</template>

<style scoped>
.seal {
  margin-top: 12px;
}
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
.lines li {
  padding: 6px 0 6px 12px;
  border-left: 4px solid transparent;
}
.lines li.current {
  border-left-color: var(--pine);
  background: var(--pine-wash);
}
.lines li.back .what {
  color: var(--quiet);
}
.what {
  display: flex;
  gap: 12px;
  align-items: center;
  flex-wrap: wrap;
}
.what .el-button {
  margin-left: auto;
}
.gate label {
  display: flex;
  gap: 8px;
  align-items: center;
}
.open {
  border-left: 4px solid var(--brick);
  padding-left: 10px !important;
}
</style>
