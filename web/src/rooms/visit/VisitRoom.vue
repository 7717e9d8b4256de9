<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { ElCheckbox, ElInput } from 'element-plus'
import { computed, reactive, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, newId, take, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import { clock, minutes } from '../../shared/format'
import { first, jumping, typing } from '../../shared/keys'
import { locale } from '../../shared/locale'
import ProblemNote from '../../shared/ProblemNote.vue'
import { sendPicture } from '../../shared/sendPicture'
import { useChange } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'
import { useSession } from '../../shared/session'
import PartPick from './PartPick.vue'
import QuickChecks from './QuickChecks.vue'
import SlipSheet from './SlipSheet.vue'
import { useRepair } from './useRepair'

/** A phone that is here, from arrival to hand-back: everything about it is one key away. */
const route = useRoute()
const router = useRouter()
const id = String(route.params.id)
const { room, error, again } = useRoom(['visit', id], () => api.GET('/api/visits/{id}', { params: { path: { id } } }))
const r = useRepair(id, room, again)
const { may } = useSession()
const writes = may('visits')
const { problem, mine, theirs, busy, save } = useChange()
const visit = computed(() => room.value?.visit)
const open = computed(() => visit.value && !['closed', 'handed back'].includes(visit.value.state))

const facts = reactive({ ticket: '', said: '' })
watch(
  visit,
  (v) => {
    if (v) Object.assign(facts, { ticket: v.ticket ?? '', said: v.said ?? '' })
  },
  { immediate: true },
)
const change = (more: Partial<Omit<Schemas['VisitChange'], 'version'>>) => {
  const v = visit.value!
  return save((version, header) =>
    take(
      api.PUT('/api/visits/{id}', {
        params: { path: { id }, header },
        body: {
          version: version ?? v.version,
          sticker: v.sticker,
          ticket: v.ticket,
          said: v.said,
          arrival: v.arrival,
          consents: v.consents,
          part_id: v.part_id,
          state: v.state,
          ...more,
        },
      }),
    ),
  )
}
const move = (state: 'in' | 'waiting for a part' | 'handed back') =>
  save((version, header) =>
    take(
      api.PUT('/api/visits/{id}/state', {
        params: { path: { id }, header },
        body: { version: version ?? visit.value!.version, state },
      }),
    ),
  )
const confirm = (counts: boolean) =>
  save((version, header) =>
    take(
      api.PUT('/api/visits/{id}/confirm', {
        params: { path: { id }, header },
        body: { version: version ?? visit.value!.version, counts },
      }),
    ),
  )
async function faulty() {
  const known = room.value?.faults.find((f) => f.state === 'open')
  if (known) return router.push({ name: 'fault', params: { id: known.id } })
  const made = await save((_, header) =>
    take(
      api.POST('/api/faults', {
        params: { header },
        body: { id: newId(), visit_id: id, sticker: visit.value!.sticker, state: 'in' },
      }),
    ),
  )
  if (made) await router.push({ name: 'fault', params: { id: made.id } })
}
async function picture(e: Event) {
  const file = (e.target as HTMLInputElement).files?.[0]
  if (file) await save((_, header) => sendPicture(`/api/visits/${id}/photos`, { photo_id: newId() }, header, file))
  ;(e.target as HTMLInputElement).value = ''
}
const without = (p: Schemas['VisitPhoto']) =>
  save((_, header) =>
    take(
      api.DELETE('/api/visit-photos/{id}', { params: { path: { id: p.id }, query: { version: p.version }, header } }),
    ),
  )

/** What may be done with it, the first one first; a key stands where its act stands. */
const acts = computed(() => {
  const v = visit.value
  const x = room.value
  if (!v || !x) return []
  const list: { key: string; title: string; why: string; go: () => unknown }[] = []
  const job = v.part_id
    ? {
        key: 'j',
        title: 'Job card',
        why: 'price, way, what is lost',
        go: () => router.push({ name: 'job', params: { id: v.model_id, part: v.part_id! } }),
      }
    : undefined
  if (v.doubt === 'asked') {
    list.push({
      key: 'n',
      title: 'Leave these minutes out',
      why: 'they are hardly those of a repair',
      go: () => confirm(false),
    })
    list.push({ key: 'y', title: 'It was so: count them', why: 'for the times and promises', go: () => confirm(true) })
  }
  const follow = {
    key: 'f',
    title: r.done.value.length ? 'Go on with the repair' : 'Follow the repair',
    why: r.next.value ? `next: ${r.next.value.text}` : 'say how it went',
    go: () => router.push({ name: 'repair', params: { id } }),
  }
  const fault = {
    key: 'd',
    title: 'Find the fault',
    why: x.faults.find((f) => f.state === 'open')?.symptom || 'what is it, and what next',
    go: faulty,
  }
  if (open.value && v.part_id && x.acts.length) list.push(follow)
  if (v.state === 'closed')
    list.push({ key: 'p', title: 'Print the slip', why: 'for the customer', go: () => window.print() })
  if (v.state === 'closed')
    list.push({ key: 'h', title: 'Hand it back', why: 'then it leaves the list', go: () => move('handed back') })
  if (open.value) list.push(fault)
  if (job) list.push(job)
  if (open.value && v.state !== 'waiting for a part')
    list.push({
      key: 'w',
      title: 'It waits for a part',
      why: 'off the bench until it comes',
      go: () => move('waiting for a part'),
    })
  if (v.state === 'waiting for a part')
    list.push({ key: 'w', title: 'The part is here', why: 'back to the bench', go: () => move('in') })
  if (open.value)
    list.push({
      key: 'h',
      title: 'Hand it back without a repair',
      why: 'its job is given up',
      go: () => move('handed back'),
    })
  if (!open.value)
    list.push({
      key: 'o',
      title: 'Take it up again',
      why: 'what its closing wrote is taken back',
      go: () => move('in'),
    })
  if (v.state === 'handed back' && v.closed_at)
    list.push({ key: 'p', title: 'Print the slip', why: 'again', go: () => window.print() })
  return list
})
const leaving = ref(false)
function run(a: { key: string; title: string; go: () => unknown }) {
  if (a.title === 'Hand it back without a repair' && !leaving.value) return void (leaving.value = true)
  leaving.value = false
  void a.go()
}
useEventListener('keydown', (e: KeyboardEvent) => {
  if (typing(e) || jumping() || e.ctrlKey || e.metaKey || e.altKey || !writes.value) return
  const a = first(e) ? acts.value[0] : acts.value.find((x) => x.key === e.key)
  if (!a || busy.value) return
  e.preventDefault()
  run(a)
})
const time = (at: string | number) =>
  new Date(at).toLocaleTimeString(locale.value, { hour: '2-digit', minute: '2-digit' })
const textOf = (key: string) =>
  r.at(key)?.text ??
  (key.startsWith('round ')
    ? `round ${key.split(' ')[1]} of heat: no gap`
    : key.startsWith('incident')
      ? 'damaged'
      : key)
const arrival = computed({
  get: () => (visit.value?.arrival ?? {}) as Record<string, 'pass' | 'lost'>,
  set: (a) => void change({ arrival: a }),
})
const agreed = [
  ['data', 'data may be lost'],
  ['water', 'no longer keeps water out as before'],
  ['seal', 'edge not sealed as new'],
] as const
</script>

<template>
  <div class="room visit">
    <div v-if="error" class="answer no-print" role="alert">{{ error.message }}</div>
    <AnswerLine v-else class="answer no-print" :sentence="room?.answer" />
    <template v-if="room && visit">
      <div class="stage no-print">
        <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
        <section v-if="writes">
          <h2>Do next</h2>
          <ol class="acts plain">
            <li v-for="(a, i) in acts" :key="a.title">
              <button type="button" :class="{ first: !i }" :disabled="busy" @click="run(a)">
                <span class="keys">{{ i ? a.key : 'Enter' }}</span>
                <span>
                  <b>{{ a.title }}</b>
                  <small>{{ a.why }}</small>
                </span>
              </button>
            </li>
          </ol>
          <p v-if="leaving" class="look" role="status">
            Press it once more: its job is given up, and it leaves the list.
          </p>
        </section>
        <PartPick v-if="open && writes && !visit.part_id" :parts="room.parts" @choose="(p) => change({ part_id: p })" />
        <section id="repair">
          <span id="outcome" />
          <h2>
            The repair
            <span v-if="room.part" class="quiet">{{ room.model.name }}, {{ room.part }}</span>
          </h2>
          <p v-if="room.way && !room.way.blocked">
            Whole repair {{ minutes(Math.round(room.way.closed_minutes)) }}:
            {{ minutes(Math.round(room.way.hands_on_minutes)) }} hands-on,
            {{ minutes(Math.round(room.way.wait_minutes)) }} waiting; to the part
            {{ minutes(Math.round(room.way.elapsed_minutes)) }}.
            <template v-if="room.state.done">{{ room.state.done }} of {{ room.state.of }} acts are done.</template>
          </p>
          <p v-if="room.tell.length">
            Tell the customer:
            <b class="look">{{ room.tell.slice(0, 3).join(', ') }}</b>
          </p>
          <ol v-if="r.done.value.length" class="plain log">
            <li v-for="d in r.done.value" :key="d.id">
              <span class="fig quiet">{{ time(d.at) }}</span>
              <span>
                {{ textOf(d.key) }}
                <b v-if="d.result" :class="{ look: d.result === 'lost' || d.result === 'mark' }">
                  {{ { pass: 'works' }[d.result] ?? d.result }}
                </b>
                <b v-if="d.hurt" class="look">{{ room.parts.find((p) => p.id === d.hurt)?.name }}</b>
              </span>
              <span class="fig quiet">{{ d.seconds ? clock(d.seconds) : '' }}</span>
            </li>
          </ol>
          <p v-else class="quiet">Nothing is done yet.</p>
        </section>
      </div>
      <div class="shelf no-print">
        <section>
          <h2>The customer</h2>
          <p v-if="visit.forgotten_at" class="quiet">
            What they said was deleted, {{ room.kept_days }} days after hand-back.
          </p>
          <form v-else @change="change({ ticket: facts.ticket.trim(), said: facts.said.trim() })" @submit.prevent>
            <label>
              Ticket number, no names
              <ElInput v-model="facts.ticket" maxlength="40" :disabled="!writes" />
            </label>
            <label>
              What they say
              <ElInput v-model="facts.said" type="textarea" :rows="2" maxlength="400" :disabled="!writes" />
            </label>
          </form>
          <p class="quiet">
            Nothing else about them is kept. Ticket, words and pictures are deleted {{ room.kept_days }} days after
            hand-back.
          </p>
          <ElCheckbox
            v-for="[key, text] in agreed"
            :key="key"
            :model-value="visit.consents?.[key] ?? false"
            :disabled="!writes || !open"
            @change="(on) => change({ consents: { ...visit!.consents, [key]: Boolean(on) } })"
          >
            agrees: {{ text }}
          </ElCheckbox>
        </section>
        <section>
          <QuickChecks v-if="writes && open" v-model="arrival" :names="room.quick" />
          <template v-else>
            <h2>When it came</h2>
            <p v-for="q in room.quick" :key="q.mark">
              {{ q.name }}:
              <b :class="{ look: q.result === 'lost' }">
                {{ { pass: 'works', lost: 'does not', '': 'not tried' }[q.result] }}
              </b>
            </p>
          </template>
        </section>
        <section>
          <h2>Pictures</h2>
          <div class="pictures">
            <figure v-for="p in room.photos" :key="p.id">
              <a :href="`/api/visit-photos/${p.id}/full`" target="_blank" rel="noopener">
                <img :src="`/api/visit-photos/${p.id}/thumb`" alt="the phone as it came or went" />
              </a>
              <button v-if="writes" type="button" class="bare link" @click="without(p)">delete</button>
            </figure>
          </div>
          <label v-if="writes && !visit.forgotten_at" class="add">
            Add a picture
            <input type="file" accept="image/*" capture="environment" @change="picture" />
          </label>
        </section>
      </div>
      <SlipSheet :room="room" :results="(key) => r.result(key)" :done="r.keys.value" />
    </template>
  </div>
</template>

<style scoped>
.acts li {
  padding: 0;
}
.acts button {
  display: flex;
  gap: 14px;
  align-items: center;
  width: 100%;
  min-height: 56px;
  font: inherit;
  color: inherit;
  text-align: left;
  background: none;
  border: 0;
  cursor: pointer;
}
.acts .keys {
  min-width: 44px;
  min-height: 36px;
  display: grid;
  place-items: center;
}
.acts b {
  display: block;
  font-size: 17px;
}
.acts small {
  color: var(--quiet);
  font-size: 15px;
}
.acts .first b {
  font-size: 19px;
}
.acts .first .keys {
  background: var(--pine);
  color: var(--on-pine);
  border-color: var(--pine);
  padding: 0 10px;
}
.log li {
  display: grid;
  grid-template-columns: 84px 1fr auto;
  gap: 10px;
}
label {
  display: block;
  margin-bottom: 10px;
}
.el-checkbox {
  display: flex;
  height: auto;
  min-height: 34px;
  white-space: normal;
  margin-right: 0;
}
.pictures {
  display: flex;
  gap: 10px;
  flex-wrap: wrap;
}
figure {
  margin: 0;
}
img {
  height: 96px;
  display: block;
}
.add input {
  display: block;
  min-height: 44px;
}
</style>
