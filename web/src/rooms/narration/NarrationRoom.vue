<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { ElButton } from 'element-plus'
import { computed, nextTick, onBeforeUnmount, reactive, ref } from 'vue'
import { useRoute } from 'vue-router'

import { api, newId, take, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import AskPanel from '../../shared/bench/AskPanel.vue'
import { jumping, typing } from '../../shared/keys'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useSession } from '../../shared/session'
import { fieldError, useChange } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'
import RecordingForm from './RecordingForm.vue'
import SaidRow from './SaidRow.vue'
import { entering, untouched } from './accept'
import type { Taken } from './taken'
import TeachWord from './TeachWord.vue'

const id = String(useRoute().params.id)
const { room, error } = useRoom(['strip', id], () => api.GET('/api/studies/{id}/strip', { params: { path: { id } } }))
const { may } = useSession()
const writes = may('studies')
const { problem, mine, theirs, busy, save } = useChange()
const units = computed(() => room.value?.units ?? [])
const picked = ref('')
const unit = computed({ get: () => picked.value || units.value[0]?.id || '', set: (u) => (picked.value = u) })
const text = ref('')
const began = ref<Date>()
const heard = ref<Schemas['StripHeard']>()
const taken = reactive(new Map<string, Taken>())
const chosen = ref('')
const editing = ref('')
const logged = ref<{ recording: string; n: number; phone: string }>()

