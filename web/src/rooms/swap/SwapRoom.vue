<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { ElButton } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, newId, take, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import FaceBar from '../../shared/FaceBar.vue'
import { first, jumping, typing } from '../../shared/keys'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'
import { useSession } from '../../shared/session'
import AccountFace from './AccountFace.vue'
import ActPanel from './ActPanel.vue'
import { startOf } from './arrange'
import BenchShelf from './BenchShelf.vue'
import CellEvidence from './CellEvidence.vue'
import KnownFace from './KnownFace.vue'
import NextCards from './NextCards.vue'
import QuestionList from './QuestionList.vue'
import SickPhones from '../faults/SickPhones.vue'
import SuspectShelf from './SuspectShelf.vue'
import SwapBoard from './SwapBoard.vue'
import TrialForm from './TrialForm.vue'
import TrialList from './TrialList.vue'
import { useFurther } from '../../shared/useFurther'
import { useRoom } from '../../shared/useRoom'
import { useUndo } from '../../shared/useUndo'
import { say } from '../../words'

const route = useRoute()
const router = useRouter()
const id = String(route.params.id)
const faces = [
  ['board', 'Board'],
  ['known', 'Results'],
  ['account', 'Summary'],
] as const
const face = computed(() => String(route.query.face ?? 'board'))
const show = (f: string) => router.replace({ query: { ...route.query, face: f === 'board' ? undefined : f } })
const build = ref('')
const learned = ref(false)
const budget = ref(0)
const explore = ref(false)
const noise = ref<{ false_loss: number; false_pass: number }>()
const { room: latest, error } = useRoom(
  () => ['swap', id, build.value, learned.value, budget.value, explore.value, noise.value],
  () =>
    api.GET('/api/studies/{id}/swap', {
      params: {
        path: { id },
        query: {
          build: build.value,
          learned: learned.value,
          budget: budget.value,
          explore: explore.value,
          ...noise.value,
        },
      },
    }),
)
const { all, more, onward, trouble } = useFurther(
  computed<Schemas['SwapTrialPage'] | undefined>(() => latest.value),
  (page) => [...page.trials].reverse(),
  (page) => (page.older ? page.trials[0]?.id : undefined),
  (before) => take(api.GET('/api/studies/{id}/trials', { params: { path: { id }, query: { before } } })),
)
/** The room with the pages of older trials that were asked for. */
const room = computed(() => {
  const now = latest.value
  const trials = [...all.value].reverse()
  return now && { ...now, trials, older: more.value ? now.older + now.trials.length - trials.length : 0 }
})
const { may } = useSession()
const writes = may('studies')
// The trial that is written down is a page of its own: its address names the trial, or the phone of a new one.
const writing = computed(() => (route.query.trial ? String(route.query.trial) : ''))
const trial = computed(() => room.value?.trials.find((t) => t.id === writing.value))
watch(
  [writing, room],
  () => {
    const wanted = writing.value && writing.value !== 'new' && !trial.value
    if (wanted && more.value && !trouble.value) void onward() // an older trial, opened by its address
  },
  { immediate: true },
)
const start = computed(() => {
  const list = room.value?.board.housings ?? []
  const h = list.find((x) => x.unit_id === route.query.phone)
  return h && startOf(h)
})
const told = ref<string[]>([])
const open = (query: Record<string, string>) => router.push({ query: { ...bare(), ...query } })
const bare = () => Object.fromEntries(Object.entries(route.query).filter(([k]) => k !== 'trial' && k !== 'phone'))
const leave = () => router.push({ query: bare() })
const acting = ref<{ piece: Schemas['Piece']; board: string } | 'calibrate' | 'reset' | true>()
const cell = ref<Schemas['LedgerVerdict']>()
const { problem, mine, theirs, save } = useChange()

