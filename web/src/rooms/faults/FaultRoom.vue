<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { ElButton, ElInput, ElInputNumber } from 'element-plus'
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { useRoute } from 'vue-router'

import { api, newId, take, type Schemas } from '../../api/client'
import { locale } from '../../shared/locale'
import AnswerLine from '../../shared/AnswerLine.vue'
import { useOutbox } from '../../shared/bench/outbox'
import TrayPanel from '../../shared/bench/TrayPanel.vue'
import { minutes } from '../../shared/format'
import { first, jumping, typing } from '../../shared/keys'
import { fromMinor, toMinor } from '../../shared/money'
import PhoneMap from '../../shared/PhoneMap.vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'
import { useSession } from '../../shared/session'
import { useRoom } from '../../shared/useRoom'
import CauseBars from './CauseBars.vue'
import CheckList from './CheckList.vue'
import NextActs from './NextActs.vue'
import SymptomPick from './SymptomPick.vue'

const route = useRoute()
const id = String(route.params.id)
const { room, error, again } = useRoom(['fault', id], () => api.GET('/api/faults/{id}', { params: { path: { id } } }))
const { may } = useSession()
const writes = may('visits')
const outbox = useOutbox()
const { problem, mine, theirs, busy, save } = useChange()
onBeforeUnmount(outbox.onSent(again))
/** Acts that this browser has and the server not yet: the next act is shown once it has answered. */
const unsent = computed(() => outbox.waiting.filter((e) => e.row === id))
const tray = computed(() => outbox.tray.filter((e) => e.row === id))
const chosen = ref(0)
watch(
  () => room.value?.acts.length,
  () => (chosen.value = 0),
)
const lying = computed(() => {
  const cause = room.value?.causes.filter((c) => !c.out).slice(0, 3) ?? []
  const act = room.value?.next[chosen.value]?.part_ids ?? []
  return [...new Set([...act, ...cause.flatMap((c) => c.part_ids)])]
})
const worn = computed(() =>
  Object.fromEntries(lying.value.map((p) => [p, { colour: 'amber', label: 'may be the fault' }])),
)
const facts = () => {
  const r = room.value!
  return {
    symptom: r.symptom,
    works: r.works ?? [],
    lost: r.lost ?? [],
    limit_minor: r.limit_minor,
    service_minor: r.service_minor,
  }
}
const change = (more: Partial<Omit<Schemas['FaultChange'], 'version'>>) =>
  save((v, header) =>
    take(
      api.PUT('/api/faults/{id}', {
        params: { path: { id }, header },
        body: { version: v ?? room.value!.version, ...facts(), ...more },
      }),
    ),
  )
/** Readings that come faster than the answers are sent one after the other, each on what is known by then. */
let before: Promise<unknown> = Promise.resolve()
function read(mark: string, result: 'pass' | 'lost' | '') {
  before = before.then(() => {
    const without = (list?: string[]) => (list ?? []).filter((m) => m !== mark)
    const f = facts()
    return change({
      works: result === 'pass' ? [...without(f.works), mark] : without(f.works),
      lost: result === 'lost' ? [...without(f.lost), mark] : without(f.lost),
    })
  })
}
async function answer(act: string, said: 'yes' | 'no' | 'at times') {
  if (unsent.value.length) return
  await outbox.add({
    study: room.value?.visit.study_id ?? '',
    unit: '',
    row: id,
    method: 'POST',
    path: `/api/faults/${id}/acts`,
    body: { id: newId(), act, answer: said },
    text: `${act}: ${said}`,
  })
}
const undo = () =>
  save((v, header) =>
    take(
      api.DELETE('/api/faults/{id}/acts', {
        params: { path: { id }, query: { version: v ?? room.value!.version }, header },
      }),
    ),
  )
const why = ref('')
const ending = ref(false)
const end = (state: 'given up' | 'not told apart' | 'open') =>
  save((v, header) =>
    take(
      api.POST('/api/faults/{id}/end', {
        params: { path: { id }, header },
        body: { version: v ?? room.value!.version, state, why: state === 'given up' ? why.value : '' },
      }),
    ),
  ).then(() => (ending.value = false))
const amount = (minor?: number) => (minor ? fromMinor(minor, room.value?.currency ?? 'EUR') : undefined)
const setMoney = (field: 'limit_minor' | 'service_minor', x: number | undefined) =>
  change({ [field]: x ? toMinor(x, room.value?.currency ?? 'EUR') : 0 })
