<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { ElButton } from 'element-plus'
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, newId } from '../../api/client'
import AskPanel from '../../shared/bench/AskPanel.vue'
import { mirror, useRunning } from '../../shared/bench/clocks'
import { reader, type Reader } from '../../shared/bench/reader'
import { tone } from '../../shared/bench/tone'
import TrayPanel from '../../shared/bench/TrayPanel.vue'
import { useStops } from '../../shared/bench/useStops'
import { clock as time } from '../../shared/format'
import { jumping, typing } from '../../shared/keys'
import { useRoom } from '../../shared/useRoom'
import ActPanel from './ActPanel.vue'
import BrokePanel from './BrokePanel.vue'
import EndPanel from './EndPanel.vue'
import ProposeForm from './ProposeForm.vue'
import RepairBar from './RepairBar.vue'
import SignPanel from './SignPanel.vue'
import { useRepair, type Act } from './useRepair'
import WaitPanel from './WaitPanel.vue'

/** One act a screen, from the closed phone to the tested one. Space is the next screw, then the next act. */
const route = useRoute()
const router = useRouter()
const id = String(route.params.id)
const { room, error, again } = useRoom(['visit', id], () => api.GET('/api/visits/{id}', { params: { path: { id } } }))
const r = useRepair(id, room, again)
const bench = shallowRef<Reader>()
const settled = ref(false)
onMounted(async () => {
  bench.value = await reader().catch(() => undefined) // without it nothing is asked; the acts are shown all the same
  settled.value = true
})
const open = computed(() => room.value && !['closed', 'handed back'].includes(room.value.visit.state))

/** Another act than the next one, where somebody went back or works while a clock runs. */
const chosen = ref<string>()
const act = computed<Act | undefined>(() => {
  const c = chosen.value ? r.at(chosen.value) : undefined
  return c ?? r.next.value
})
watch(act, (a) => a && open.value && r.begin(), { immediate: true })
const step = computed(() => room.value?.way?.steps.find((s) => s.id === act.value?.step_id))
const here = computed(() => room.value?.way?.steps.findIndex((s) => s.id === act.value?.step_id) ?? -1)
const hot = computed(() => step.value?.verb === 'heat' || ['plate', 'press', 'air'].includes(step.value?.method ?? ''))
const clock = computed(() => r.clocks.value.find((c) => c.act.key === act.value?.key))
const elsewhere = computed(() => r.clocks.value.find((c) => c.act.key !== act.value?.key))
const testing = computed(() => act.value?.phase === 'test' || (room.value && !act.value && r.acts.value.length > 0))
const doneHere = computed(() => Boolean(act.value && r.keys.value.has(act.value.key)))

// Clocks of this repair are told to the rest of the program on this device, and sound when they end.
watch(r.clocks, (list) =>
  mirror(
    `visit ${id}`,
    list.map((c) => ({
      id: `visit ${id} ${c.act.key}`,
      study: '',
      unit: '',
      name: room.value?.visit.sticker ?? '',
      task: c.act.text.replace(/^Wait: /, ''),
      face: '',
      line: '',
      started: c.from,
      seconds: c.whole,
      path: `/visits/${id}/follow`,
    })),
  ),
)
let rung = ''
watch(r.clocks, (list) => {
  const over = list.find((c) => c.left <= 0)
  if (over && rung !== `${over.act.key} ${over.from} ${over.whole}`) {
    rung = `${over.act.key} ${over.from} ${over.whole}`
    tone(true)
  }
})
const { running } = useRunning()
const others = computed(() =>
  running.value
    .filter((c) => c.path !== `/visits/${id}/follow`)
    .map((c) => ({ id: c.id, title: c.name, now: c.task, path: c.path ?? `/studies/${c.study}/strip` })),
)