/** A trial of what a phone holds now; by default the first phone whose board has something foreign around it. */
function record(housing?: string) {
  const list = room.value?.board.housings
  if (!list?.length) return
  const h = list.find((x) => x.unit_id === housing) ?? list.find((x) => startOf(x).pieces.length > 0) ?? list[0]!
  void open({ trial: 'new', phone: h.unit_id })
}
/** The exchange made two trials: the other board's is next. */
async function recordOther() {
  const done = start.value?.board
  const next = room.value?.board.housings.find((h) => h.board_unit_id !== done && startOf(h).pieces.length > 0)
  if (next) record(next.unit_id)
  else await leave()
}
/** A step before a board is called dead: it is written into the trial that waits for it; if it started, it is a trial of its own. */
async function passGate(n: Schemas['SwapNextSwap'], started: boolean) {
  const waits = room.value?.trials.find((t) => t.id === n.trial)
  if (!waits) return
  const kept = await save((v, header) =>
    take(
      api.POST('/api/trials/{id}/gate', {
        params: { path: { id: waits.id }, header },
        body: { version: v ?? waits.version, step: n.step ?? '' },
      }),
    ),
  )
  if (kept && started) record(room.value?.board.housings.find((x) => x.board_unit_id === n.board_unit_id)?.unit_id)
}
async function begin(n?: Schemas['SwapNextSwap']) {
  const r = room.value
  if (!n || !r) return
  if (n.kind === 'gate') return passGate(n, false)
  if (n.kind === 'calibrate') {
    acting.value = 'calibrate'
    await show('board')
    return
  }
  const act = (body: Omit<Schemas['NewSwapAct'], 'id'>) =>
    save((_, header) =>
      take(
        api.POST('/api/studies/{id}/swap-acts', { params: { path: { id }, header }, body: { id: newId(), ...body } }),
      ),
    )
  if (n.moves.length && !(await act({ kind: 'move', moves: n.moves }))) return
  if (n.kind === 'restore') {
    acting.value = 'reset' // reset or flashed: whoever did it says which
    await show('board')
    return
  }
  const there = r.board.housings.find((x) => x.board_unit_id === n.board_unit_id)
  const pieces = there?.fitted.filter((p) => n.part_ids.includes(p.part_id)) ?? []
  if (n.kind === 'reseat' && !(await act({ kind: 'reseat', board_unit_id: n.board_unit_id, pieces }))) return
  const h = room.value?.board.housings.find((x) => x.board_unit_id === n.board_unit_id)
  record(h?.unit_id)
}
useEventListener('keydown', (e: KeyboardEvent) => {
  if (
    typing(e) ||
    jumping() ||
    e.ctrlKey ||
    e.metaKey ||
    e.altKey ||
    !writes.value ||
    writing.value ||
    !room.value?.units.length
  )
    return
  if (e.key === 'n') record()
  else if (first(e)) void begin(budget.value && room.value.plan.length ? room.value.plan[0] : room.value.next[0])
  else if (e.key === 'h') void begin(room.value.next.find((n) => n.kind === 'control' && n.moves.length))
  else if (e.key === 'j') acting.value = true
  else return
  e.preventDefault()
})
const { gone, offer, undo } = useUndo((t: Schemas['SwapGoneTrial']) =>
  save((_, header) =>
    take(
      api.POST('/api/trials/{id}/restore', { params: { path: { id: t.id }, query: { version: t.version }, header } }),
    ),
  ),
)
async function remove(t: Schemas['SwapTrialView']) {
  offer(
    await save((v, header) =>
      take(
        api.DELETE('/api/trials/{id}', { params: { path: { id: t.id }, query: { version: v ?? t.version }, header } }),
      ),
    ),
  )
}
async function undoAct(a: Schemas['SwapActView']) {
  await save((v, header) =>
    take(
      api.DELETE('/api/swap-acts/{id}', { params: { path: { id: a.id }, query: { version: v ?? a.version }, header } }),
    ),
  )
}
</script>

