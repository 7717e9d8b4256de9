<script setup lang="ts">
import { ElButton, ElFormItem, ElInput, ElInputNumber } from 'element-plus'
import { computed, nextTick, onMounted, reactive, ref, toRaw } from 'vue'

import { api, newId, take, type Schemas } from '../../api/client'
import PhoneMap from '../../shared/PhoneMap.vue'
import FormDialog from '../../shared/FormDialog.vue'
import ResultCell from '../../shared/ResultCell.vue'
import { fieldError, useChange } from '../../shared/useChange'
import StickerTag from '../../shared/StickerTag.vue'
import type { Start } from './arrange'
import TrialMore from './TrialMore.vue'
import { useRoom } from '../../shared/useRoom'

/** One trial: whose board it is, which piece sits in which slot, and what the checks showed. */
const props = defineProps<{ room: Schemas['SwapRoom']; trial?: Schemas['SwapTrialView']; start?: Start }>()
const emit = defineEmits<{ close: []; other: [] }>()
type Piece = Schemas['Piece']
const old = props.trial
const board = ref(old?.board_unit_id ?? props.start?.board ?? props.room.units[0]!.id)
const housing = old?.housing_unit_id ?? props.start?.housing ?? ''
const unit = computed(() => props.room.units.find((u) => u.id === board.value)!)
const other = computed(() => props.room.units.find((u) => u.id !== board.value))
const facts = reactive({ build: old?.build ?? '', minutes: old?.minutes ?? 0, note: old?.note ?? '' })
const results = reactive<Record<string, string>>({ ...(old?.results ?? {}) })
const assumed = reactive(new Set(old?.assumed ?? []))
const more = reactive({
  notices: structuredClone(toRaw(old?.notices ?? [])),
  notices_read: old?.notices_read ?? false,
  symptom: old?.symptom ?? '',
  later: JSON.parse(JSON.stringify(old?.later ?? [])) as Schemas['Later'][],
  boot_minutes: old?.boot_minutes ?? 0,
  dead_gate: [...(old?.dead_gate ?? [])] as string[],
})
const own = computed(() => props.room.checks.filter((c) => !c.mark.startsWith('notice: ')))
const pieces = reactive<Record<string, string>>({})
for (const p of old?.pieces ?? props.start?.pieces ?? [])
  pieces[p.part_id] = p.origin === 'unit' || !p.origin ? `unit ${p.unit_id}` : p.origin
/** The delivery that a copy or a piece of unknown origin came with, as it was typed; a second piece of one: acme-7#2. */
const lots = reactive<Record<string, string>>({})
for (const p of old?.pieces ?? props.start?.pieces ?? []) if (p.lot) lots[p.part_id] = p.lot
const bought = computed(() => props.room.slots.filter((s) => ['copy', 'unknown'].includes(pieces[s.id] ?? '')))

const all = computed(() => props.room.slots.every((s) => pieces[s.id] === `unit ${other.value?.id}`))
function exchangeAll() {
  for (const s of props.room.slots) {
    if (all.value) delete pieces[s.id]
    else pieces[s.id] = `unit ${other.value?.id}`
  }
}
function toggle(id: string) {
  if (!props.room.slots.some((s) => s.id === id)) return
  if (pieces[id]) delete pieces[id]
  else if (other.value) pieces[id] = `unit ${other.value.id}`
}
function choose(id: string, origin: string) {
  if (origin) pieces[id] = origin
  else delete pieces[id]
}
function turn(id: string) {
  board.value = id
  for (const k of Object.keys(pieces)) if (pieces[k]?.startsWith('unit')) pieces[k] = `unit ${other.value?.id}`
}
const worn = computed(() => {
  const marks: Record<string, { colour: string; label: string }> = {}
  for (const [id, origin] of Object.entries(pieces)) {
    const u = props.room.units.find((x) => origin === `unit ${x.id}`)
    marks[id] = u
      ? { colour: u.colour, label: `from ${u.name}` }
      : { colour: 'grey', label: `${origin} ${lots[id] ?? ''}`.trim() }
  }
  return marks
})
const off = computed(() => Object.entries(pieces).flatMap(([id, o]) => (o === 'off' ? [id] : [])))
const untested = computed(() => own.value.filter((c) => !results[c.mark]).length)
function mark(check: string, r: string) {
  results[check] = r
  assumed.delete(check)
}
const boardTrials = computed(() => props.room.trials.filter((t) => t.board_unit_id === board.value && t.id !== old?.id))
/** Fills empty cells hollow: they count for nothing until they are confirmed as seen. */
function fill(from: Record<string, string | undefined>) {
  for (const c of own.value) {
    const r = from[c.mark]
    if (!results[c.mark] && r) {
      results[c.mark] = r
      assumed.add(c.mark)
    }
  }
}
const { room: intake } = useRoom(['intake', props.room.study.id], () =>
  api.GET('/api/studies/{id}/intake', { params: { path: { id: props.room.study.id } } }),
)
const baseline = () =>
  Object.fromEntries(
    (intake.value?.intake.find((u) => u.unit.id === board.value)?.baseline ?? [])
      .filter((l) => !l.assumed)
      .map((l) => [l.check, l.result]),
  )