const ticked = ref(0)
watch(
  () => act.value?.key,
  () => (ticked.value = 0),
)
const { stop, ask, answered } = useStops()
const broke = ref(false)
const signing = ref(false)
const lacking = ref(false)
const busy = ref(false)

/** What stops this act: what the bench would stop, and what a cover would hide. */
function stops(a: Act) {
  const list = []
  const planned = room.value?.bench.steps.find((s) => s.id === a.step_id)
  if (a.kind === 'step' && planned && bench.value) {
    const before = r.done.value.filter((d) => d.key.startsWith('in ')).map((d) => `=${d.key.slice(3)}`)
    list.push(...bench.value.stops(room.value!.bench, before, planned))
  }
  const hides = (a.needs ?? []).filter((k) => !r.keys.value.has(k)).map((k) => r.at(k)?.text ?? k)
  if (hides.length)
    list.push({
      rule: 'covered',
      text: `It would hide: ${hides.join('; ')}`,
      do: 'Look first, then close.',
      reasons: [],
    })
  return list
}
/** The act is done: what is dangerous about it stops first. */
function done(result = '') {
  const a = act.value
  if (!a || busy.value || !open.value) return
  if (doneHere.value) return go(1)
  if (a.kind === 'gate' && needsSign(a)) return void (signing.value = true)
  ask(stops(a), async (told, stopped) => {
    if (stopped) return
    busy.value = true
    try {
      for (const t of told) {
        if (t.rule !== 'covered') continue
        for (const k of a.needs ?? []) if (!r.keys.value.has(k)) await r.put({ key: k, seconds: 0 }, r.at(k)?.text ?? k)
      }
      const ran = clock.value ? Math.max(1, Math.round((Date.now() - clock.value.from) / 1000)) : undefined
      const note = told
        .map((t) => `stop “${t.rule}”: ${t.answer}`)
        .join('; ')
        .slice(0, 400)
      await r.put(
        {
          key: a.key,
          ...(a.screws ? { screws: a.screws } : {}),
          ...(ran ? { wait: ran } : {}),
          ...(result ? { result } : {}),
          ...(note ? { note } : {}),
        },
        a.text,
      )
      chosen.value = undefined
    } finally {
      busy.value = false
    }
  })
}
const gateKinds: Record<string, string> = { seat: 'leads', cable: 'cables', film: 'films', dust: 'dust' }
const needsSign = (a: Act) => room.value?.signs.includes(gateKinds[a.key.split(' ')[1] ?? ''] ?? '') ?? false
/** Space: the next screw, then the act. */
function main() {
  const a = act.value
  if (!a) return
  if (a.kind === 'wait') return hot.value && clock.value && clock.value.left <= 0 ? undefined : done()
  if (a.screws && !doneHere.value && ticked.value < a.screws) {
    ticked.value++
    if (ticked.value < a.screws) return
  }
  done()
}
/** A round of heat that gave no gap: once more. */
async function round() {
  const c = clock.value
  if (!c) return
  const ran = Math.max(1, Math.round((Date.now() - c.from) / 1000))
  await r.put({ key: `round ${c.round} ${c.act.step_id}`, wait: ran, result: 'no gap' }, `round ${c.round}: no gap`)
}
async function gap(result: 'gap' | 'mark') {
  if (result === 'mark') broke.value = true
  done(result)
}
function go(by: number) {
  const list = r.counted.value
  const k = list.findIndex((a) => a.key === act.value?.key)
  const to = list[Math.max(0, Math.min(list.length - 1, (k < 0 ? list.length : k) + by))]
  chosen.value = to && to.key !== r.next.value?.key ? to.key : undefined
}
const extend = () => {
  const c = clock.value
  if (c) r.more.value = { ...r.more.value, [c.act.key]: (r.more.value[c.act.key] ?? 0) + 30 }
}
const meanwhile = computed(() => {
  const k = act.value?.meanwhile?.find((m) => !r.keys.value.has(m))
  return k ? r.at(k) : undefined
})
const undo = () => {
  const d = r.done.value.findLast((x) => x.key === act.value?.key)
  if (d) void r.undo(d)
}
async function incident(part: string, note: string) {
  broke.value = false
  await r.put(
    { key: `incident ${newId()}`, seconds: 0, hurt_part: part, note: note || undefined },
    `damaged: ${note || part}`,
  )
}
const word = computed(() => {
  const a = act.value
  if (!a || doneHere.value) return 'Next'
  if (a.kind === 'wait') return clock.value && clock.value.left > 0 ? 'Took it off early' : 'Done'
  if (!a.screws) return a.kind === 'gate' ? 'Seen' : 'Done'
  const n = ticked.value + 1
  const out = a.phase === 'in' ? 'out' : 'in'
  return a.screws === 1 ? `It is ${out}` : n >= a.screws ? `Last one is ${out}` : `${n} of ${a.screws} is ${out}`
})
useEventListener('keydown', (e: KeyboardEvent) => {
  const a = act.value
  if (typing(e) || jumping() || e.ctrlKey || e.metaKey || e.altKey || !a || stop.value || testing.value) return
  const over = clock.value && clock.value.left <= 0
  if ((e.key === ' ' || e.key === 'Enter' || e.key === 'ArrowRight') && !(e.target as Element).closest('a, .el-button'))
    main()
  else if (e.key === 'ArrowLeft') go(-1)
  else if (e.key === 'x') broke.value = true
  else if (e.key === 'l') lacking.value = true
  else if (e.key === 'u' && doneHere.value) undo()
  else if (e.key === '+' && clock.value) extend()
  else if (e.key === 's' && a.kind === 'wait') done()
  else if (e.key === 'm' && meanwhile.value) chosen.value = meanwhile.value.key
  else if (e.key === '1' && over && hot.value) void round()
  else if (e.key === '2' && over && hot.value) void gap('gap')
  else if (e.key === '3' && over && hot.value) void gap('mark')
  else return
  e.preventDefault()
})
</script>