<template>
  <div class="room">
    <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
    <AnswerLine v-else class="answer" :sentence="room?.answer" />
    <template v-if="room">
      <div v-if="writing" class="stage">
        <TrialForm
          v-if="writing === 'new' || trial"
          :key="writing + String(route.query.phone)"
          :room="room"
          :trial="trial"
          :start="start"
          @other="recordOther"
          @told="(t) => (told = t)"
          @close="leave"
        />
        <p v-else-if="trouble" class="danger" role="alert">{{ trouble }}</p>
        <p v-else-if="more" class="quiet">Looking among the older trials …</p>
        <p v-else class="quiet">
          That trial is not on record any more.
          <ElButton @click="leave">To the bench</ElButton>
        </p>
      </div>
      <div v-else class="stage">
        <FaceBar :faces="faces" :face="face" @show="show" />
        <template v-if="face === 'board'">
          <ActPanel
            v-if="acting"
            :room="room"
            :damaged="typeof acting === 'object' ? acting : undefined"
            :begin="typeof acting === 'string' ? acting : undefined"
            @told="(t) => (told = t)"
            @close="acting = undefined"
          />
          <SwapBoard
            v-if="room.units.length"
            :room="room"
            :writes="writes"
            @damage="(piece, board) => (acting = { piece, board })"
          />
          <p v-else class="quiet">
            Record two units at
            <RouterLink :to="{ name: 'intake', params: { id } }">intake</RouterLink>
            first: one phone alone cannot tell a broken part from one that the board refuses.
          </p>
          <section class="trials">
            <h2>Trials, board first</h2>
            <p v-if="gone" class="undo" role="status">
              Trial t{{ gone.seq }} is deleted{{
                gone.back
                  ? `, and the ${gone.back} pieces moved for it lie where they lay before: move them so on the bench, too`
                  : ''
              }}.
              <ElButton @click="undo">Undo</ElButton>
            </p>
            <div v-if="told.length" class="undo" role="status">
              It was placed back. What reads otherwise now:
              <ul>
                <li v-for="t in told" :key="t">{{ t }}</li>
              </ul>
              <ElButton @click="told = []">I have read it</ElButton>
            </div>
            <TrialList
              :room="room"
              :trouble="trouble"
              :writes="writes"
              @further="onward"
              @edit="(t) => open({ trial: t.id })"
              @remove="remove"
              @undo="undoAct"
            />
          </section>
        </template>
        <KnownFace
          v-else-if="face === 'known'"
          v-model:build="build"
          v-model:learned="learned"
          v-model:noise="noise"
          :room="room"
          :chosen="cell"
          :writes="writes"
          @choose="(v) => (cell = v)"
        />
        <AccountFace v-else :room="room" />
      </div>
      <div v-if="writing" class="shelf">
        <BenchShelf :room="room" />
        <section v-if="room.warnings.length" class="guards" aria-label="Guards">
          <p v-for="w in room.warnings" :key="w.text">
            <b>{{ say('warning', w.kind) }}</b>
            {{ w.text }}
          </p>
        </section>
      </div>
      <div v-else class="shelf">
        <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
        <CellEvidence v-if="cell && face === 'known'" :verdict="cell" :room="room" @close="cell = undefined" />
        <section v-if="room.warnings.length" class="guards" aria-label="Guards">
          <p v-for="w in room.warnings" :key="w.text">
            <b>{{ say('warning', w.kind) }}</b>
            {{ w.text }}
          </p>
        </section>
        <section v-if="room.asked.length" class="guards" aria-label="Questions without an answer">
          <p v-for="q in room.asked" :key="q">{{ q }}</p>
        </section>
        <NextCards
          v-model:budget="budget"
          v-model:explore="explore"
          :room="room"
          :writes="writes"
          @start="begin"
          @gate="passGate"
        />
        <p v-if="writes && room.units.length" class="row">
          <ElButton @click="record()">
            Record a trial
            <span class="keys">n</span>
          </ElButton>
          <ElButton @click="acting = true">
            Done between trials
            <span class="keys">j</span>
          </ElButton>
        </p>
        <SickPhones :units="room.units" :model="room.model.id" />
        <QuestionList :room="room" />
        <SuspectShelf :room="room" :house="!noise" />
      </div>
    </template>
  </div>
</template>

<style scoped>
.guards {
  border-left: 4px solid var(--amber-fill);
  background: var(--amber-wash);
  padding: 8px 12px;
}
.guards p:last-child {
  margin: 0;
}
.trials {
  margin-top: 24px;
}
.undo {
  background: var(--amber-wash);
  padding: 8px 12px;
}
</style>