const time = (at: string) => new Date(at).toLocaleTimeString(locale.value, { hour: '2-digit', minute: '2-digit' })
const print = () => window.print()
const copied = ref(false)
async function copy() {
  await navigator.clipboard?.writeText(room.value?.owner ?? '')
  copied.value = true
}
useEventListener('keydown', (e: KeyboardEvent) => {
  const r = room.value
  if (!r || typing(e) || jumping() || e.ctrlKey || e.metaKey || e.altKey || !writes.value || !r.symptom) return
  const now = r.next[chosen.value] ?? r.next[0]
  const said = (first(e) ? 'yes' : { y: 'yes', n: 'no', x: 'no', t: 'at times' }[e.key]) as
    'yes' | 'no' | 'at times' | undefined
  if (said && now && r.state === 'open' && !(now.asks === 'Done?' && said !== 'yes')) void answer(now.act, said)
  else if (/^[1-4]$/.test(e.key) && r.next[Number(e.key) - 1]) chosen.value = Number(e.key) - 1
  else if (e.key === 'u' && r.acts.length && ['open', 'repaired'].includes(r.state)) void undo()
  else if (e.key === 'p' && r.owner && !(e.target as HTMLElement).closest('[data-quick]')) window.print()
  else return
  e.preventDefault()
})
</script>

<template>
  <div class="room fault">
    <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
    <AnswerLine v-else class="answer" :sentence="room?.answer" />
    <div v-if="room" class="three">
      <div class="left">
        <section>
          <h2>
            {{ room.visit.sticker }}
            <span class="quiet">
              {{ room.model.name }}{{ room.visit.ticket ? `, ticket ${room.visit.ticket}` : '' }}
            </span>
          </h2>
          <p v-if="room.visit.said" class="said">“{{ room.visit.said }}”</p>
          <p v-if="room.symptom">
            Symptom:
            <b>{{ room.symptom }}</b>
            <button
              v-if="writes && !room.acts.length && room.state === 'open'"
              type="button"
              class="bare link no-print"
              @click="change({ symptom: '' })"
            >
              another
            </button>
          </p>
        </section>
        <CheckList
          v-if="room.symptom"
          class="no-print"
          :checks="room.checks"
          :writes="writes && room.state === 'open'"
          @read="read"
        />
        <section id="done">
          <h2>
            {{ room.state === 'open' ? 'Done so far' : 'What was done' }}
            <span v-if="room.acts.length" class="quiet">
              {{ minutes(room.acts.reduce((sum, a) => sum + Math.ceil(a.minutes ?? 0), 0)) }}
            </span>
          </h2>
          <p v-if="!room.acts.length" class="quiet">Nothing yet.</p>
          <ol class="plain">
            <li v-for="a in room.acts" :key="a.id" class="did">
              <span class="fig quiet">{{ time(a.done_at) }}</span>
              <span>
                {{ a.act }}:
                <b :class="{ look: a.answer !== 'no' }">{{ a.answer }}</b>
              </span>
            </li>
            <li v-for="e in unsent" :key="e.seq" class="did quiet">
              <span class="fig">…</span>
              {{ e.text }}
            </li>
          </ol>
          <ElButton
            v-if="writes && room.acts.length && ['open', 'repaired'].includes(room.state)"
            class="no-print"
            size="small"
            :loading="busy"
            @click="undo"
          >
            Take the last step back
            <span class="keys">u</span>
          </ElButton>
        </section>
      </div>
      <div class="middle">
        <SymptomPick
          v-if="!room.symptom"
          :said="room.visit.said ?? ''"
          :symptoms="room.symptoms"
          :writes="writes"
          @choose="(symptom) => change({ symptom })"
        />
        <CauseBars v-else :causes="room.causes" :learned="room.learned" />
        <section v-if="room.symptom && room.parts.length" class="no-print">
          <h2>Where they lie</h2>
          <PhoneMap :model="room.model" :parts="room.parts" :worn="worn" label="Where the likely causes lie" compact />
        </section>
      </div>
      <div class="right">
        <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
        <TrayPanel :tray="tray" />
        <section v-if="room.owner">
          <h2>Say to the owner</h2>
          <p class="said">“{{ room.owner }}”</p>
          <p class="row no-print">
            <ElButton type="primary" @click="print">
              Print the sheet
              <span class="keys">p</span>
            </ElButton>
            <ElButton @click="copy">{{ copied ? 'Copied' : 'Copy the words' }}</ElButton>
          </p>
        </section>
        <p v-if="unsent.length" class="waits" role="status">
          Written down here. The next step is shown once the server has it{{
            outbox.reached ? '.' : ': it does not answer now.'
          }}
        </p>
        <section v-if="room.gate.length" id="gate">
          <h2>Before the board is called dead</h2>
          <ul>
            <li v-for="g in room.gate" :key="g">{{ g }}</li>
          </ul>
        </section>
        <NextActs
          v-if="room.symptom && room.state === 'open'"
          class="no-print"
          :room="room"
          :writes="writes"
          :busy="busy || unsent.length > 0"
          :chosen="chosen"
          @answer="answer"
          @choose="(i) => (chosen = i)"
        />
        <p v-for="w in room.warnings" :key="w" class="look">{{ w }}</p>
        <section v-if="room.choices.length" class="choices" aria-label="Stop, or go on">
          <div v-for="c in room.choices" :key="c.title">
            <b>{{ c.title }}</b>
            <span v-if="c.money" class="money fig">{{ c.money }}</span>
            <small class="quiet">{{ c.words }}.</small>
          </div>
        </section>
        <section v-if="writes && room.symptom && room.state === 'open'" class="no-print">
          <div class="row moneys">
            <label class="quiet">
              It may cost, {{ room.currency }}
              <ElInputNumber
                :model-value="amount(room.limit_minor)"
                :controls="false"
                :min="0"
                aria-label="It may cost"
                @change="(x) => setMoney('limit_minor', x)"
              />
            </label>
            <label class="quiet">
              Price of giving up
              <ElInputNumber
                :model-value="amount(room.service_minor)"
                :controls="false"
                :min="0"
                placeholder="house"
                aria-label="Price of giving up"
                @change="(x) => setMoney('service_minor', x)"
              />
            </label>
          </div>
          <ElButton v-if="!ending" @click="ending = true">Give it up, with the reason</ElButton>
          <form v-else class="row" @submit.prevent="end('given up')">
            <ElInput
              v-model="why"
              maxlength="300"
              placeholder="too dear, no piece, the owner wants it so"
              aria-label="Why"
            />
            <ElButton type="primary" native-type="submit" :disabled="!why.trim()">Give it up</ElButton>
            <ElButton @click="ending = false">No</ElButton>
          </form>
          <ElButton v-if="room.status === 'cannot be told apart'" @click="end('not told apart')">
            Close it without telling them apart
          </ElButton>
        </section>
        <p v-if="writes && ['given up', 'not told apart'].includes(room.state)" class="no-print">
          <ElButton @click="end('open')">Open it again</ElButton>
        </p>
        <p class="quiet limits">{{ room.limits }}</p>
      </div>
    </div>
  </div>
