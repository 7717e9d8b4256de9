<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'

import { api, take, type Schemas } from '../../api/client'
import { clock, minutes } from '../../shared/format'
import { jumping, typing } from '../../shared/keys'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'
import type { useRepair } from './useRepair'

/** The checks of what was touched, and how it went: minutes by the log, damage never preset, one act saves. */
const props = defineProps<{ id: string; room: Schemas['VisitRoom']; repair: ReturnType<typeof useRepair> }>()
const emit = defineEmits<{ broke: []; back: [] }>()
const router = useRouter()
const r = props.repair
const checks = computed(() => r.acts.value.filter((a) => a.kind === 'check' && !a.rest))
const rest = computed(() => r.acts.value.filter((a) => a.kind === 'check' && a.rest))
const folded = ref(true)
const now = computed(() => checks.value.find((c) => !r.keys.value.has(c.key)))
const read = async (key: string, text: string, result: string) => {
  if (r.keys.value.has(key)) return
  await r.put({ key, ...(result ? { result } : { skipped: true }) }, text)
}
/** Whatever was damaged on the way was written down when it happened. */
const hurts = computed(() => r.done.value.filter((d) => d.hurt))
const nothing = ref(false)
const damaged = computed(() => (hurts.value.length ? hurts.value.at(-1)!.hurt! : ''))
const name = (id: string) => props.room.parts.find((p) => p.id === id)?.name ?? ''
const away = ref<boolean>()
const skip = computed(() => new Set(away.value ? r.long.value.map((d) => d.key) : []))
const total = computed(() => {
  const off = r.long.value.filter((d) => skip.value.has(d.key)).reduce((s, d) => s + d.seconds, 0)
  return { hands: (r.hands.value - off) / 60, waits: r.waited.value / 60 }
})
const screws = computed(() => {
  const of = r.counted.value.filter((a) => a.kind === 'step' && a.screws)
  const back = of.filter((a) => r.keys.value.has(`back ${a.step_id}`))
  const sum = (list: typeof of) => list.reduce((s, a) => s + (a.screws ?? 0), 0)
  return [sum(back), sum(of)] as const
})
const open = computed(() => r.counted.value.filter((a) => a.kind !== 'check' && !r.keys.value.has(a.key)))
const left = computed(
  () =>
    [
      now.value && `${checks.value.filter((c) => !r.keys.value.has(c.key)).length} checks`,
      open.value.length && `${open.value.length} acts before them`,
      r.long.value.length && away.value === undefined && 'whether somebody was away',
      !damaged.value && !nothing.value && 'whether something was damaged',
      r.unsent.value.length && `${r.unsent.value.length} entries are not sent yet`,
    ].filter(Boolean) as string[],
)
const { problem, busy, mine, theirs, save } = useChange()
const end = async (went: 'fine' | 'incident' | 'gave up') => {
  const made = await save((v, header) =>
    take(
      api.PUT('/api/visits/{id}/end', {
        params: { path: { id: props.id }, header },
        body: {
          version: v ?? props.room.visit.version,
          went,
          hurt_part: went === 'incident' ? damaged.value : undefined,
          away: [...skip.value],
        },
      }),
    ),
  )
  if (made) await router.push({ name: 'visit', params: { id: props.id } })
}
const finish = () => !left.value.length && void end(damaged.value ? 'incident' : 'fine')
useEventListener('keydown', (e: KeyboardEvent) => {
  if (typing(e) || jumping() || e.ctrlKey || e.metaKey || e.altKey) return
  const c = now.value
  if (e.key === '1' && c) void read(c.key, c.text, 'pass')
  else if (e.key === '2' && c) void read(c.key, c.text, 'lost')
  else if (e.key === 'k' && c) void read(c.key, c.text, '')
  else if (e.key === '0' && !damaged.value) nothing.value = true
  else if (e.key === 'x') emit('broke')
  else if (e.key === 'b' && r.long.value.length) away.value = true
  else if (e.key === 'w' && r.long.value.length) away.value = false
  else if (e.key === 'ArrowLeft') emit('back')
  else if (e.key === 'Enter' && !(e.target as Element).closest('a, button')) finish()
  else return
  e.preventDefault()
})
const said = (key: string) =>
  ({ pass: 'works', lost: 'lost', '': 'not tested' })[r.result(key) ?? ''] ?? r.result(key) ?? ''
</script>