<template>
  <div class="follow">
    <p v-if="error" role="alert" class="danger">{{ error.message }}</p>
    <p v-else-if="room && !room.acts.length" class="danger">
      No way to this part is on record: it cannot be followed.
      <RouterLink :to="{ name: 'visit', params: { id } }">Back to the phone</RouterLink>
    </p>
    <template v-if="room && settled && room.acts.length">
      <header class="band">
        <RouterLink class="name" :to="{ name: 'visit', params: { id } }">{{ room.visit.sticker }}</RouterLink>
        <RepairBar :acts="r.counted.value" :done="r.keys.value" :now="act?.key" :way="room.way" />
      </header>
      <p v-if="elsewhere" class="running" role="status">
        <button type="button" class="bare" @click="chosen = elsewhere.act.key">
          {{ elsewhere.act.text }}
          <b class="fig">{{ elsewhere.left > 0 ? time(elsewhere.left) : `+${time(-elsewhere.left)}` }}</b>
        </button>
      </p>
      <TrayPanel :tray="r.tray.value" />
      <EndPanel v-if="testing" :id="id" :room="room" :repair="r" @broke="broke = true" @back="go(-1)" />
      <template v-else-if="act">
        <ActPanel
          :room="room"
          :act="act"
          :step="step"
          :here="here"
          :ticked="ticked"
          :done="doneHere"
          :keys="r.keys.value"
          :counted="r.counted.value"
          :quiet="act.kind === 'wait'"
          @tick="main"
        >
          <WaitPanel
            v-if="clock"
            :clock="clock"
            :hot="hot"
            :then="r.counted.value[r.counted.value.indexOf(act) + 1]?.text"
            :never="step?.cautions[0] && `${step.cautions[0].text} ${step.cautions[0].do}`"
            :meanwhile="meanwhile"
            :others="others"
            @more="extend"
            @go="(k) => (chosen = k)"
          />
        </ActPanel>
        <nav class="moves" aria-label="Acts">
          <ElButton size="large" :disabled="r.counted.value[0]?.key === act.key" @click="go(-1)">
            Back
            <span class="keys">←</span>
          </ElButton>
          <template v-if="clock && hot && clock.left <= 0">
            <ElButton size="large" @click="round">
              no gap
              <span class="keys">1</span>
            </ElButton>
            <ElButton size="large" type="primary" @click="gap('gap')">
              gap
              <span class="keys">2</span>
            </ElButton>
            <ElButton size="large" @click="gap('mark')">
              mark
              <span class="keys">3</span>
            </ElButton>
          </template>
          <template v-else>
            <ElButton v-if="doneHere" size="large" @click="undo">
              Take it back
              <span class="keys">u</span>
            </ElButton>
            <ElButton v-else size="large" @click="broke = true">
              Something broke
              <span class="keys">x</span>
            </ElButton>
            <ElButton class="lacks" size="large" @click="lacking = true">
              The record lacks …
              <span class="keys">l</span>
            </ElButton>
            <ElButton class="main" type="primary" size="large" :disabled="!open" @click="main">
              {{ word }}
              <span class="keys">{{ act.kind === 'wait' && clock && clock.left > 0 ? 's' : 'space' }}</span>
            </ElButton>
          </template>
        </nav>
      </template>
      <AskPanel v-if="stop" :key="stop.title" v-bind="stop" :title="`Stop: ${stop.title}`" danger @answer="answered" />
      <BrokePanel v-if="broke" :parts="room.parts" :risk="step?.frees ?? []" @close="broke = false" @hurt="incident" />
      <SignPanel
        v-if="signing && act"
        :id="id"
        :act="act"
        :people="room.people"
        @close="signing = false"
        @signed="((signing = false), (chosen = undefined))"
      />
      <ProposeForm v-if="lacking" :room="room" :act="act" @close="lacking = false" />
      <p v-if="!open" class="quiet ended">
        This repair is closed.
        <button type="button" class="bare link" @click="router.push({ name: 'visit', params: { id } })">
          To the phone
        </button>
      </p>
    </template>
  </div>