function move(i: number, by: number) {
  document.querySelector<HTMLElement>(`[data-check="${i + by}"] button`)?.focus()
}
// What was seen is typed first: the focus starts on the first check.
onMounted(() => void nextTick(() => setTimeout(() => move(0, 0), 60)))
const id = newId()
let then: 'close' | 'other' = 'close'
const { problem, busy, mine, theirs, send } = useChange(() => (then === 'other' ? emit('other') : emit('close')))
async function submit(next: 'close' | 'other' = 'close') {
  then = next
  const list: Piece[] = Object.entries(pieces).map(([part_id, origin]) => {
    if (origin.startsWith('unit ')) return { part_id, origin: 'unit', unit_id: origin.slice(5) }
    const lot = lots[part_id]?.trim()
    return { part_id, origin: origin as 'off' | 'copy' | 'unknown', ...(lot && origin !== 'off' ? { lot } : {}) }
  })
  const notices = more.notices.filter((n) => n.text.trim())
  const body = {
    ...facts,
    ...more,
    notices,
    dead_gate: more.dead_gate as NonNullable<Schemas['Trial']['dead_gate']>,
    board_unit_id: board.value,
    housing_unit_id: housing,
    pieces: list,
    results,
    assumed: [...assumed].filter((c) => results[c]),
  }
  await send((v, header) =>
    old
      ? take(
          api.PUT('/api/trials/{id}', {
            params: { path: { id: old.id }, header },
            body: { version: v ?? old.version, ...body },
          }),
        )
      : take(
          api.POST('/api/studies/{id}/trials', {
            params: { path: { id: props.room.study.id }, header },
            body: { id, ...body },
          }),
        ),
  )
}
</script>

