<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { ElButton } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'

import { api, take, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import { minutes } from '../../shared/format'
import { jumping, typing } from '../../shared/keys'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'
import DryReport from './DryReport.vue'
import { useRoom } from '../../shared/useRoom'
import { say } from '../../words'

/** Two simulated phones: arrange their pieces, read their boards, commit to verdicts. */
const id = String(useRoute().params.id)
const { room, error } = useRoom(['dry-run', id], () => api.GET('/api/dry-runs/{id}', { params: { path: { id } } }))
const { problem, mine, theirs, busy, save } = useChange()
type Act = Schemas['DryAct']
const step = (a: Act) =>
  save((v, header) =>
    take(
      api.POST('/api/dry-runs/{id}/acts', {
        params: { path: { id }, header },
        body: { version: v ?? room.value!.version, ...a },
      }),
    ),
  )
const end = () =>
  save((v, header) =>
    take(
      api.POST('/api/dry-runs/{id}/end', {
        params: { path: { id }, header },
        body: { version: v ?? room.value!.version },
      }),
    ),
  )
const wanted = ref<string[]>([])
watch(
  () => room.value?.exchanged,
  (now) => (wanted.value = [...(now ?? [])]),
  { immediate: true },
)
const changed = computed(() => [...wanted.value].sort().join() !== [...(room.value?.exchanged ?? [])].sort().join())
const toggle = (slot: string) =>
  (wanted.value = wanted.value.includes(slot) ? wanted.value.filter((s) => s !== slot) : [...wanted.value, slot])
async function arrange() {
  if (changed.value) await step({ kind: 'arrange', slots: wanted.value })
}
async function read(board: 'pine' | 'amber', late = false) {
  if (changed.value && !(await step({ kind: 'arrange', slots: wanted.value }))) return
  await step({ kind: 'read', board, checks: room.value!.checks.map((c) => c.name), late })
}
const explanations = computed(() => (room.value?.choices ?? []).map((c) => [c.id, c.words] as const))
const words = (e: string) => explanations.value.find(([x]) => x === e)?.[1] ?? 'nothing loses it'
const readings = computed(() => [...(room.value?.readings ?? [])].reverse())
const seen = (check: string) => {
  const all = (room.value?.readings ?? []).filter((r) => r.mark !== 'before' && r.results[check])
  const lost = all.filter((r) => r.results[check] === 'lost')
  return all.length ? `lost ${lost.length} of ${all.length}` : 'not read'
}
useEventListener('keydown', (e: KeyboardEvent) => {
  if (typing(e) || jumping() || e.ctrlKey || e.metaKey || e.altKey || !room.value || room.value.done || busy.value)
    return
  if (e.key === '1') void read('pine')
  else if (e.key === '2') void read('amber')
  else return
  e.preventDefault()
})
</script>

<template>
  <div class="room">
    <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
    <AnswerLine v-else class="answer" :sentence="room?.answer" />
    <template v-if="room">
      <div class="stage">
        <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
        <DryReport v-if="room.report" :room="room" :words="words" />
        <section v-else>
          <h2>Two phones, PINE and AMBER: {{ room.name }}</h2>
          <div class="scroll" tabindex="0" role="region" aria-label="Parts">
            <table class="slots">
              <thead>
                <tr>
                  <th>Part</th>
                  <th>PINE board holds</th>
                  <th>AMBER board holds</th>
                  <th class="num">to exchange</th>
                  <th>left off</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="s in room.slots" :key="s.name" :class="{ crossed: wanted.includes(s.name) }">
                  <th scope="row">
                    <label>
                      <input type="checkbox" :checked="wanted.includes(s.name)" @change="toggle(s.name)" />
                      {{ s.name }}
                    </label>
                  </th>
                  <td v-for="u in ['pine', 'amber'] as const" :key="u">
                    <template v-if="room.off[u]?.includes(s.name)">left off</template>
                    <template v-else>
                      {{ wanted.includes(s.name) !== (u === 'amber') ? 'AMBER’s' : 'PINE’s' }}
                      <span class="quiet">{{ say('state', wanted.includes(s.name) ? 'stranger' : 'own') }}</span>
                    </template>
                  </td>
                  <td class="num">{{ minutes(s.minutes) }}</td>
                  <td>
                    <button
                      v-for="u in ['pine', 'amber'] as const"
                      :key="u"
                      class="bare link off"
                      :aria-label="`Leave the ${s.name} of ${u.toUpperCase()} off`"
                      @click="step({ kind: 'leave off', board: u, slots: [s.name] })"
                    >
                      {{ u.toUpperCase() }} off
                    </button>
                  </td>
                </tr>
              </tbody>
            </table>
          </div>
        </section>
        <section>
          <h2>Readings</h2>
          <p v-if="!readings.length" class="quiet">Nothing was read yet.</p>
          <ul class="plain">
            <li v-for="r in readings" :key="r.mark + r.board">
              <b class="fig">{{ r.mark }}</b>
              {{ r.title }}{{ r.late ? ', after restart, charge and settling' : '' }}
              <span class="quiet fig">minute {{ Math.round(r.minute) }}</span>
              <div :class="{ look: Object.values(r.results).includes('lost') }">
                {{
                  Object.values(r.results).includes('lost')
                    ? `lost: ${Object.entries(r.results)
                        .filter(([, v]) => v === 'lost')
                        .map(([c]) => c)
                        .join(', ')}`
                    : `all ${Object.keys(r.results).length} checks passed`
                }}
              </div>
            </li>
          </ul>
        </section>
      </div>
      <div class="shelf">
        <template v-if="!room.done">
          <section id="clock">
            <h2>
              Clock
              <span class="fig">{{ minutes(room.clock) }}</span>
            </h2>
            <p class="row">
              <ElButton size="small" @click="wanted = [...room.board_set]">
                Exchange the boards ({{ minutes(room.board_minutes) }})
              </ElButton>
              <ElButton size="small" @click="wanted = []">Originals back</ElButton>
              <ElButton v-if="changed" size="small" :loading="busy" @click="arrange">Only fit</ElButton>
            </p>
            <p class="row">
              <ElButton type="primary" :loading="busy" @click="read('pine')">
                {{ changed ? 'Fit and read' : 'Read' }} PINE
                <span class="keys">1</span>
              </ElButton>
              <ElButton type="primary" :loading="busy" @click="read('amber')">
                {{ changed ? 'Fit and read' : 'Read' }} AMBER
                <span class="keys">2</span>
              </ElButton>
            </p>
            <details>
              <summary>More at the bench</summary>
              <p v-for="u in ['pine', 'amber'] as const" :key="u" class="row more">
                <b>{{ u.toUpperCase() }}</b>
                <span class="quiet">build {{ room.builds[u] }}</span>
                <ElButton size="small" @click="step({ kind: 'reseat', board: u, slots: [] })">Reseat</ElButton>
                <ElButton size="small" @click="read(u, true)">Read settled</ElButton>
                <ElButton size="small" @click="step({ kind: 'reset', board: u })">Reset</ElButton>
                <ElButton size="small" @click="step({ kind: 'flash', board: u })">Flash: no way back</ElButton>
              </p>
            </details>
          </section>
          <section id="commit">
            <h2>Commit: what loses it?</h2>
            <table>
              <tbody>
                <tr v-for="c in room.checks" :key="c.name">
                  <td>
                    {{ c.name }}
                    <small class="quiet">{{ seen(c.name) }}</small>
                  </td>
                  <td>
                    <select
                      :aria-label="`What loses ${c.name}`"
                      :value="c.name in room.commits ? room.commits[c.name] || 'none' : ''"
                      @change="
                        (e) =>
                          step({
                            kind: 'commit',
                            checks: [c.name],
                            explanation: (e.target as HTMLSelectElement).value.replace(/^none$/, ''),
                          })
                      "
                    >
                      <option value="" disabled>not yet</option>
                      <option value="none">nothing loses it</option>
                      <option v-for="[x, w] in explanations" :key="x" :value="x">{{ w }}</option>
                    </select>
                  </td>
                </tr>
              </tbody>
            </table>
            <ElButton class="end" :loading="busy" @click="end">End, and see the truth</ElButton>
          </section>
        </template>
        <section v-if="room.log.length">
          <h2>Done at the bench</h2>
          <ul class="plain">
            <li v-for="(l, i) in room.log" :key="i" class="quiet">{{ l }}</li>
          </ul>
        </section>
        <p class="quiet">
          Level {{ room.level + 1 }}, seed
          <span class="fig">{{ room.seed }}</span>
          : whoever starts with these gets the same phones.
        </p>
      </div>
    </template>
  </div>
</template>

<style scoped>
.slots th[scope],
.slots td {
  padding: 3px 8px 3px 0;
  font-size: 15px;
  font-weight: 400;
  color: var(--ink);
  border-bottom: 1px solid var(--line);
}
.slots label {
  display: flex;
  gap: 8px;
}
.crossed td {
  color: var(--amber);
}
.off {
  font-size: 13px;
  margin-right: 8px;
  white-space: nowrap;
}
#commit td {
  padding: 3px 6px 3px 0;
  font-size: 15px;
}
#commit small {
  display: block;
}
.more {
  padding-top: 6px;
}
select {
  font-size: 14px;
  padding: 4px;
  max-width: 210px;
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--strong-line);
}
.end {
  margin-top: 10px;
}
</style>
