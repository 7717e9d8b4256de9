<script setup lang="ts">
import { ElButton, ElFormItem, ElInput, ElInputNumber } from 'element-plus'
import { computed, nextTick, onMounted, reactive, ref, toRaw, watch } from 'vue'

import { api, newId, take, type Schemas } from '../../api/client'
import FormPage from '../../shared/FormPage.vue'
import StickerTag from '../../shared/StickerTag.vue'
import { fieldError, useChange } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'
import { placing, type Start } from './arrange'
import PlaceFields from './PlaceFields.vue'
import TrialMore from './TrialMore.vue'
import TrialPieces from './TrialPieces.vue'
import TrialResults from './TrialResults.vue'

/** One trial: whose board it is, which piece sits in which slot, and what the checks showed. */
const props = defineProps<{ room: Schemas['SwapRoom']; trial?: Schemas['SwapTrialView']; start?: Start }>()
const emit = defineEmits<{ close: []; other: []; told: [told: string[]] }>()
type Piece = Schemas['Piece']
const old = props.trial
const board = ref(old?.board_unit_id ?? props.start?.board ?? props.room.units[0]!.id)
const housing = ref(old?.housing_unit_id ?? props.start?.housing ?? '')
const unit = computed(() => props.room.units.find((u) => u.id === board.value)!)
const other = computed(() => props.room.units.find((u) => u.id !== board.value))
const facts = reactive({ build: old?.build ?? '', minutes: old?.minutes ?? 0, note: old?.note ?? '' })
const results = ref<Record<string, string>>({ ...(old?.results ?? {}) })
const assumed = ref(new Set(old?.assumed ?? []))
const seen = ref<Record<string, Schemas['Seen']>>(JSON.parse(JSON.stringify(old?.seen ?? {})))
const more = reactive({
  notices: structuredClone(toRaw(old?.notices ?? [])),
  notices_read: old?.notices_read ?? false,
  symptom: old?.symptom ?? '',
  later: JSON.parse(JSON.stringify(old?.later ?? [])) as Schemas['Later'][],
  boot_minutes: old?.boot_minutes ?? 0,
  dark_screen: old?.dark_screen ?? false,
  dead_gate: [...(old?.dead_gate ?? [])] as string[],
})
const own = computed(() => props.room.checks.filter((c) => !c.mark.startsWith('notice: ')))
const likely = computed(() => {
  const h = props.room.board.housings.find((x) => x.board_unit_id === board.value)
  return old || !h || !props.start?.pieces.length ? [] : h.likely
})
const pieces = ref<Record<string, string>>({})
/** The delivery that a copy or a piece of unknown origin came with, as it was typed; a second piece of one: acme-7#2. */
const lots = ref<Record<string, string>>({})
/** The model that a foreign piece was built for, by name. */
const models = ref<Record<string, string>>({})
function lay(list: Piece[], dangling: string[] = []) {
  pieces.value = Object.fromEntries([
    ...dangling.map((id) => [id, 'dangling']),
    ...list.map((p) => [p.part_id, p.origin === 'unit' || !p.origin ? `unit ${p.unit_id}` : p.origin]),
  ])
  lots.value = Object.fromEntries(list.filter((p) => p.lot).map((p) => [p.part_id, p.lot!]))
  models.value = Object.fromEntries(list.filter((p) => p.model).map((p) => [p.part_id, p.model!]))
}
lay(old?.pieces ?? props.start?.pieces ?? [], old?.dangling)
/** What was laid last, to know whether somebody chose other pieces since. */
const laid = computed(() => JSON.stringify([pieces.value, lots.value, models.value]))
let untouched = laid.value
/** Another board: the housing that it sits in now comes with it, and what lies there, unless pieces were chosen by hand. */
function turn(id: string) {
  board.value = id
  const there = old ? undefined : props.room.board.housings.find((h) => h.board_unit_id === id)
  if (there) {
    const chosen = laid.value !== untouched
    housing.value = there.unit_id
    if (!chosen) {
      lay(there.fitted)
      untouched = laid.value
      return
    }
  }
  for (const k of Object.keys(pieces.value))
    if (pieces.value[k]?.startsWith('unit')) pieces.value[k] = `unit ${other.value?.id}`
}
const foreign = computed(() => Object.values(pieces.value).filter((o) => o !== 'dangling').length)
const untested = computed(() => own.value.filter((c) => !results.value[c.mark]).length)
const last = computed(
  () => props.room.trials.filter((t) => t.board_unit_id === board.value && t.id !== old?.id).at(-1)?.results,
)
const { room: intake } = useRoom(['intake', props.room.study.id], () =>
  api.GET('/api/studies/{id}/intake', { params: { path: { id: props.room.study.id } } }),
)
const baseline = computed(() =>
  Object.fromEntries(
    (intake.value?.intake.find((u) => u.unit.id === board.value)?.baseline ?? [])
      .filter((l) => !l.assumed)
      .map((l) => [l.check, l.result]),
  ),
)
// What was seen is typed first: the focus starts on the first check, unless somebody is quicker and types already.
onMounted(
  () =>
    void nextTick(() =>
      setTimeout(() => {
        if (document.activeElement?.closest('[data-check]')) return
        document.querySelector<HTMLElement>('[data-check="0"] button')?.focus({ preventScroll: true })
      }, 60),
    ),
)
const place = ref({ after: 'now', done: '' })
const id = newId()
let then: 'close' | 'other' = 'close'
const { problem, busy, mine, theirs, send } = useChange(() => (then === 'other' ? emit('other') : emit('close')))
/** What the server names when the trial and the bench differ. */
const differs = computed(() =>
  problem.value?.errors?.find((e) => e.location === 'body.bench')?.message.replace(/^.*?they differ in /, ''),
)
// The question is answered by one key.
const decide = ref<{ $el: HTMLElement }>()
watch(differs, (now) => now && void nextTick(() => decide.value?.$el.focus()))
async function submit(next: 'close' | 'other' = 'close', bench: 'ask' | 'follow' | '' = old ? '' : 'ask') {
  then = next
  const list: Piece[] = Object.entries(pieces.value).flatMap(([part_id, origin]): Piece[] => {
    if (origin === 'dangling') return []
    if (origin.startsWith('unit ')) return [{ part_id, origin: 'unit', unit_id: origin.slice(5) }]
    const lot = lots.value[part_id]?.trim()
    return [
      {
        part_id,
        origin: origin as 'off' | 'copy' | 'foreign' | 'unknown',
        ...(lot && origin !== 'off' ? { lot } : {}),
        ...(origin === 'foreign' ? { model: models.value[part_id] ?? '' } : {}),
      },
    ]
  })
  const told = Object.entries(seen.value).flatMap(([c, s]) => {
    const kept = {
      ...(s.words ? { words: s.words } : {}),
      ...(s.value == null ? {} : { value: s.value, unit: s.unit || undefined }),
    }
    return results.value[c] && Object.keys(kept).length ? [[c, kept] as const] : []
  })
  const body = {
    ...facts,
    ...more,
    notices: more.notices.filter((n) => n.text.trim()),
    dead_gate: more.dead_gate as NonNullable<Schemas['Trial']['dead_gate']>,
    board_unit_id: board.value,
    housing_unit_id: housing.value,
    pieces: list,
    dangling: Object.entries(pieces.value).flatMap(([p, o]) => (o === 'dangling' ? [p] : [])),
    results: results.value,
    assumed: [...assumed.value].filter((c) => results.value[c]),
    seen: Object.fromEntries(told),
    ...(old?.done_at ? { done_at: old.done_at } : {}),
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
            body: { id, ...(bench ? { bench } : {}), ...placing(place.value), ...body },
          }),
        ).then((made) => {
          if (made.told?.length) emit('told', made.told)
          return made
        }),
  )
}
</script>

