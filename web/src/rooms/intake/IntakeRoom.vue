<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'

import { api, take, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import { typing } from '../../shared/keys'
import ProblemNote from '../../shared/ProblemNote.vue'
import ResultCell from '../../shared/ResultCell.vue'
import type { Result } from '../../shared/ResultCell.vue'
import { useChange } from '../../shared/useChange'
import { useSession } from '../../shared/session'
import StickerTag from '../../shared/StickerTag.vue'
import GateShelf from './GateShelf.vue'
import HypothesisList from './HypothesisList.vue'
import ModelForm from './ModelForm.vue'
import StudyForm from './StudyForm.vue'
import UnitForm from './UnitForm.vue'
import { useRoom } from '../../shared/useRoom'
import { say } from '../../words'

const id = String(useRoute().params.id)
const { room, error } = useRoom(['intake', id], () => api.GET('/api/studies/{id}/intake', { params: { path: { id } } }))
const { may } = useSession()
const writes = may('studies')
const editing = ref<Schemas['Unit'] | 'new'>()
const naming = ref(false)
const modelling = ref(false)
useEventListener('keydown', (e: KeyboardEvent) => {
  if (e.key === 'n' && !typing(e) && writes.value) {
    e.preventDefault()
    editing.value = 'new'
  }
})

const { problem, mine, theirs, save } = useChange()
const cell = (u: Schemas['IntakeUnitIntake'], check: string) => u.baseline.find((b) => b.check === check)
// What was pressed shows at once; the server's answer replaces it.
const pressed = ref<Record<string, Result>>({})
const queue: (() => Promise<void>)[] = []
let running = false
async function drain() {
  if (running) return
  running = true
  for (let next = queue.shift(); next; next = queue.shift()) await next()
  running = false
}
function put(u: Schemas['IntakeUnitIntake'], check: string, result: Result, assumed = false) {
  const key = u.unit.id + check
  pressed.value[key] = result
  queue.push(async () => {
    const seen = room.value?.intake.find((x) => x.unit.id === u.unit.id)?.baseline.find((b) => b.check === check)
    await save((v, header) =>
      take(
        api.PUT('/api/units/{id}/baseline/{check}', {
          params: { path: { id: u.unit.id, check }, header },
          body: { version: v ?? seen?.version ?? 0, result, assumed },
        }),
      ),
    )
    delete pressed.value[key]
  })
  void drain()
}
/** Every check without a result gets one, after what was pressed before it. */
function rest(u: Schemas['IntakeUnitIntake'], assumed: boolean) {
  queue.push(async () => {
    await save((_, header) =>
      take(
        api.POST('/api/units/{id}/baseline', {
          params: { path: { id: u.unit.id }, header },
          body: { result: 'pass', assumed },
        }),
      ),
    )
  })
  void drain()
}
const left = (u: Schemas['IntakeUnitIntake']) => room.value?.checks.filter((c) => !cell(u, c.mark)).length ?? 0
function move(unit: number, check: number, by: number) {
  document.querySelector<HTMLElement>(`[data-cell="${unit}-${check + by}"] button`)?.focus()
}
const differ = computed(() => new Set(room.value?.units.map((u) => u.build)).size > 1)
</script>

<template>
  <div class="room">
    <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
    <AnswerLine v-else class="answer" :sentence="room?.answer" />
    <template v-if="room">
      <div class="stage">
        <section id="baseline">
          <h2>Baseline, before opening</h2>
          <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
          <template v-if="!room.intake.length">
            <p class="quiet">
              Record the first phone, then run every check on it: a loss that was there before opening proves nothing.
            </p>
            <ElButton v-if="writes" type="primary" @click="editing = 'new'">
              Record the first phone
              <span class="keys">n</span>
            </ElButton>
          </template>
          <div v-else class="scroll" tabindex="0" role="region" aria-label="Baseline">
            <table>
              <thead>
                <tr>
                  <th>Check</th>
                  <th v-for="u in room.intake" :key="u.unit.id"><StickerTag :unit="u.unit" /></th>
                </tr>
              </thead>
              <tbody>
                <tr
                  v-for="(c, ci) in room.checks"
                  :key="c.mark"
                  :class="{ group: c.group !== room.checks[ci - 1]?.group }"
                >
                  <td>
                    <small v-if="c.group !== room.checks[ci - 1]?.group" class="quiet">{{ c.group }}</small>
                    {{ c.name }}
                    <small class="quiet depth">{{ c.depth }}</small>
                  </td>
                  <td v-for="(u, ui) in room.intake" :key="u.unit.id" :data-cell="`${ui}-${ci}`">
                    <ResultCell
                      :result="pressed[u.unit.id + c.mark] ?? cell(u, c.mark)?.result"
                      :assumed="!pressed[u.unit.id + c.mark] && cell(u, c.mark)?.assumed"
                      :label="`${u.unit.name}, ${c.name}`"
                      :disabled="!writes"
                      @set="(r) => put(u, c.mark, r)"
                      @move="(by) => move(ui, ci, by)"
                    />
                  </td>
                </tr>
                <tr v-if="writes">
                  <td class="quiet">
                    <span class="keys">p</span>
                    <span class="keys">w</span>
                    <span class="keys">l</span>
                    <span class="keys">s</span>
                    <span class="keys">d</span>
                    and on to the next
                  </td>
                  <td v-for="u in room.intake" :key="u.unit.id">
                    <div class="rest">
                      <ElButton size="small" :disabled="!left(u)" @click="rest(u, false)">
                        I ran {{ left(u) === room.checks.length ? 'all' : 'the other' }} {{ left(u) || '' }}: pass
                      </ElButton>
                      <ElButton size="small" :disabled="!left(u)" @click="rest(u, true)">Assume the rest</ElButton>
                    </div>
                  </td>
                </tr>
              </tbody>
            </table>
          </div>
          <p class="quiet">What is assumed stays hollow and never counts as a pass.</p>
        </section>
      </div>
      <div class="shelf">
        <section>
          <h2>Before opening</h2>
          <ul class="plain">
            <li v-for="g in room.gate" :key="g.text" class="gate">
              <svg width="18" height="18" viewBox="0 0 18 18" role="img" :aria-label="g.met ? 'met' : 'not met'">
                <rect x="2" y="2" width="14" height="14" />
                <path v-if="g.met" d="M4.5 9.5 8 13l6-8" />
              </svg>
              {{ g.text }}
            </li>
          </ul>
          <p v-for="n in room.notes" :key="n" class="look">{{ n }}</p>
          <div id="gate">
            <GateShelf v-for="u in room.intake" :key="u.unit.id" :intake="u" :limit="room.limit" :writes="writes" />
          </div>
          <p v-if="differ" class="look">The units carry different builds: the same version can behave differently.</p>
        </section>
        <section id="units">
          <h2>Phones of this study</h2>
          <ul class="plain">
            <li v-for="u in room.intake" :key="u.unit.id">
              <div class="row">
                <StickerTag :unit="u.unit" />
                <ElButton
                  v-if="writes"
                  size="small"
                  class="edit"
                  :aria-label="`Change ${u.unit.name}`"
                  @click="editing = u.unit"
                >
                  Change
                </ElButton>
              </div>
              {{ say('role', u.unit.role) }}
              build
              <b>{{ u.unit.build || 'not written down' }}</b>
              <template v-if="u.unit.storage_gb">, {{ u.unit.storage_gb }} GB</template>
              <template v-if="u.unit.mass_g">, {{ u.unit.mass_g }} g</template>
              <div v-if="u.unit.state" class="quiet">{{ u.unit.state }}</div>
              <div v-if="u.unit.aliases?.length" class="quiet">also called {{ u.unit.aliases.join(', ') }}</div>
              <div v-if="u.unit.box?.length" class="quiet">in the box: {{ u.unit.box.join(', ') }}</div>
            </li>
          </ul>
          <ElButton
            v-if="writes"
            :type="room.intake.length === 1 ? 'primary' : undefined"
            class="new"
            @click="editing = 'new'"
          >
            Record a phone
            <span class="keys">n</span>
          </ElButton>
        </section>
        <section>
          <h2>The study</h2>
          <p>{{ room.study.title }}{{ room.study.variant ? `, ${room.study.variant}` : '' }}</p>
          <p v-if="room.study.orientation">Orientation: {{ room.study.orientation }}</p>
          <p v-if="room.study.note" class="quiet note">{{ room.study.note }}</p>
          <ElButton v-if="writes" size="small" @click="naming = true">Change</ElButton>
        </section>
        <HypothesisList
          :study="room.study"
          :questions="room.questions"
          :checks="room.checks"
          :slots="room.slots"
          :writes="writes"
        />
        <section>
          <h2>The model</h2>
          <p>
            {{ room.model.maker }} {{ room.model.name }}{{ room.model.family ? `, family ${room.model.family}` : ''
            }}{{ room.model.predecessor ? `, after ${room.model.predecessor}` : '' }}
          </p>
          <p v-for="n in room.model.variant_notes ?? []" :key="n.variant" class="quiet">
            {{ n.variant }}: {{ n.lacks?.length ? `lacks ${n.lacks.join(', ')}` : '' }}
            {{ n.adds?.length ? `adds ${n.adds.join(', ')}` : '' }}
          </p>
          <p v-if="room.model.opening?.hinge_edge" class="quiet">
            Hooks at the {{ room.model.opening.hinge_edge }} edge, cables at the
            {{ room.model.opening.cable_edge }} edge, open at most {{ room.model.opening.max_angle }}°.
          </p>
          <ElButton v-if="writes" size="small" @click="modelling = true">Change the model</ElButton>
        </section>
      </div>
    </template>
    <UnitForm
      v-if="editing"
      :study="id"
      :unit="editing === 'new' ? undefined : editing"
      :count="room?.units.length ?? 0"
      @close="editing = undefined"
    />
    <ModelForm v-if="modelling && room" :model="room.model" :checks="room.checks" @close="modelling = false" />
    <StudyForm v-if="naming && room" :study="room.study" @close="naming = false" />
  </div>
</template>

<style scoped>
td {
  padding: 3px 8px 3px 0;
  vertical-align: middle;
}
tr.group td {
  border-top: 1px solid var(--ink);
}
small {
  display: block;
}
.depth {
  display: inline;
  margin-left: 6px;
}
.gate {
  display: flex;
  gap: 10px;
}
.gate svg {
  flex: none;
  margin-top: 2px;
}
.gate rect,
.gate path {
  fill: none;
  stroke: currentColor;
  stroke-width: 1.3;
}
.gate path {
  stroke: var(--pine);
  stroke-width: 2.6;
}
.rest {
  display: grid;
  gap: 6px;
  justify-items: start;
}
.rest .el-button {
  margin: 0;
}
.keys {
  margin-left: 6px;
}
.edit {
  margin-left: auto;
}
.new {
  margin-top: 12px;
}
.note {
  white-space: pre-line;
  overflow-wrap: anywhere;
}
</style>