</template>

<style scoped>
.three {
  grid-column: 1 / -1;
  display: grid;
  grid-template-columns: minmax(0, 270fr) minmax(0, 400fr) minmax(0, 506fr);
  gap: 28px;
}
.three section {
  margin-bottom: 22px;
}
.said {
  font-size: 19px;
}
.link {
  margin-left: 8px;
}
.did {
  display: grid;
  grid-template-columns: 56px minmax(0, 1fr);
  padding: 6px 0;
  border-bottom: 1px solid var(--line);
}
.choices {
  display: grid;
  grid-template-columns: 1fr 1fr;
  border: 1px solid var(--ink);
}
.choices > div {
  padding: 12px 16px;
}
.choices > div + div {
  border-left: 1px solid var(--ink);
}
.choices small,
.choices .money {
  display: block;
}
.choices .money {
  font-size: 19px;
  font-weight: 600;
}
.waits {
  background: var(--amber-wash);
  padding: 10px 12px;
}
.moneys {
  margin-bottom: 10px;
}
.moneys label {
  display: flex;
  flex-direction: column;
  font-size: 14px;
}
.moneys :deep(.el-input-number) {
  width: 130px;
}
.limits {
  font-size: 14px;
}
@media (max-width: 1000px) {
  .three {
    grid-template-columns: minmax(0, 1fr);
    gap: 8px;
  }
  .right {
    order: 1;
  }
  .middle {
    order: 2;
  }
  .left {
    order: 3;
  }
  .fault :deep(.el-button) {
    min-height: 44px;
  }
}
</style>