<template>
  <div class="end">
    <section>
      <h1 class="do">
        <b>Test</b>
        the closed phone:
        <span class="keys">1</span>
        for each check that works
      </h1>
      <ul class="plain">
        <li v-for="c in checks" :key="c.key" :class="{ now: c.key === now?.key }">
          <span>{{ c.text }}</span>
          <template v-if="r.keys.value.has(c.key)">
            <b :class="{ look: r.result(c.key) === 'lost' }">{{ said(c.key) }}</b>
          </template>
          <span v-else-if="c.key === now?.key" class="answers">
            <button type="button" @click="read(c.key, c.text, 'pass')">works</button>
            <button type="button" @click="read(c.key, c.text, 'lost')">lost</button>
            <button type="button" @click="read(c.key, c.text, '')">skip</button>
          </span>
          <span v-else-if="c.lost" class="look">expected: lost</span>
        </li>
      </ul>
      <p>
        <button type="button" class="bare link" @click="folded = !folded">
          {{ rest.length }} more checks, of what was not touched
        </button>
      </p>
      <ul v-if="!folded" class="plain">
        <li v-for="c in rest" :key="c.key">
          <span>{{ c.text }}</span>
          <b v-if="r.keys.value.has(c.key)" :class="{ look: r.result(c.key) === 'lost' }">{{ said(c.key) }}</b>
          <span v-else class="answers">
            <button type="button" @click="read(c.key, c.text, 'pass')">works</button>
            <button type="button" @click="read(c.key, c.text, 'lost')">lost</button>
          </span>
        </li>
      </ul>
    </section>
    <section id="outcome">
      <h2>How it went</h2>
      <dl>
        <div>
          <dt>Minutes</dt>
          <dd>
            <b class="big">{{ Math.round(total.hands + total.waits) }}</b>
            by the clock: {{ Math.round(total.hands) }} hands-on, {{ minutes(Math.round(total.waits)) }} waiting
          </dd>
        </div>
        <div>
          <dt>Usual</dt>
          <dd v-if="room.usual.length">
            {{ Math.round(room.usual[0]!) }} to {{ minutes(Math.round(room.usual[1]!)) }}
          </dd>
          <dd v-else>
            {{ minutes(Math.round(room.way?.closed_minutes ?? 0)) }} by the plan; too few repairs to say a range
          </dd>
        </div>
        <div>
          <dt>Screws</dt>
          <dd :class="{ look: screws[0] < screws[1] }">{{ screws[0] }} of {{ screws[1] }} are back</dd>
        </div>
        <div v-if="r.long.value.length">
          <dt>Break?</dt>
          <dd>
            <p v-for="d in r.long.value" :key="d.key">
              {{ r.at(d.key)?.text }}: {{ clock(d.seconds) }}, usually {{ clock(r.at(d.key)?.seconds ?? 0) }}
            </p>
            <span class="answers">
              <button type="button" :aria-pressed="away === true" :class="{ on: away === true }" @click="away = true">
                I was away
                <span class="keys">b</span>
              </button>
              <button
                type="button"
                :aria-pressed="away === false"
                :class="{ on: away === false }"
                @click="away = false"
              >
                I worked
                <span class="keys">w</span>
              </button>
            </span>
          </dd>
        </div>
        <div>
          <dt>Damaged</dt>
          <dd v-if="hurts.length">
            <b class="look">{{ [...new Set(hurts.map((h) => name(h.hurt!)))].join(', ') }}</b>
            written down on the way
          </dd>
          <dd v-else>
            <span class="answers">
              <button type="button" :aria-pressed="nothing" :class="{ on: nothing }" @click="nothing = true">
                nothing
                <span class="keys">0</span>
              </button>
              <button type="button" @click="emit('broke')">
                a part …
                <span class="keys">x</span>
              </button>
              <span v-if="!nothing" class="look">say one</span>
            </span>
          </dd>
        </div>
      </dl>
      <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
      <p v-if="left.length" class="quiet" role="status">Before saving: {{ left.join(', ') }}.</p>
    </section>
    <nav class="moves" aria-label="Acts">
      <ElButton size="large" @click="emit('back')">
        Back
        <span class="keys">←</span>
      </ElButton>
      <ElButton size="large" :loading="busy" @click="end('gave up')">Gave up</ElButton>
      <ElButton v-if="now" class="main" type="primary" size="large" @click="read(now.key, now.text, 'pass')">
        {{ now.text }}: works
        <span class="keys">1</span>
      </ElButton>
      <ElButton
        v-else
        class="main"
        type="primary"
        size="large"
        :disabled="Boolean(left.length)"
        :loading="busy"
        @click="finish"
      >
        Save: the repair is done
        <span class="keys">Enter</span>
      </ElButton>
    </nav>
  </div>
</template>

<style scoped>
.end {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 40px;
}
.do {
  font-weight: 400;
  font-size: 28px;
  line-height: 36px;
}
.plain li {
  display: flex;
  gap: 12px;
  align-items: center;
  justify-content: space-between;
  min-height: 45px;
  font-size: 18px;
}
li.now {
  background: var(--amber-wash);
  padding-left: 10px;
  padding-right: 10px;
}
.answers {
  display: flex;
  gap: 8px;
  align-items: center;
  flex-wrap: wrap;
}
.answers button {
  font: inherit;
  min-height: 48px;
  padding: 4px 16px;
  border: 1px solid var(--strong-line);
  border-radius: 2px;
  background: var(--sheet);
  color: var(--ink);
  cursor: pointer;
}
.answers button.on {
  background: var(--pine);
  color: var(--on-pine);
}
.answers button.on .keys {
  color: inherit;
}
dl > div {
  display: grid;
  grid-template-columns: 110px 1fr;
  gap: 12px;
  margin-bottom: 14px;
  font-size: 18px;
}
dt {
  color: var(--quiet);
}
dd {
  margin: 0;
}
.big {
  display: block;
  font-size: 42px;
  line-height: 46px;
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
  font-size: 18px;
}
.main {
  margin-left: auto;
  min-width: 280px;
}
@media (max-width: 900px) {
  .end {
    grid-template-columns: 1fr;
    gap: 16px;
  }
  .moves {
    padding: 8px 12px;
    gap: 8px;
  }
  .moves :deep(.el-button) {
    font-size: 16px;
    padding: 8px 10px;
  }
  .main {
    min-width: 0;
    flex: 1;
  }
  .keys {
    display: none;
  }
  dl > div {
    grid-template-columns: 90px 1fr;
  }
}
</style>
