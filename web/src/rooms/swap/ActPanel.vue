<script setup lang="ts">
import { ElButton, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, ref } from 'vue'

import { api, newId, take, type Schemas } from '../../api/client'
import ProblemNote from '../../shared/ProblemNote.vue'
import { fieldError, useChange } from '../../shared/useChange'
import { placing } from './arrange'
import PlaceFields from './PlaceFields.vue'
import { say } from '../../words'

/** What was done between trials. What cannot be undone asks first: the server says what can no longer be learned. */
const props = defineProps<{
  room: Schemas['SwapRoom']
  damaged?: { piece: Schemas['Piece']; board: string }
  begin?: 'calibrate' | 'reset'
}>()
const emit = defineEmits<{ close: []; told: [told: string[]] }>()
type Kind = Schemas['SwapAct']['kind'] | 'paired'
const kinds: [Kind, string][] = [
  ['restart', 'Restarted'],
  ['reseat', 'Reseated the connectors'],
  ['charger', 'Charger plugged in'],
  ['wait', 'Waited'],
  ['known-good part', 'Tried a known-good part'],
  ['clock changed', 'Changed the clock'],
  ['reset', 'Reset'],
  ['update', 'Updated'],
  ['flash', 'Flashed'],
  ['calibrate', 'Calibrate with the maker’s service'],
  ['paired', 'Paired on the phone itself'],
  ['damage', 'A piece was damaged'],
  ['method changed', 'The way of working was changed'],
]
/** Why a phone refuses to pair a piece (common practice, no source). */
const refusals = ['not the newest build', 'the partner part does not match', 'the clock is wrong', 'no reason shown']
const facts = reactive({
  kind: (props.damaged ? 'damage' : (props.begin ?? 'restart')) as Kind,
  housing:
    (props.damaged && props.room.board.housings.find((h) => h.board_unit_id === props.damaged!.board)?.unit_id) ||
    (props.room.board.housings[0]?.unit_id ?? ''),
  build: '',
  what: '',
  spoils: [] as string[],
  accepted: true,
  reason: refusals[0]!,
  history: false,
  minutes: 0,
})
const pairs = computed(() => facts.kind === 'calibrate' || facts.kind === 'paired')
const housing = computed(() => props.room.board.housings.find((h) => h.unit_id === facts.housing))
const unit = (id?: string) => props.room.units.find((u) => u.id === id)
const foreign = computed(() => housing.value?.slots.filter((s) => !['own', 'off', 'board'].includes(s.state)) ?? [])
const picked = ref<string[]>(props.damaged ? [props.damaged.piece.part_id] : [])
const choices = computed(() =>
  pairs.value || facts.kind === 'reseat'
    ? foreign.value
    : (housing.value?.slots.filter((s) => s.piece.origin !== 'off' && s.state !== 'board') ?? []),
)
const needs = computed(() => ['calibrate', 'paired', 'damage', 'reseat', 'known-good part'].includes(facts.kind))
const { problem, mine, theirs, busy, save } = useChange()
const place = ref({ after: 'now', done: '' })
const asks = computed(() =>
  problem.value?.errors
    ?.find((e) => e.location === 'body.understood')
    ?.message.replace(/^allowed: true, once you have read what cannot be undone: /, ''),
)
const done = ref('')
async function send(understood: boolean) {
  const id = newId()
  const pieces = choices.value.filter((s) => picked.value.includes(s.piece.part_id)).map((s) => s.piece)
  const path = { id: props.room.study.id }
  const made = await save((_, header) =>
    facts.kind === 'calibrate'
      ? take(
          api.POST('/api/studies/{id}/calibrations', {
            params: { path, header },
            body: {
              id,
              housing_unit_id: facts.housing,
              part_ids: pieces.map((p) => p.part_id),
              minutes: facts.minutes,
              understood,
            },
          }),
        )
      : take(
          api.POST('/api/studies/{id}/swap-acts', {
            params: { path, header },
            body: {
              id,
              understood,
              ...placing(place.value),
              kind: facts.kind === 'paired' ? 'calibrate' : facts.kind,
              ...(facts.kind === 'paired'
                ? {
                    accepted: facts.accepted,
                    reason: facts.accepted ? '' : facts.reason,
                    note: facts.history ? 'the phone shows the exchange in its history' : '',
                  }
                : {}),
              ...(facts.kind === 'damage' && facts.spoils.length ? { spoils: facts.spoils } : {}),
              board_unit_id: housing.value?.board_unit_id ?? facts.housing,
              pieces: needs.value ? pieces : [],
              build: facts.build,
              what: facts.what,
              minutes: facts.minutes,
            },
          }),
        ),
  )
  if (!made) return
  const { told } = made as { told?: string[] }
  if (told?.length) emit('told', told)
  if (facts.kind === 'calibrate')
    done.value = made.accepted
      ? 'The service accepted: the board’s entry is replaced.'
      : `The service refused: ${made.reason}.`
  else emit('close')
}
</script>