<template>
  <FormPage
    :title="old ? `Trial ${old.mark}` : 'A trial, board first'"
    :save="old ? 'Save the trial' : 'Record the trial'"
    :busy="busy"
    :problem="differs ? undefined : problem"
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
        {{ foreign === 1 ? '1 piece is' : `${foreign} pieces are` }} not its own.
      </span>
    </div>
    <div class="two">
      <TrialResults
        v-model:results="results"
        v-model:assumed="assumed"
        v-model:seen="seen"
        :checks="own"
        :likely="likely"
        :baseline="baseline"
        :last="last"
        @record="submit()"
      />
      <TrialPieces
        v-model:pieces="pieces"
        v-model:lots="lots"
        v-model:models="models"
        :room="room"
        :board="board"
        :problem="problem"
      />
    </div>
    <div class="two">
      <TrialMore v-model="more" :checks="own" :results="results" :study="room.study.id" />
      <div>
        <div class="row">
          <ElFormItem label="Bench minutes" :error="fieldError(problem, 'minutes')">
            <ElInputNumber v-model="facts.minutes" aria-label="Bench minutes" />
          </ElFormItem>
          <ElFormItem label="Build, if not the unit's" :error="fieldError(problem, 'build')">
            <ElInput v-model="facts.build" maxlength="40" />
          </ElFormItem>
        </div>
        <PlaceFields
          v-if="!old"
          v-model="place"
          :room="room"
          :error="fieldError(problem, 'after') ?? fieldError(problem, 'done_at')"
        />
        <ElFormItem label="Note" :error="fieldError(problem, 'note')">
          <ElInput v-model="facts.note" name="note" type="textarea" :rows="2" />
        </ElFormItem>
      </div>
    </div>
    <div v-if="differs" class="differs" role="alert">
      <b>The trial and the bench differ</b>
      in {{ differs }}. Which one is right?
      <div class="row">
        <ElButton ref="decide" type="primary" :loading="busy" @click="submit(then, 'follow')">
          The trial: move the bench
        </ElButton>
        <ElButton v-if="start" @click="lay(start.pieces)">The bench: take its pieces</ElButton>
        <ElButton :loading="busy" @click="submit(then, '')">Both, at their time</ElButton>
      </div>
    </div>
    <template #buttons>
      <ElButton v-if="!old && start && start.pieces.length && other" :loading="busy" @click="submit('other')">
        Record it, then the {{ other.name }} board
      </ElButton>
      <span v-if="untested" class="quiet left">{{ untested }} checks stay untested and will be shown so.</span>
    </template>
  </FormPage>
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
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 28px;
  margin-bottom: 14px;
}
.left {
  margin-left: 12px;
}
.differs {
  background: var(--amber-wash);
  padding: 10px 12px;
  margin-bottom: 10px;
}
@media (max-width: 1100px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