<template>
  <FormDialog
    :title="old ? `Trial ${old.mark}` : 'A trial, board first'"
    :width="1080"
    :save="old ? 'Save the trial' : 'Record the trial'"
    :busy="busy"
    :problem="problem"
    :mine="mine"
    @close="emit('close')"
    @theirs="theirs"
    @submit="submit()"
  >
    <div class="row heads">
      <span>The board is</span>
      <button
        v-for="u in room.units"
        :key="u.id"
        type="button"
        class="board"
        :class="[u.colour, { here: u.id === board }]"
        :aria-pressed="u.id === board"
        @click="turn(u.id)"
      >
        <StickerTag :unit="u" />
      </button>
      <span class="quiet">
        build {{ facts.build || unit.build || 'not recorded' }}.
        {{ Object.keys(pieces).length === 1 ? '1 piece is' : `${Object.keys(pieces).length} pieces are` }} not its own.
      </span>
    </div>
    <div class="two">
      <div>
        <PhoneMap
          :model="room.model"
          :parts="room.slots"
          :worn="worn"
          :out="off"
          label="Slots of this board"
          compact
          @select="toggle"
        />
        <p class="quiet">
          Choose a slot on the plan to put {{ other?.name ?? 'another' }}'s piece there, or set it here:
        </p>
        <ElButton v-if="other" @click="exchangeAll">
          {{ all ? 'Every piece its own' : `Board exchange: every piece ${other.name}'s` }}
        </ElButton>
        <div class="slots">
          <label v-for="s in room.slots" :key="s.id">
            <span>{{ s.name }}</span>
            <select :value="pieces[s.id] ?? ''" @change="(e) => choose(s.id, (e.target as HTMLSelectElement).value)">
              <option value="">own</option>
              <option v-for="u in room.units.filter((x) => x.id !== board)" :key="u.id" :value="`unit ${u.id}`">
                {{ u.name }}'s
              </option>
              <option value="off">left off</option>
              <option value="copy">a copy</option>
              <option value="unknown">origin unknown</option>
            </select>
          </label>
        </div>
        <ElFormItem
          v-for="b in bought"
          :key="b.id"
          :label="`Delivery that the ${b.name} came with`"
          :error="fieldError(problem, 'pieces')"
        >
          <ElInput v-model="lots[b.id]" maxlength="40" placeholder="acme-7; a second piece of it: acme-7#2" />
        </ElFormItem>
      </div>
      <div>
        <h3>
          What the checks showed
          <span class="quiet">{{ untested }} untested</span>
        </h3>
        <p class="row fills">
          <ElButton size="small" :disabled="!boardTrials.length" @click="fill(boardTrials.at(-1)?.results ?? {})">
            As last time
          </ElButton>
          <ElButton size="small" @click="fill(baseline())">As baseline</ElButton>
          <ElButton v-if="assumed.size" size="small" type="primary" @click="assumed.clear()">
            I saw all {{ assumed.size }} of these: count them
          </ElButton>
        </p>
        <p v-if="assumed.size" class="look">
          {{ assumed.size }} cells are filled in and hollow: they count for nothing until you confirm that you saw them.
        </p>
        <table>
          <tbody>
            <tr v-for="(c, i) in own" :key="c.id">
              <td>{{ c.name }}</td>
              <td :data-check="i">
                <ResultCell
                  :result="results[c.mark]"
                  :assumed="assumed.has(c.mark)"
                  :label="c.name"
                  type="button"
                  @set="(r) => mark(c.mark, r)"
                  @move="(by) => move(i, by)"
                />
              </td>
            </tr>
          </tbody>
        </table>
        <div class="row times">
          <ElFormItem label="Bench minutes" :error="fieldError(problem, 'minutes')">
            <ElInputNumber v-model="facts.minutes" aria-label="Bench minutes" />
          </ElFormItem>
          <ElFormItem label="Build, if not the unit's" :error="fieldError(problem, 'build')">
            <ElInput v-model="facts.build" maxlength="40" />
          </ElFormItem>
        </div>
        <TrialMore v-model="more" :checks="own" :results="results" />
        <ElFormItem label="Note" :error="fieldError(problem, 'note')">
          <ElInput v-model="facts.note" name="note" type="textarea" :rows="2" />
        </ElFormItem>
      </div>
    </div>
    <template #buttons>
      <ElButton v-if="!old && start && start.pieces.length && other" :loading="busy" @click="submit('other')">
        Record it, then the {{ other.name }} board
      </ElButton>
      <span v-if="untested" class="quiet left">{{ untested }} cells stay untested and will be shown so.</span>
    </template>
  </FormDialog>
</template>

<style scoped>
.heads {
  margin-bottom: 12px;
}
.board {
  font: inherit;
  color: inherit;
  background: var(--sheet);
  border: 1px solid var(--strong-line);
  border-radius: 2px;
  padding: 6px 14px;
  cursor: pointer;
}
.board.here {
  border: 3px solid var(--sticker);
  background: var(--wash);
}
.two {
  display: grid;
  grid-template-columns: 1.15fr 1fr;
  gap: 28px;
}
.slots {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 4px 16px;
  margin-top: 10px;
}
.slots label {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  align-items: center;
  font-size: 14px;
}
select {
  font: inherit;
  color: var(--ink);
  background: var(--sheet);
  border: 1px solid var(--strong-line);
  border-radius: 2px;
  padding: 3px;
  max-width: 120px;
}
td {
  padding: 2px 6px 2px 0;
  font-size: 14px;
  vertical-align: middle;
}
h3 {
  font-size: 15px;
  margin-bottom: 6px;
}
.times {
  margin-top: 12px;
}
.left {
  margin-left: 12px;
}
@media (max-width: 900px) {
  .two,
  .slots {
    grid-template-columns: 1fr;
  }
}
</style>