/** Reads the recording; keep: what was said of its proposals stays. */
async function read(keep = false) {
  const answer = await save(() =>
    take(
      api.POST('/api/studies/{id}/narration/look', {
        params: { path: { id } },
        body: { text: text.value, unit_id: unit.value },
      }),
    ),
  )
  if (!answer) return
  const before = new Map(keep ? offers.value.map((o) => [placeOf(o), taken.get(o.id)]) : [])
  heard.value = answer
  taken.clear()
  for (const o of answer.proposals) {
    const kept = o.logged ? undefined : before.get(placeOf(o))
    taken.set(o.id, kept?.state ? { ...kept } : untouched(o, newId()))
  }
  logged.value = undefined
  chosen.value = waiting.value[0]?.id ?? answer.proposals[0]?.id ?? ''
}
const offers = computed(() => heard.value?.proposals ?? [])
/** Where a proposal stands: the same words read again are the same proposal. */
const placeOf = (o: Schemas['StripOffer']) => [o.cue, o.from, o.kind, o.object].join(' ')
/** Proposals that ask for a yes or a no. */
const waiting = computed(() =>
  offers.value.filter((o) => taken.get(o.id)?.state === '' && o.acted && !o.withdrawn_by && !o.logged),
)
const yeses = computed(() => offers.value.filter((o) => taken.get(o.id)?.state === 'yes'))
/** Those that need no second look: done, no doubt, and the bench has a line for them. */
const plain = computed(() => waiting.value.filter((o) => o.enter && !o.doubts.length && o.confidence >= 0.8))
/** Only the rows in which something asks. */
const asking = ref(false)
const rows = computed(() => {
  const h = heard.value
  if (!h) return []
  return h.cues
    .map((cue, i) => ({
      cue,
      offers: h.proposals.map((offer, k) => ({ n: k + 1, offer })).filter((p) => p.offer.cue === i),
      unread: h.unread.filter((u) => u.cue === i),
    }))
    .filter(
      (r) => !asking.value || r.offers.some((o) => waiting.value.includes(o.offer) || o.offer.id === chosen.value),
    )
})
function show(o: string) {
  chosen.value = o
  void nextTick(() => document.querySelector(`[data-offer="${o}"]`)?.scrollIntoView({ block: 'nearest' }))
}
function move(by: number) {
  const list = offers.value
  const i = list.findIndex((o) => o.id === chosen.value)
  const to = list[Math.min(list.length - 1, Math.max(0, i + by))]
  if (to) show(to.id)
}
/** The next one that waits, after this one. */
function onward(from: string) {
  const i = offers.value.findIndex((o) => o.id === from)
  const next = offers.value.slice(i + 1).find((o) => waiting.value.includes(o)) ?? waiting.value[0]
  if (next) show(next.id)
}
function say(o: string, state: 'yes' | 'no') {
  const t = taken.get(o)
  const offer = offers.value.find((x) => x.id === o)
  if (!t || !offer) return
  if (state === 'yes' && offer.which.length && !t.line.trim()) return // which part it was is said first
  if (editing.value === o) {
    t.mended = t.line.trim() !== offer.enter
    if (t.mended) learn(offer, t.line)
  }
  editing.value = ''
  t.state = state
  t.id = newId()
  onward(o)
}
/** A mend that names another part teaches, when somebody says so: what was said is read as that part from then on. */
const lesson = ref<{ say: string; means: string }>()
function learn(o: Schemas['StripOffer'], line: string) {
  const named = (room.value?.parts ?? [])
    .map((p) => p.name)
    .filter((n) => line.toLowerCase().includes(n.toLowerCase()))
    .sort((a, b) => b.length - a.length)[0]
  const said = o.object.toLowerCase()
  if (named && said && named.toLowerCase() !== said && named !== o.part && wordsOf(o).toLowerCase().includes(said))
    lesson.value = { say: o.object, means: named }
}
async function learned(yes: boolean) {
  const w = lesson.value
  lesson.value = undefined
  if (yes && w)
    await save((_, header) =>
      take(api.POST('/api/words', { params: { header }, body: { id: newId(), ...w, kind: 'part' } })),
    )
}
const strange = ref('')
/** Words that are marked on the left, to say what they mean. */
function marked() {
  const words = String(getSelection() ?? '').trim()
  if (words && words.split(/\s+/).length <= 4 && words.length <= 60) strange.value = words
}
function edit(o: string) {
  show(o)
  editing.value = editing.value === o ? '' : o
  void nextTick(() => document.querySelector<HTMLInputElement>(`[data-offer="${o}"] input`)?.focus())
}
/** The part that was meant, by its digit: the line says which. */
function which(o: string, i: number) {
  const w = offers.value.find((x) => x.id === o)?.which[i]
  const t = taken.get(o)
  if (!w || !t) return
  t.line = w.line
  t.mended = true
  say(o, 'yes')
}
function flip(o: string) {
  const t = taken.get(o)!
  const i = units.value.findIndex((u) => u.id === t.unit)
  t.unit = units.value[(i + 1) % units.value.length]!.id
}
function all() {
  for (const o of plain.value) taken.get(o.id)!.state = 'yes'
  if (waiting.value[0]) show(waiting.value[0].id)
}
const length = computed(() => (heard.value?.timed ? heard.value.summary.seconds : 0))
/** When the recording began, as somebody said it or as an entry that was typed live shows it. */
const synced = ref<Date>()
const start = computed(() => {
  const latest = Date.now() - length.value * 1000 - 1000
  if (synced.value) return new Date(Math.min(latest, synced.value.getTime()))
  return new Date(Math.min(latest, began.value ? began.value.getTime() - length.value * 1000 : latest))
})
const local = computed({
  get: () => new Date(start.value.getTime() - start.value.getTimezoneOffset() * 60_000).toISOString().slice(0, 19),
  set: (t: string) => (synced.value = t ? new Date(t) : undefined),
})
/** The log knows when this was done: the clock of the recording is laid over it. */
function sync(o: Schemas['StripOffer']) {
  if (o.logged_at) synced.value = new Date(Date.parse(o.logged_at) - o.start * 1000)
}
const wordsOf = (o: Schemas['StripOffer']) => heard.value!.cues[o.cue]!.text.slice(0, 400)
let recording = newId()
async function log(stops?: 'already done') {
  if (!yeses.value.length || busy.value) return
  const made = await save((_, header) =>
    take(
      api.POST('/api/studies/{id}/narration', {
        params: { path: { id }, header },
        body: {
          recording,
          began: start.value.toISOString(),
          ...(stops ? { stops } : {}),
          lines: yeses.value.map((o) => entering(o, taken.get(o.id)!, wordsOf(o), heard.value!.timed ? o.start : 0)),
        },
      }),
    ),
  )
  if (!made) return
  logged.value = { recording, n: made.entries.length, phone: made.entries[0]!.unit_id }
  recording = newId()
  await read2()
}
/** The same recording against the log as it is now: what was logged is shown as known. */
async function read2(keep = false) {
  const done = logged.value
  await read(keep)
  logged.value = done
}
const stopped = computed(() => fieldError(problem.value, 'stops'))
/** What the server refused, at its proposal. */
const refused = computed(() => {
  const m = new Map<string, string>()
  for (const e of problem.value?.errors ?? []) {
    const i = /^body\.lines\[(\d+)\]/.exec(e.location)
    const o = i && yeses.value[Number(i[1])]
    if (o) m.set(o.id, e.message)
  }
  return m
})
async function undo() {
  const r = logged.value
  if (!r) return
  const gone = await save((_, header) =>
    take(
      api.POST('/api/studies/{id}/narration/undo', {
        params: { path: { id }, header },
        body: { recording: r.recording },
      }),
    ),
  )
  if (gone) await read()
}
/** A film or a sound that plays beside the text; it never leaves the device. */
const film = ref<string>()
const player = ref<HTMLVideoElement>()
function playing(file: File) {
  if (film.value) URL.revokeObjectURL(film.value)
  film.value = URL.createObjectURL(file)
}
onBeforeUnmount(() => film.value && URL.revokeObjectURL(film.value))
function play(second: number) {
  if (!player.value) return
  player.value.currentTime = second
  void player.value.play()
}
useEventListener('keydown', (e: KeyboardEvent) => {
  if (!heard.value || lesson.value || typing(e) || jumping() || e.ctrlKey || e.metaKey || e.altKey || !writes.value)
    return
  if (e.key === 'Enter' && (e.target as HTMLElement).closest('button, a')) return
  const o = offers.value.find((x) => x.id === chosen.value)
  if (e.key === 'ArrowDown') move(1)
  else if (e.key === 'ArrowUp') move(-1)
  else if (e.key === 'Enter' && o) say(o.id, 'yes')
  else if (e.key === 'x' && o) say(o.id, 'no')
  else if (e.key === 'e' && o) edit(o.id)
  else if (e.key === 'a') all()
  else if (e.key === 'q') asking.value = !asking.value
  else if (o && /^[1-9]$/.test(e.key) && o.which[Number(e.key) - 1]) which(o.id, Number(e.key) - 1)
  else if (e.key === 'l') void log()
  else if (e.key === 'u' && logged.value) void undo()
  else if (e.key === ' ' && o && film.value) play(o.start)
  else return
  e.preventDefault()
})
</script>