<template>
  <form class="panel" aria-label="Done between trials" @submit.prevent="send(false)">
    <h2>Done between trials</h2>
    <div class="grid">
      <label>
        What
        <ElSelect v-model="facts.kind" :teleported="false" filterable aria-label="What was done">
          <ElOption v-for="[k, words] in kinds" :key="k" :value="k" :label="words" />
        </ElSelect>
      </label>
      <label>
        On which phone
        <ElSelect v-model="facts.housing" :teleported="false" aria-label="On which phone">
          <ElOption
            v-for="h in room.board.housings"
            :key="h.unit_id"
            :value="h.unit_id"
            :label="`${unit(h.unit_id)?.name}${h.board_unit_id !== h.unit_id ? `, with the ${unit(h.board_unit_id)?.name ?? 'missing'} board` : ''}`"
          />
        </ElSelect>
      </label>
      <label v-if="facts.kind === 'update' || facts.kind === 'flash'">
        Build that it carries now
        <ElInput v-model="facts.build" maxlength="40" />
      </label>
      <label v-if="facts.kind === 'damage'">
        What happened
        <ElInput v-model="facts.what" maxlength="120" placeholder="panel blotched by heat" />
      </label>
      <label v-if="facts.kind === 'damage'">
        It spoils
        <ElSelect
          v-model="facts.spoils"
          :teleported="false"
          multiple
          filterable
          placeholder="every check"
          aria-label="Checks that it spoils"
        >
          <ElOption value="cosmetic" label="only its looks" />
          <ElOption v-for="c in room.checks" :key="c.mark" :value="c.mark" :label="c.name" />
        </ElSelect>
      </label>
      <label v-if="facts.kind === 'method changed'">
        How
        <ElInput v-model="facts.what" maxlength="120" placeholder="press instead of plate" />
      </label>
      <template v-if="facts.kind === 'paired'">
        <label>
          The phone
          <ElSelect v-model="facts.accepted" :teleported="false" aria-label="The phone accepted it">
            <ElOption :value="true" label="accepted it" />
            <ElOption :value="false" label="refused it" />
          </ElSelect>
        </label>
        <label v-if="!facts.accepted">
          Why
          <ElSelect v-model="facts.reason" :teleported="false" aria-label="Why it refused">
            <ElOption v-for="r in refusals" :key="r" :value="r" :label="r" />
          </ElSelect>
        </label>
        <label v-else class="tick">
          <input v-model="facts.history" type="checkbox" />
          its history shows the exchange
        </label>
      </template>
      <label>
        Minutes
        <ElInputNumber v-model="facts.minutes" :min="0" :max="1440" aria-label="Minutes" />
      </label>
      <PlaceFields
        v-if="facts.kind !== 'calibrate'"
        v-model="place"
        :room="room"
        :error="fieldError(problem, 'after') ?? fieldError(problem, 'done_at')"
      />
    </div>
    <fieldset v-if="needs">
      <legend>{{ facts.kind === 'damage' ? 'The damaged piece' : 'Which pieces' }}</legend>
      <p v-if="!choices.length" class="quiet">Every piece here belongs to the board.</p>
      <label v-for="s in choices" :key="s.piece.part_id" class="tick">
        <input v-model="picked" type="checkbox" :value="s.piece.part_id" />
        {{ s.part }}, {{ say('state', s.state) }}
      </label>
    </fieldset>
    <div v-if="asks" class="asks" role="alert">
      <b>This cannot be undone.</b>
      {{ asks }}.
      <ElButton type="primary" :loading="busy" @click="send(true)">I have read it: it is done, record it</ElButton>
    </div>
    <ProblemNote v-else :problem="problem" :mine="mine" @theirs="theirs" />
    <p v-if="busy && facts.kind === 'calibrate'" class="quiet" role="status">
      Asking the service; it gets 4 seconds to answer.
    </p>
    <p v-if="done" role="status">{{ done }}</p>
    <div class="row">
      <ElButton v-if="!asks && !done" type="primary" native-type="submit" :loading="busy">
        {{ facts.kind === 'calibrate' ? 'Ask the service' : 'Record it' }}
      </ElButton>
      <ElButton @click="$emit('close')">{{ done ? 'Close' : 'Leave it' }}</ElButton>
    </div>
  </form>
</template>

<style scoped>
.panel {
  border: 1px solid var(--ink);
  padding: 12px 14px;
  margin-bottom: 20px;
}
.grid {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 12px;
  margin-bottom: 10px;
}
.grid label {
  display: flex;
  flex-direction: column;
  font-size: 14px;
  gap: 2px;
}
fieldset {
  border: 1px solid var(--line);
  margin: 0 0 10px;
  padding: 6px 10px;
}
legend {
  font-size: 14px;
}
.tick {
  display: inline-flex;
  gap: 6px;
  margin-right: 14px;
  font-size: 14px;
}
.grid .tick {
  flex-direction: row;
  align-items: center;
  align-self: end;
}
.grid :deep(.el-form-item) {
  margin: 0;
}
.asks {
  background: var(--amber-wash);
  padding: 10px 12px;
  margin-bottom: 10px;
}
.asks .el-button {
  margin-top: 8px;
}
</style>