</template>

<style scoped>
.follow {
  padding: 0 24px 110px;
}
.band {
  display: flex;
  gap: 24px;
  align-items: center;
  min-height: 60px;
  border-bottom: 1px solid var(--line);
  margin-bottom: 14px;
}
.name {
  font-size: 24px;
  font-weight: 700;
  color: var(--ink);
  text-decoration: none;
  min-height: 44px;
  display: flex;
  align-items: center;
}
.running {
  background: var(--amber-wash);
  padding: 4px 12px;
}
.running button {
  min-height: 44px;
  width: 100%;
}
.running b {
  float: right;
  font-size: 24px;
}
.moves {
  position: fixed;
  left: 0;
  right: 0;
  bottom: 0;
  display: flex;
  gap: 12px;
  padding: 10px 24px;
  min-height: 88px;
  background: var(--ground);
  border-top: 1px solid var(--ink);
  z-index: 10;
  align-items: center;
}
.moves :deep(.el-button) {
  min-height: 64px;
  font-size: 19px;
}
.moves .main {
  margin-left: auto;
  min-width: 280px;
  font-size: 24px;
}
.ended {
  margin-top: 20px;
}
@media (max-width: 900px) {
  .follow {
    padding: 0 14px 120px;
  }
  .band {
    gap: 12px;
  }
  .name {
    font-size: 19px;
  }
  .moves {
    padding: 8px 12px;
    gap: 8px;
  }
  .moves :deep(.el-button) {
    font-size: 16px;
    padding: 8px 10px;
  }
  .moves .main {
    min-width: 0;
    flex: 1;
    font-size: 19px;
  }
  .moves .keys,
  .lacks {
    display: none;
  }
}
</style>