<template>
  <div class="room">
    <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
    <AnswerLine v-else-if="heard" class="answer" :sentence="heard.answer" />
    <AnswerLine
      v-else
      class="answer"
      :sentence="[{ text: 'What was said while working becomes the log. Nothing is logged before you say so.' }]"
    />
    <div v-if="room" class="whole">
      <ProblemNote v-if="!stopped" :problem="problem" :mine="mine" @theirs="theirs" />
      <p v-if="!units.length">
        This study has no phone yet.
        <RouterLink :to="{ name: 'strip', params: { id } }">Record the first phone</RouterLink>
      </p>
      <RecordingForm
        v-else-if="!heard"
        v-model:unit="unit"
        v-model:text="text"
        :units="units"
        :busy="busy"
        @read="read()"
        @began="(at) => (began = at)"
        @film="playing"
      />
      <template v-else>
        <div class="row tools">
          <span class="quiet">
            <label v-if="heard.timed">
              began
              <input v-model="local" type="datetime-local" step="1" aria-label="When the recording began" />
            </label>
            <template v-else>no times: all at the time of logging</template>
          </span>
          <ElButton :aria-pressed="asking" @click="asking = !asking">
            {{ asking ? 'All of it' : 'Only what asks' }}
            <span class="keys">q</span>
          </ElButton>
          <ElButton v-if="plain.length" @click="all">
            {{ plain.length === 1 ? 'Accept the plain one' : `Accept the ${plain.length} plain ones` }}
            <span class="keys">a</span>
          </ElButton>
          <ElButton v-if="writes" type="primary" :disabled="!yeses.length" :loading="busy" @click="log()">
            Log the {{ yeses.length }} accepted
            <span class="keys">l</span>
          </ElButton>
        </div>
        <p v-if="logged" class="done" role="status">
          {{ logged.n }} entries logged.
          <ElButton :loading="busy" @click="undo">
            Take them all back
            <span class="keys">u</span>
          </ElButton>
          <RouterLink :to="{ name: 'strip', params: { id }, query: { phone: logged.phone } }">To the log</RouterLink>
          <template v-if="heard.timed">
            For the film:
            <a :href="`/api/studies/${id}/narration/${logged.recording}/chapters`" download>chapters</a>
            <a :href="`/api/studies/${id}/narration/${logged.recording}/captions`" download>
              captions with the parts named
            </a>
          </template>
        </p>
        <video v-if="film" ref="player" class="film" :src="film" controls aria-label="The recording" />
        <div id="said" class="heads">
          <h2>
            What was said
            <small class="quiet">
              {{ Math.round(100 * heard.summary.words_read) }} % used, underlined; amber: a bench word left over
            </small>
          </h2>
          <h2>
            What would be logged
            <small class="quiet">
              {{ offers.length }}; move with
              <span class="keys">↑</span>
              <span class="keys">↓</span>
            </small>
          </h2>
        </div>
        <SaidRow
          v-for="r in rows"
          :key="r.cue.start + r.cue.text"
          v-bind="r"
          :units="units"
          :taken="taken"
          :chosen="chosen"
          :editing="editing"
          :timed="heard.timed"
          :refused="refused"
          @choose="(o) => (chosen = o)"
          @yes="(o) => say(o, 'yes')"
          @no="(o) => say(o, 'no')"
          @edit="edit"
          @flip="flip"
          @which="which"
          @mouseup="marked"
          @play="play(r.cue.start)"
          @sync="(o) => sync(offers.find((x) => x.id === o)!)"
        />
        <ElButton class="another" @click="heard = undefined">Another recording</ElButton>
        <TeachWord v-if="writes" v-model:word="strange" :parts="room.parts" @taught="read2(true)" />
        <p class="quiet">
          A figure that was misheard, with no second one to check it against, passes unseen: look at the figures.
        </p>
      </template>
    </div>
    <AskPanel
      v-if="lesson"
      title="A word of this workshop?"
      :text="`Read “${lesson.say}” as ${lesson.means} from now on?`"
      :answers="['No, only here', 'Yes, from now on']"
      @answer="(i) => learned(i === 1)"
    />
    <AskPanel
      v-if="stopped"
      title="Before these steps something had to be done"
      :text="stopped"
      :answers="['I look again, nothing is logged', 'It was done when I said it: log them']"
      danger
      @answer="(i) => (i ? log('already done') : (problem = undefined))"
    />
  </div>
</template>

<style scoped>
.whole {
  grid-column: 1 / -1;
}
.tools {
  justify-content: flex-end;
}
.tools > .quiet {
  margin-right: auto;
}
.another {
  margin-top: 12px;
}
.tools label input {
  font: inherit;
  min-height: 32px;
  color: var(--ink);
  background: var(--sheet);
  border: 1px solid var(--strong-line);
}
.done {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: center;
  background: var(--amber-wash);
  padding: 8px 12px;
}
.heads {
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(0, 6fr);
  gap: 20px;
}
.film {
  position: sticky;
  top: 8px;
  max-height: 30vh;
  max-width: 100%;
}
@media (max-width: 1000px) {
  .heads {
    display: none;
  }
}
</style>
